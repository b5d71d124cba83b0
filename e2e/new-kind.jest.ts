import 'fake-indexeddb/auto';
import { createServer as createHttpServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { z } from 'zod';

// A kind that nobody has heard of, with a table: this file, and no other one, knows of it.
const { erasedWords, factKind, factKinds } = await import('@ulkret/core/facts');
const Handshake = z.object({
  id: z.uuid(),
  session: z.uuid(),
  at: z.string(),
  observer: z.string(),
  /** Two words, so that it is two in the table as well. */
  givenBy: z.string(),
  words: z.string(),
});
const handshakes = factKind({
  is: 'handshake',
  name: 'A handshake',
  says: 'two people have begun politely',
  schema: Handshake,
  under: 'session',
  people: ({ givenBy }) => [givenBy],
  renamed: (shake, from, to) => (shake.givenBy === from ? { ...shake, givenBy: to } : shake),
  erased: (shake) => ({ ...shake, words: erasedWords }),
  tells: {
    title: 'Handshakes',
    columns: ['When', 'By', 'Words'],
    row: ({ at, observer, words }, _, { coach }) => [at, coach(observer), words],
  },
  faultOf: ({ givenBy }, { students }) => (students.has(givenBy) ? null : `givenBy: who is "${givenBy}"?`),
});
Object.assign(factKinds, { handshakes });

// Only now everything that is made from the kinds.
const { factTables } = await import('../server/facts/tables');
const { instant } = await import('../server/db/schema');
Object.assign(factTables, {
  handshakes: pgTable('handshakes', {
    academyId: text('academy_id').notNull(),
    id: uuid('id').notNull(),
    session: uuid('session').notNull(),
    at: instant('at').notNull(),
    observer: text('observer').notNull(),
    givenBy: text('given_by').notNull(),
    words: text('words').notNull(),
  }),
});
const { createServer } = await import('../server/index');
const { listenForFacts } = await import('../server/live/live');
const { toRow } = await import('../server/facts/rows');
const { anAcademy, password, settingsOf } = await import('../server/test/academy');
const { freshDatabase } = await import('../server/test/database');
const { Outbox } = await import('../web/device/outbox');
const { SessionStore } = await import('../web/device/session-store');
const { factsInState } = await import('../web/device/entries');
const { onLive } = await import('../web/device/live');
const { kindsTable } = await import('../scripts/papers');
const { factId } = await import('../core/test');

const academy = 'harbour';
const session = factId(70);
const handshake = {
  id: factId(71),
  session,
  at: '2026-03-05T18:30:00.000Z',
  observer: 'coach',
  givenBy: 'ada',
  words: 'a firm one',
};

let database: Awaited<ReturnType<typeof freshDatabase>>;
let live: ReturnType<typeof listenForFacts>;
let http: Server;
let cookie = '';
let url = '';
const { fetch: realFetch } = globalThis;

/** The stream of a browser, as far as a device listens to it. */
class Stream {
  private readonly stop = new AbortController();
  private readonly listeners = new Map<string, (event: { data: string }) => void>();
  constructor(address: string) {
    void this.follow(address).catch(() => undefined);
  }
  addEventListener(name: string, listener: (event: { data: string }) => void): void {
    this.listeners.set(name, listener);
  }
  close(): void {
    this.stop.abort();
  }
  private async follow(address: string): Promise<void> {
    const response = await fetch(address, { signal: this.stop.signal });
    this.listeners.get('open')?.({ data: '' });
    let read = '';
    for await (const chunk of response.body!.pipeThrough(new TextDecoderStream() as never)) {
      read += String(chunk);
      for (const [whole, name, data] of read.matchAll(/event: (\w+)\ndata: (.*)\n\n/g)) {
        this.listeners.get(name!)?.({ data: data! });
        read = read.replace(whole, '');
      }
    }
  }
}

beforeAll(async () => {
  database = await freshDatabase();
  await database.asOwner(
    'create table handshakes (academy_id text, sent_by text, id uuid, session uuid, at timestamptz, observer text, given_by text, words text, primary key (academy_id, id)); grant select, insert, update, delete on handshakes to public',
  );
  await anAcademy(database.db, academy);
  live = listenForFacts(database.url, database.db);
  http = createHttpServer(createServer(database.db, settingsOf(database.db, { live })));
  await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', resolve));
  url = `http://127.0.0.1:${(http.address() as AddressInfo).port}`;
  const response = await realFetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: `coach@${academy}.example`, password }),
  });
  cookie = response.headers.get('set-cookie')!.split(';')[0]!;
  Object.assign(globalThis, {
    window: { addEventListener: () => undefined, removeEventListener: () => undefined },
    EventSource: Stream,
    fetch: (address: string, options: RequestInit = {}) =>
      realFetch(url + address, { ...options, headers: { ...(options.headers as object), cookie } }),
  });
});
afterAll(async () => {
  http.closeAllConnections();
  http.close();
  await live.close();
  await database.drop();
});

const lists = (facts: unknown) => facts as Record<string, unknown[]>;

describe('a new kind of fact', () => {
  test('goes from one device to another, and out in the export, with nothing told to anybody but in its own file', async () => {
    const other = new SessionStore(academy, session, new Outbox(academy, 'coach'));
    const opened = new Promise<void>((resolve) => {
      onLive((news) => (news === null ? resolve() : other.take(news.facts)));
    });
    await opened;
    const outbox = new Outbox(academy, 'coach');
    const close = outbox.open();
    const arrived = new Promise<void>((resolve) => {
      other.subscribe(() => lists(other.standing())['handshakes']!.length > 0 && resolve());
    });

    await outbox.record(session, { is: 'handshakes', fact: handshake } as never);
    await outbox.flush();
    expect(outbox.current()).toMatchObject({ waiting: 0, refused: [] });
    expect(await factsInState(academy, 'saved')).toMatchObject([{ is: 'handshakes', fact: handshake }]);

    await arrived;
    expect(lists(other.standing())['handshakes']).toEqual([handshake]);

    const file = (await (await fetch('/api/export/facts.json')).json()) as Record<string, unknown[]>;
    expect(file['handshakes']).toEqual([handshake]);
    close();
  });

  test('is answered, sent twice, and refused like any other', async () => {
    const send = async (facts: object) => {
      const response = await fetch('/api/reps', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(facts),
      });
      return ((await response.json()) as { items: object[] }).items;
    };
    expect(await send({ handshakes: [handshake, { ...handshake, id: factId(72), givenBy: 'zoe' }] })).toEqual(
      [
        { id: handshake.id, is: 'handshake', answer: 'known' },
        { id: factId(72), is: 'handshake', answer: 'refused', reason: 'givenBy: who is "zoe"?' },
      ],
    );
    expect(await send({ handshakes: [{ ...handshake, givenBy: 'ben' }] })).toMatchObject([
      { answer: 'refused' },
    ]);
  });

  test('follows a merged person, shows in their data, and loses its words when they are erased', async () => {
    const ask = async (method: string, address: string, body?: object) => {
      const response = await fetch(address, {
        method,
        headers: { 'content-type': 'application/json' },
        ...(body ? { body: JSON.stringify(body) } : {}),
      });
      expect(response.status).toBeLessThan(300);
      return response;
    };
    const stored = async () =>
      (await database.pool.query('select given_by, words from handshakes order by id')).rows as object[];

    await ask('POST', '/api/students/ada/merge', { into: 'ben' });
    expect(await stored()).toEqual([{ given_by: 'ben', words: 'a firm one' }]);

    const all = (await (await ask('GET', '/api/students/ben/everything')).json()) as { facts: object };
    expect(lists(all.facts)['handshakes']).toEqual([{ ...handshake, givenBy: 'ben' }]);
    const page = await (await ask('GET', '/api/students/ben/everything.html')).text();
    expect(page).toContain('<h2>Handshakes</h2>');
    expect(page).toContain('a firm one');

    await ask('DELETE', '/api/students/ben');
    expect(await stored()).toEqual([{ given_by: expect.stringMatching(/^x-/), words: erasedWords }]);
  });

  test('is told of in the papers', () => {
    expect(kindsTable()).toContain('| `handshakes` | handshake | two people have begun politely |');
  });

  test('with a field that its table has no column for is an error and not a silent loss', () => {
    expect(() => toRow('handshakes' as never, { ...handshake, toldBy: 'ada' } as never)).toThrow(/toldBy/);
    expect(toRow('handshakes' as never, handshake as never)).toMatchObject({ given_by: 'ada' });
  });
});
