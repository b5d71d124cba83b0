import { type Endpoint, endpoints, type ItemAnswer, mayAsk, Refusal, type Role } from '@ulkret/contract';
import { count, sql } from 'drizzle-orm';
import fc from 'fast-check';
import { createServer as createHttpServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { aRep, factId } from '../../core/test';
import type { Db } from '../db/connect';
import { reps } from '../db/schema';
import { createServer } from '../index';
import type { Settings } from '../routes/settings';
import { anAcademy, signInCookie } from './academy';
import { type KnownIds, requestsOf, type Sent } from './fuzz-requests';

/** Answers that the contract knows; a refusal always says what happened and what to do. */
const documented = new Set([200, 400, 401, 403, 404, 409, 413, 415, 422, 429, 503]);
const longestMs = 5000;

/** Why an answer is not one that the contract knows; null where it is. */
function faultOf(status: number, type: string, text: string, spentMs: number): string | null {
  if (!documented.has(status)) return `it answered ${status}: ${text.slice(0, 200)}`;
  if (spentMs > longestMs) return `it took ${spentMs.toFixed(0)} ms`;
  if (status === 200) return null;
  const refusal = type.includes('json') ? Refusal.safeParse(JSON.parse(text)) : null;
  return refusal?.success ? null : `it answered ${status} without saying what to do: ${text.slice(0, 200)}`;
}

/** What the fuzz leaves alone: a stream has no end, and who signs out asks nothing any more. */
const left = new Set(['live', 'signOut']);

/** What takes people off the roster: asked last, when all has been read. */
const takesAway = new Set(['erase', 'mergeStudents']);

/** The addresses that can be read, filled in with what there is, and how each answers. */
async function readAll(url: string, cookie: string): Promise<Map<string, number>> {
  const of = { id: 'test-lock', technique: 'test-lock', student: 'ada', checkpoint: 'c1' };
  const all = (Object.values(endpoints) as unknown as Endpoint[]).filter(
    ({ method, outputType }) => method === 'get' && outputType !== 'text/event-stream',
  );
  const answers = new Map<string, number>();
  for (const { path } of all) {
    const filled = path.replace(/:(\w+)/g, (_, key: string) => of[key as 'id'] ?? '');
    const response = await fetch(`${url}${filled}?${new URLSearchParams(of)}`, { headers: { cookie } });
    await response.arrayBuffer();
    answers.set(path, response.status);
  }
  return answers;
}

const known: KnownIds = {
  slugs: ['ada', 'ben', 'cleo', 'test-lock', 'c1', 'c2', 'c3', 'm1', 'm2', 'd1', 'coach'],
  uuids: [factId(100), factId(101), factId(7)],
  named: {
    technique: ['test-lock'],
    edition: [1],
    student: ['ada', 'ben'],
    partner: ['cleo', null],
    person: ['ada'],
    stop: ['c2', 'c4'],
    heldTo: ['c2', null],
    checkpoint: ['c1', 'c3'],
    from: [null],
    to: [null],
    soft: [[], ['c1']],
    ways: [[]],
    task: [[]],
    measured: [[]],
    met: [[]],
    timed: [[]],
    entry: [undefined],
    finish: [undefined],
    follows: [undefined],
    by: [null],
    cause: [null],
    session: [null, factId(7)],
    observer: ['coach'],
  },
};

/** What a fuzz has found. */
export interface Found {
  sent: number;
  accepted: number;
  /** Reps that were accepted and are not there, or are there and were not accepted. */
  astray: number;
  faults: { request: Sent; fault: string }[];
  /** How many answers of each status there were. */
  answers: Record<number, number>;
  /** Addresses that answer otherwise than before. */
  changed: string[];
}

/** Who sends: somebody of a role, or nobody who is signed in. */
export type Asking = Role | null;
/** The head coach, who gets furthest, and every fourth one a stranger. */
const mostlyHead: readonly Asking[] = ['head', 'head', 'head', null];

/** Somebody of each role besides the head coach, whom no request names. */
async function letIn(db: Db): Promise<void> {
  await db.execute(sql`
    insert into coaches (academy_id, id, name, email, password_hash, role, student_id)
    select academy_id, may || '-in', may, 'some-' || may || '@hill.example', password_hash, may,
      case when may = 'student' then 'dan' end
    from coaches, unnest(array['coach', 'assistant', 'operator', 'student']) as may
    where academy_id = 'hill' and id = 'coach'`);
}

/**
 * Sends seeded requests of every endpoint to a server over an academy of its own, in turn by each of those who ask, and tells what it
 * should not have answered, and whether all can be read afterwards as before. `eachThousand` is told the requests so far.
 */
export async function fuzz(
  db: Db,
  settings: Settings,
  {
    seed,
    runs,
    as = mostlyHead,
    eachThousand = () => undefined,
  }: { seed: number; runs: number; as?: readonly Asking[]; eachThousand?: (sent: number) => void },
): Promise<Found> {
  await anAcademy(db, 'hill');
  await letIn(db);
  const http = createHttpServer(createServer(db, settings));
  await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', resolve));
  const url = `http://127.0.0.1:${(http.address() as AddressInfo).port}`;
  try {
    const cookie = await signInCookie(url, 'hill');
    const cookies = new Map<Asking, string>([['head', cookie]]);
    for (const role of ['coach', 'assistant', 'operator', 'student'] as const)
      cookies.set(role, await signInCookie(url, 'hill', `some-${role}`));
    const at = new Date(Date.now() - 86_400_000).toISOString();
    const first = Array.from({ length: 12 }, (_, i) => aRep({ id: factId(100 + i), at }));
    await fetch(`${url}/api/reps`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie },
      body: JSON.stringify({ reps: first }),
    });
    const before = await readAll(url, cookie);
    const faults: Found['faults'] = [];
    const answers: Record<number, number> = {};
    let [sent, accepted] = [0, 0];
    const all = (Object.entries(endpoints) as unknown as [string, Endpoint][]).filter(
      ([name]) => !left.has(name),
    );
    let after: typeof before | null = null;
    for (const [name, endpoint] of all.sort(
      ([a], [b]) => Number(takesAway.has(a)) - Number(takesAway.has(b)),
    )) {
      // Who is taken away is no longer found, and rightly so.
      if (takesAway.has(name)) after ??= await readAll(url, cookie);
      const numRuns = name === 'sendReps' ? 4 * runs : runs;
      const requests = fc.sample(requestsOf(name, endpoint, known), { seed: seed + sent, numRuns });
      for (const [i, request] of requests.entries()) {
        const { method, path, body, raw } = request;
        const who = as[i % as.length]!;
        const signedIn = cookies.get(who);
        const payload = raw ? raw.text : body === undefined ? undefined : JSON.stringify(body);
        const start = performance.now();
        const response = await fetch(url + path, {
          method,
          headers: {
            ...(signedIn && { cookie: signedIn }),
            ...(payload !== undefined && { 'content-type': raw?.type ?? 'application/json' }),
          },
          ...(payload !== undefined && { body: payload }),
          signal: AbortSignal.timeout(30_000),
        });
        const text = await response.text();
        sent++;
        if (sent % 1000 === 0) eachThousand(sent);
        answers[response.status] = (answers[response.status] ?? 0) + 1;
        const type = response.headers.get('content-type') ?? '';
        const fault = faultOf(response.status, type, text, performance.now() - start);
        if (fault !== null) faults.push({ request, fault });
        if (response.status === 200 && !mayAsk(who, endpoint.who))
          faults.push({ request, fault: `it answered ${who ?? 'a stranger'}, who may not ask it` });
        if (response.status !== 200) continue;
        if (name === 'sendReps')
          accepted += (JSON.parse(text) as { items: ItemAnswer[] }).items.filter(
            ({ is, answer }) => is === 'rep' && answer === 'accepted',
          ).length;
        if (name === 'importReps' && !path.includes('look=yes'))
          accepted += (JSON.parse(text) as { accepted: string[] }).accepted.length;
      }
    }
    const [{ n }] = (await db.select({ n: count() }).from(reps)) as [{ n: number }];
    const now = after ?? (await readAll(url, cookie));
    const changed = [...before]
      .filter(([path, status]) => now.get(path) !== status)
      .map(([path, status]) => `${path} answered ${status} before, and ${now.get(path)} after`);
    return { sent, accepted, astray: Math.abs(n - first.length - accepted), faults, answers, changed };
  } finally {
    http.closeAllConnections();
    await new Promise((resolve) => http.close(resolve));
  }
}
