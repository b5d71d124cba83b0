import { readFileSync } from 'node:fs';
import { setTimeout as rest } from 'node:timers/promises';
import pg from 'pg';
import { uuidv7 } from 'uuidv7';
import { drilled, someStudents, tapped } from './bench-taps';
import { freePort } from './postgres';
import { ended, keptBy, started } from './started';

const perBatch = 5;
const everyMs = 50;
const quietMs = 8000;
const fileBytes = 32_000_000;
const readingsAtOnce = 200;
const strangers = 5;
const strangersMs = 8000;
const strangersBytes = 8_000_000;

const readersAtOnce = 50;
const lookingMs = 15_000;
const reading = `technique=${drilled.technique}`;
/** What people look at while a class is on. */
const looked = [
  '/api/kit',
  '/api/students',
  '/api/sessions',
  '/api/techniques',
  `/api/techniques/${drilled.technique}`,
  `/api/rates?${reading}&weeks=26`,
  `/api/readings?${reading}&weeks=26&now=yes`,
  `/api/decisions?${reading}`,
  `/api/reps?${reading}&checkpoint=${drilled.checkpoints[3]!.id}`,
  `/api/choices?${reading}`,
  `/api/prescriptions?${reading}`,
  `/api/tallies?${reading}`,
];
const exported = ['/api/export/reps.csv', '/api/export/facts.json', '/api/export/academy.zip'];
/** The room has been drilling for years. */
const repsBefore = 60_000;

/** How long batches of taps took while something else went on, in milliseconds. */
export interface UnderPressure {
  name: string;
  taps: number;
  p50: number;
  p99: number;
  /** What became of the rest. */
  told: string;
}

const peakBytes = (pid: number): number =>
  Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) * 1024;
const mb = (bytes: number): string => `${(bytes / 1e6).toFixed(0)} MB`;
const counts = (statuses: readonly number[]): string =>
  [...new Set(statuses)]
    .sort()
    .map((status) => `${statuses.filter((one) => one === status).length} × ${status}`)
    .join(', ');

/** Reps of earlier years, as many as are missing: those that are there, again under other ids and in earlier weeks. */
async function drilledBefore(client: pg.Client): Promise<void> {
  const { rows: columns } = await client.query<{ name: string }>(
    `select quote_ident(column_name) as name from information_schema.columns
     where table_name = 'reps' and table_schema = 'public' and column_name not in ('id', 'at', 'follows')`,
  );
  const names = columns.map(({ name }) => name).join(', ');
  await client.query(
    `insert into reps (id, at, ${names})
     select gen_random_uuid(), r.at - n * interval '40 weeks', ${columns.map(({ name }) => `r.${name}`).join(', ')}
     from generate_series(1, 1000) as n, reps as r
     limit greatest(0, $1 - (select count(*) from reps))`,
    [repsBefore],
  );
}

/**
 * A class that taps, a batch of five reps every fiftieth of a second, on one server process of its own: alone, while 200
 * different readings are asked for at once, while people look and whole files go out, while a file of 32 MB is read, while strangers send
 * 8 MB each, and all together.
 */
export async function* underPressure(
  database: string,
  signIn: { email: string; password: string },
): AsyncGenerator<UnderPressure> {
  const port = await freePort();
  const url = `http://127.0.0.1:${port}`;
  const server = await started(['--port', String(port)], { DATABASE_URL: database });
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  try {
    const opened = await fetch(`${url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(signIn),
    });
    const cookie = opened.headers.get('set-cookie')!.split(';')[0]!;
    const ids = await someStudents(client);
    await drilledBefore(client);
    const session = uuidv7();
    let batch = 0;
    const tapWhile = async (name: string, going: Promise<string>): Promise<UnderPressure> => {
      const spent: number[] = [];
      const open: Promise<unknown>[] = [];
      let told: string | null = null;
      void going.then((words) => (told = words));
      while (told === null) {
        batch++;
        const reps = Array.from({ length: perBatch }, (_, i) => tapped(session, ids, batch + i, i));
        const asked = performance.now();
        open.push(
          fetch(`${url}/api/reps`, {
            method: 'POST',
            headers: { 'content-type': 'application/json', cookie },
            body: JSON.stringify({ reps }),
          }).then(async (response) => {
            const { items } = (await response.json()) as { items: { answer: string }[] };
            if (items.some(({ answer }) => answer !== 'accepted')) throw new Error('a tap was not taken');
            spent.push(performance.now() - asked);
          }),
        );
        await rest(everyMs);
      }
      await Promise.all(open);
      spent.sort((a, b) => a - b);
      const at = (share: number) => spent[Math.floor((spent.length - 1) * share)]!;
      return { name, taps: spent.length, p50: at(0.5), p99: at(0.99), told };
    };

    const quiet = async () => {
      await rest(quietMs);
      return '';
    };
    let asking = 0;
    const readings = async () => {
      const from = performance.now();
      const statuses = await Promise.all(
        Array.from({ length: readingsAtOnce }, async () => {
          // No two are alike, so that none is answered by another.
          const halfLife = 20 + asking++;
          const query = `technique=${drilled.technique}&weeks=12&halfLife=${halfLife}&prescriptions=no`;
          const response = await fetch(`${url}/api/readings?${query}`, { headers: { cookie } });
          await response.arrayBuffer();
          return response.status;
        }),
      );
      return `${counts(statuses)} in ${((performance.now() - from) / 1000).toFixed(1)} s`;
    };
    let minute = 0;
    const file = async () => {
      const before = peakBytes(keptBy(server));
      const lines = ['at,technique,student,partner,side,rung,outcome,note'];
      for (let bytes = 0; bytes < fileBytes; bytes += lines.at(-1)!.length + 1) {
        const at = new Date(Date.UTC(2025, 0, 1) + 60_000 * minute++).toISOString();
        const { student, partner } = tapped(session, ids, minute, 1);
        lines.push(
          `${at},${drilled.technique},${student},${partner},right,2,finished,"as it stood in the book of the year, line ${minute}"`,
        );
      }
      const from = performance.now();
      const response = await fetch(`${url}/api/import/reps`, {
        method: 'POST',
        headers: { 'content-type': 'text/csv', cookie },
        body: lines.join('\n'),
      });
      const { accepted, refusedRows } = (await response.json()) as {
        accepted: string[];
        refusedRows: number;
      };
      if (accepted.length !== lines.length - 1 || refusedRows > 0)
        throw new Error(`${accepted.length} of ${lines.length - 1} rows were taken`);
      const spent = (performance.now() - from) / 1000;
      return `${accepted.length} rows in ${spent.toFixed(0)} s, peak of memory ${mb(before)} → ${mb(peakBytes(keptBy(server)))}`;
    };
    const body = 'x'.repeat(strangersBytes);
    const strange = async () => {
      const until = performance.now() + strangersMs;
      const statuses: number[] = [];
      await Promise.all(
        Array.from({ length: strangers }, async () => {
          while (performance.now() < until) {
            const status = await fetch(`${url}/api/reps`, {
              method: 'POST',
              headers: { 'content-type': 'application/json' },
              body,
            })
              .then((response) => response.status)
              // Turned away before all of it was sent.
              .catch(() => 401);
            statuses.push(status);
            await rest(100);
          }
        }),
      );
      return counts(statuses);
    };
    const lookAt = async (addresses: readonly string[], readers: number) => {
      const until = performance.now() + lookingMs;
      const statuses: number[] = [];
      await Promise.all(
        Array.from({ length: readers }, async (_, n) => {
          for (let i = n; performance.now() < until; i++) {
            const response = await fetch(`${url}${addresses[i % addresses.length]!}`, {
              headers: { cookie },
            });
            await response.arrayBuffer();
            statuses.push(response.status);
          }
        }),
      );
      return counts(statuses);
    };
    const looking = () => lookAt(looked, readersAtOnce);
    const exporting = () => lookAt(exported, exported.length);
    const all = async () =>
      (await Promise.all([readings(), file(), strange(), looking(), exporting()])).join('; ');
    // Nothing is made for the first time while taps are timed.
    for (const address of looked)
      await fetch(`${url}${address}`, { headers: { cookie } }).then((response) => response.arrayBuffer());
    yield await tapWhile('alone', quiet());
    yield await tapWhile(`while ${readersAtOnce} people look`, looking());
    yield await tapWhile('while three whole files go out', exporting());
    yield await tapWhile(
      `while ${readersAtOnce} people look and three whole files go out`,
      Promise.all([looking(), exporting()]).then((told) => told.join('; ')),
    );
    yield await tapWhile(`while ${readingsAtOnce} readings are computed`, readings());
    yield await tapWhile('while strangers send 8 MB each', strange());
    yield await tapWhile('while a file of 32 MB is read', file());
    yield await tapWhile('all of it at once', all());
  } finally {
    await client.end();
    await ended(server);
  }
}
