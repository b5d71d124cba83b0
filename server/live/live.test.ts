import { createServer as createHttpServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { LiveFacts } from '@ulkret/contract';
import { aRep, factId } from '../../core/test';
import { createServer } from '../index';
import { anAcademy, password, settingsOf, takeAll } from '../test/academy';
import { freshDatabase } from '../test/database';
import { listenForFacts, type Live } from './live';

let database: Awaited<ReturnType<typeof freshDatabase>>;
let live: Live;
let http: Server;
let url: string;
const session = factId(900);

beforeAll(async () => {
  database = await freshDatabase();
  await anAcademy(database.db, 'harbour');
  await anAcademy(database.db, 'hill');
  live = listenForFacts(database.url, database.db);
  http = createHttpServer(createServer(database.db, settingsOf(database.db, { live })));
  await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', resolve));
  url = `http://127.0.0.1:${(http.address() as AddressInfo).port}`;
});
afterAll(async () => {
  http.closeAllConnections();
  http.close();
  await live.close();
  await database.drop();
});

async function cookieOf(academy: string): Promise<string> {
  const response = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: `coach@${academy}.example`, password }),
  });
  return response.headers.get('set-cookie')!.split(';')[0]!;
}

/** Follows the stream as a browser would; the events as they come, and a wait for the next one. */
async function follow(academy: string) {
  const stop = new AbortController();
  const response = await fetch(`${url}/api/live`, {
    headers: { cookie: await cookieOf(academy), 'accept-encoding': 'gzip' },
    signal: stop.signal,
  });
  const events: { event: string; data: LiveFacts | null }[] = [];
  let wake: () => void = () => undefined;
  void (async () => {
    let text = '';
    const decoder = new TextDecoder();
    try {
      for await (const chunk of response.body!) {
        text += decoder.decode(chunk as Uint8Array, { stream: true });
        const parts = text.split('\n\n');
        text = parts.pop()!;
        for (const part of parts) {
          const [, event, data] = /^event: (\w+)\ndata: (.*)$/s.exec(part) ?? [];
          if (event) events.push({ event, data: JSON.parse(data!) as LiveFacts | null });
        }
        wake();
      }
    } catch {
      // The test has ended the stream.
    }
  })();
  /** Waits until this many events have come; the test's own limit ends a wait for one that never comes. */
  const until = async (n: number) => {
    while (events.length < n) await new Promise<void>((resolve) => (wake = resolve));
  };
  return { status: response.status, events, until, stop: () => stop.abort() };
}

const batch = (fields: object) => takeAll(database.db, 'harbour', fields);

describe('what other devices send', () => {
  test('is on the stream at once, with the voids and tags that came before their rep', async () => {
    const { events, until, stop } = await follow('harbour');
    const rep = aRep({ session, stop: 'c2' });
    const early = { id: factId(901), rep: rep.id, cause: 'm2', at: rep.at, observer: 'coach' };
    await batch({ tags: [early] });
    await batch({ reps: [rep] });
    await until(1);
    expect(events[0]).toMatchObject({ event: 'facts', data: { session } });
    expect(events[0]!.data!.facts.reps.map(({ id }) => id)).toEqual([rep.id]);
    expect(events[0]!.data!.facts.tags.map(({ id }) => id)).toEqual([early.id]);
    const taken = { id: factId(902), rep: rep.id, at: rep.at, observer: 'coach' };
    await batch({ voids: [taken] });
    await until(2);
    expect(events[1]!.data!.facts.voids).toMatchObject([{ id: taken.id }]);
    stop();
  });

  test('comes whole, however large the batch', async () => {
    const { events, until, stop } = await follow('harbour');
    const reps = Array.from({ length: 700 }, () => aRep({ session }));
    await batch({ reps });
    await until(5);
    const told = events.flatMap(({ data }) => data!.facts.reps.map(({ id }) => id));
    expect(new Set(told)).toEqual(new Set(reps.map(({ id }) => id)));
    stop();
  });

  test('is not told to another academy, and not to strangers', async () => {
    const { events, until, stop } = await follow('hill');
    await batch({ reps: [aRep({ session })] });
    // What is sent later comes later: had the other academy’s rep been told here, it would come first.
    const own = aRep({ session: factId(950) });
    await takeAll(database.db, 'hill', { reps: [own] });
    await until(1);
    expect(events[0]!.data!.facts.reps.map(({ id }) => id)).toEqual([own.id]);
    stop();
    expect((await fetch(`${url}/api/live`)).status).toBe(401);
  });

  test('is fetched again after the database was away, and heard from then on', async () => {
    const { events, until, stop } = await follow('harbour');
    await database.pool.query(
      "select pg_terminate_backend(pid) from pg_stat_activity where query ilike 'listen %' and datname = current_database()",
    );
    await until(1);
    expect(events[0]).toEqual({ event: 'all', data: null });
    const rep = aRep({ session });
    await batch({ reps: [rep] });
    await until(2);
    expect(events[1]!.data!.facts.reps.map(({ id }) => id)).toEqual([rep.id]);
    stop();
  });

  test('reaches every server process: a second listener hears the same', async () => {
    const second = listenForFacts(database.url, database.db);
    const heard: (LiveFacts | null)[] = [];
    second.subscribe('harbour', (facts) => heard.push(facts));
    // Until it listens nothing is told to it: reps are sent until the first one is heard.
    const sent: string[] = [];
    while (heard.length === 0) {
      const rep = aRep({ session });
      sent.push(rep.id);
      await batch({ reps: [rep] });
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    expect(sent).toContain(heard[0]!.facts.reps[0]!.id);
    await second.close();
  });
});
