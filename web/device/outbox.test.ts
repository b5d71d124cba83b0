import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { ItemAnswer } from '@ulkret/contract';
import { aRep, factId } from '../../core/test';
import { clock } from '../api/clock';
import { forgetSaved, keptFacts, keptSession } from './entries';
import { Outbox } from './outbox';
import { calm, syncWords } from './sync-state';

// The browser that the outbox lives in, as far as it looks at it.
const listeners = new Map<string, () => void>();
Object.assign(globalThis, {
  window: {
    addEventListener: (name: string, listener: () => void) => listeners.set(name, listener),
    removeEventListener: (name: string) => listeners.delete(name),
  },
});

/** Waits for something to become true; the test's own time limit ends it. */
async function until(holds: () => boolean): Promise<void> {
  while (!holds()) await new Promise((resolve) => setTimeout(resolve, 5));
}

/** A server that answers as it is told and remembers what it was sent. */
class Server {
  up = true;
  signedIn = true;
  trouble = false;
  /** What breaks it in any place. */
  breaks = '';
  refuse = new Map<string, string>();
  batches: { reps: { id: string }[]; voids: { id: string }[]; tags: { id: string }[] }[] = [];
  sessions: string[] = [];
  known = new Set<string>();

  readonly fetch = async (address: string, options: { body: string }): Promise<Response> => {
    if (!this.up) throw new TypeError('no network');
    if (address === '/api/reps' && this.breaks && options.body.includes(this.breaks))
      return Response.json({ error: 'Something broke.', todo: 'Wait.' }, { status: 500 });
    if (this.trouble && address === '/api/reps')
      return Response.json({ error: 'Something broke.', todo: 'Wait.' }, { status: 500 });
    if (!this.signedIn)
      return Response.json({ error: 'Nobody is signed in.', todo: 'Sign in.' }, { status: 401 });
    if (address === '/api/health')
      return Response.json({ status: 'ok', version: 'x', database: 'ok', wrong: [] }, this.headers());
    const body = JSON.parse(options.body) as Server['batches'][number] & { id: string; pairs: string[][] };
    if (address.startsWith('/api/sessions/')) {
      if (body.pairs.flat().includes('stranger'))
        return Response.json({ error: 'unknown: "stranger"', todo: 'Set it up again.' }, { status: 400 });
      this.sessions.push(body.id);
      return Response.json(body);
    }
    this.batches.push(body);
    const answer =
      (is: ItemAnswer['is']) =>
      ({ id }: { id: string }): ItemAnswer => {
        const reason = this.refuse.get(id);
        if (reason) return { id, is, answer: 'refused', reason };
        const known = this.known.has(id);
        this.known.add(id);
        return { id, is, answer: known ? 'known' : 'accepted' };
      };
    const items = [
      ...body.reps.map(answer('rep')),
      ...body.voids.map(answer('void')),
      ...body.tags.map(answer('tag')),
    ];
    return Response.json({ items }, this.headers());
  };

  /** How far the device's clock is behind this server's. */
  aheadMs = 0;
  private headers = () => ({ headers: { 'server-time': String(Date.now() + this.aheadMs) } });
}

let server: Server;
let outbox: Outbox;
let close: () => void;
let made = 0;
const session = factId(77_000);
const observed = { at: '2026-03-05T18:30:00Z', observer: 'coach' };
const rep = () => ({ is: 'reps' as const, fact: aRep({ session, stop: 'c2' }) });
const setUp = (pairs: string[][]) => ({
  id: session,
  technique: 'test-lock',
  edition: 1,
  startedAt: observed.at,
  endedAt: null,
  pairs,
  rung: 2 as const,
  from: null,
  to: null,
  repsPerSide: 10,
  roundSeconds: 300,
  restSeconds: 0,
  rounds: 3,
  prescribed: [],
  watched: [],
  attire: null,
});

/** Waits until nothing waits, or something holds it up. */
const settled = async () => {
  await outbox.flush();
  return outbox.current();
};

beforeEach(() => {
  server = new Server();
  Object.assign(globalThis, { fetch: server.fetch });
  outbox = new Outbox(`academy-${++made}`, 'coach');
  close = outbox.open();
});
afterEach(() => close());

describe('the outbox', () => {
  test('sends what was entered, in order, and says that all is saved', async () => {
    const entries = [rep(), rep(), rep()];
    for (const entry of entries) await outbox.record(session, entry);
    expect(await settled()).toEqual(calm);
    const sent = server.batches.flatMap(({ reps }) => reps.map(({ id }) => id));
    expect(sent).toEqual(entries.map(({ fact }) => fact.id));
    await settled();
    expect(server.batches.flatMap(({ reps }) => reps)).toHaveLength(3);
  });

  test('keeps entries on the device before there is a network, and sends them when there is', async () => {
    server.up = false;
    const one = rep();
    await outbox.record(session, one);
    expect(await settled()).toMatchObject({ waiting: 1, held: 'no network' });
    expect((await keptFacts(`academy-${made}`, session)).reps).toEqual([one.fact]);
    expect(syncWords(outbox.current())).toBe('1 waiting for a network');
    server.up = true;
    listeners.get('online')!();
    await until(() => outbox.current().looked && outbox.current().waiting === 0);
    expect(outbox.current()).toEqual(calm);
  });

  test('survives the tab: another outbox on the same device sends what the first one kept', async () => {
    server.up = false;
    await outbox.record(session, rep());
    await settled();
    close();
    server.up = true;
    outbox = new Outbox(`academy-${made}`, 'coach');
    close = outbox.open();
    await until(() => server.known.size === 1);
    expect(await settled()).toMatchObject({ waiting: 0 });
    expect(server.known.size).toBe(1);
  });

  test('survives a tab that is closed before its store had the entry', async () => {
    server.up = false;
    const kept = new Map<string, string>();
    const storage = {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => void kept.set(key, value),
      removeItem: (key: string) => void kept.delete(key),
    };
    // Keys of a real storage are its own properties.
    const localStorage = new Proxy(storage, {
      ownKeys: () => [...kept.keys()],
      getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }),
    });
    Object.assign(globalThis, { localStorage });
    const one = rep();
    const add = jest.spyOn(IDBObjectStore.prototype, 'add').mockImplementation(() => {
      throw new DOMException('the tab is going', 'AbortError');
    });
    await outbox.record(session, one);
    close();
    add.mockRestore();
    expect(kept.size).toBe(1);
    server.up = true;
    outbox = new Outbox(`academy-${made}`, 'coach');
    close = outbox.open();
    await until(() => server.known.size === 1);
    expect(await settled()).toMatchObject({ waiting: 0 });
    expect([...server.known]).toEqual([one.fact.id]);
    expect(kept.size).toBe(0);
    Reflect.deleteProperty(globalThis, 'localStorage');
  });

  test('keeps entries while nobody is signed in, and says so', async () => {
    server.signedIn = false;
    await outbox.record(session, rep());
    expect(await settled()).toMatchObject({ waiting: 1, held: 'signed out' });
    expect(syncWords(outbox.current())).toBe('1 waiting: sign in to send');
    server.signedIn = true;
    expect(await settled()).toMatchObject({ waiting: 0, held: null });
  });

  test('sends nobody’s entries in another one’s name: they wait on the device until who noted them is back', async () => {
    const [own, others] = [rep(), rep()];
    others.fact.observer = 'teodor';
    await outbox.record(session, others);
    await outbox.record(session, own);
    expect(await settled()).toMatchObject({ waiting: 1, held: 'another coach', refused: [] });
    expect([...server.known]).toEqual([own.fact.id]);
    expect(syncWords(outbox.current())).toBe('1 waiting until the coach who logged them signs in here');
    close();
    outbox = new Outbox(`academy-${made}`, 'teodor');
    close = outbox.open();
    await until(() => server.known.size === 2);
    expect(await settled()).toMatchObject({ waiting: 0, held: null });
  });

  test('of what it has sent nothing stays on the device when somebody signs out; what is not sent does', async () => {
    await outbox.record(session, rep());
    await settled();
    server.up = false;
    const waits = rep();
    await outbox.record(session, waits);
    await settled();
    await forgetSaved();
    expect((await keptFacts(`academy-${made}`, session)).reps).toEqual([waits.fact]);
  });

  test('finds the one that breaks the server among many, lets it wait, and sends all others; it goes when the server is well', async () => {
    const entries = Array.from({ length: 40 }, () => rep());
    server.breaks = entries[23]!.fact.id;
    for (const entry of entries) await outbox.record(session, entry);
    const state = await settled();
    expect(state).toMatchObject({
      waiting: 1,
      refused: [],
      held: 'server trouble',
      trouble: 'Something broke.',
    });
    expect(server.known.size).toBe(39);
    // What comes after it is not held up.
    await outbox.record(session, rep());
    expect(await settled()).toMatchObject({ waiting: 1 });
    expect(server.known.size).toBe(40);
    server.breaks = '';
    // It has rested: what a page that is opened again does not know, it tries at once.
    close();
    outbox = new Outbox(`academy-${made}`, 'coach');
    close = outbox.open();
    expect(await settled()).toMatchObject({ waiting: 0, refused: [] });
    expect(server.known.size).toBe(41);
  });

  test('blames nobody where the server itself is broken: all of it waits', async () => {
    server.trouble = true;
    for (let i = 0; i < 12; i++) await outbox.record(session, rep());
    expect(await settled()).toMatchObject({ waiting: 12, refused: [], held: 'server trouble' });
    server.trouble = false;
    expect(await settled()).toMatchObject({ waiting: 0, refused: [] });
  });

  test('keeps a refused entry with its reason, and sends the others', async () => {
    const [bad, good] = [rep(), rep()];
    server.refuse.set(bad.fact.id, 'student: "ada" is not on the roster');
    await outbox.record(session, bad);
    await outbox.record(session, good);
    const state = await settled();
    expect(state.refused).toMatchObject([{ id: bad.fact.id, reason: 'student: "ada" is not on the roster' }]);
    expect(syncWords(state)).toBe('1 refused');
    expect((await keptFacts(`academy-${made}`, session)).reps).toEqual([good.fact]);
  });

  test('sends voids and tags with the reps that they name', async () => {
    const one = rep();
    await outbox.record(session, one);
    await outbox.record(session, {
      is: 'tags',
      fact: { id: factId(77_001), rep: one.fact.id, cause: 'm2', words: null, ...observed },
    });
    await outbox.record(session, {
      is: 'voids',
      fact: { id: factId(77_002), rep: one.fact.id, ofImport: false, ...observed },
    });
    await settled();
    const sent = (of: 'reps' | 'voids' | 'tags') =>
      server.batches.flatMap((batch) => batch[of]).map(({ id }) => id);
    expect([sent('reps'), sent('tags'), sent('voids')]).toEqual([
      [one.fact.id],
      [factId(77_001)],
      [factId(77_002)],
    ]);
  });

  test('sends many in batches that the server takes', async () => {
    server.up = false;
    for (let i = 0; i < 1201; i++) await outbox.record(session, rep());
    server.up = true;
    expect(await settled()).toMatchObject({ waiting: 0 });
    expect(Math.max(...server.batches.map(({ reps }) => reps.length))).toBeLessThanOrEqual(500);
    expect(server.known.size).toBe(1201);
  });

  test('never doubles what was sent while the answer was lost', async () => {
    const one = rep();
    server.known.add(one.fact.id);
    await outbox.record(session, one);
    expect(await settled()).toEqual(calm);
  });

  test('keeps an entry apart for each academy on a shared device', async () => {
    server.up = false;
    await outbox.record(session, rep());
    await settled();
    close();
    const other = new Outbox('academy-other', 'coach');
    server.up = true;
    await other.flush();
    expect(server.batches).toEqual([]);
    expect((await keptFacts('academy-other', session)).reps).toEqual([]);
  });

  test('sends a session before its reps, and keeps one that is refused with its reason', async () => {
    await outbox.keepSession(setUp([['ada', 'ben']]));
    await settled();
    expect(server.sessions).toEqual([session]);
    expect((await keptSession(`academy-${made}`, session))?.state).toBe('saved');
    await outbox.keepSession(setUp([['ada', 'stranger']]));
    expect((await settled()).refused).toMatchObject([{ id: session, reason: 'unknown: "stranger"' }]);
  });

  test('puts right what a clock that is a day off has stamped, before it is first sent, in the order of the taps', async () => {
    server.up = false;
    Object.assign(clock, { heard: false, offset: 0 });
    const entries = [rep(), rep(), rep()].map((entry, i) => ({
      ...entry,
      fact: { ...entry.fact, at: new Date(Date.now() + i * 900).toISOString() },
    }));
    for (const entry of entries) await outbox.record(session, entry);
    await settled();
    let corrected = 0;
    outbox.onCorrected(() => corrected++);
    server.aheadMs = 86_400_000;
    server.up = true;
    expect(await settled()).toMatchObject({ waiting: 0 });
    const sent = server.batches.flatMap(({ reps }) => reps) as unknown as { id: string; at: string }[];
    expect(sent.map(({ id }) => id)).toEqual(entries.map(({ fact }) => fact.id));
    sent.forEach(({ at }, i) => {
      const off = Date.parse(at) - Date.parse(entries[i]!.fact.at);
      expect(Math.abs(off - 86_400_000)).toBeLessThan(1000);
    });
    expect(corrected).toBe(1);
    server.aheadMs = 0;
    Object.assign(clock, { heard: false, offset: 0 });
  });

  test('never changes what has been on its way once, whatever the clock says', async () => {
    Object.assign(clock, { heard: false, offset: 0 });
    server.trouble = true;
    const one = rep();
    await outbox.record(session, one);
    await settled();
    server.trouble = false;
    server.aheadMs = 86_400_000;
    Object.assign(clock, { heard: false });
    await settled();
    expect(server.batches.flatMap(({ reps }) => reps)).toEqual([one.fact]);
    server.aheadMs = 0;
    Object.assign(clock, { heard: false, offset: 0 });
  });

  test('on a full device sends from the screen, and says aloud that an entry is there alone', async () => {
    server.up = false;
    const add = jest.spyOn(IDBObjectStore.prototype, 'add').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    const one = rep();
    await outbox.record(session, one);
    expect(await settled()).toMatchObject({ waiting: 1, unkept: 1 });
    expect(syncWords(outbox.current())).toContain('this device is full: 1 not stored');
    server.up = true;
    expect(await settled()).toMatchObject({ waiting: 0, unkept: 0 });
    add.mockRestore();
    expect(server.known.has(one.fact.id)).toBe(true);
  });

  test('sends a refused entry again when it was fixed, and lets go of one that is given up', async () => {
    const [bad, worse] = [rep(), rep()];
    for (const { fact } of [bad, worse]) server.refuse.set(fact.id, 'student: "ada" is not on the roster');
    await outbox.record(session, bad);
    await outbox.record(session, worse);
    const { refused } = await settled();
    server.refuse.clear();
    await outbox.fix(refused[0]!.fact!, { ...bad.fact, student: 'cleo' });
    await outbox.letGo(refused[1]!.fact!);
    expect(await settled()).toEqual(calm);
    expect(server.batches.at(-1)!.reps).toEqual([{ ...bad.fact, student: 'cleo' }]);
  });

  test('tells those who listen, and only while they do', async () => {
    const seen: number[] = [];
    const stop = outbox.subscribe(() => seen.push(outbox.current().waiting));
    await outbox.record(session, rep());
    await settled();
    expect(seen[0]).toBe(1);
    expect(seen.at(-1)).toBe(0);
    stop();
    const before = seen.length;
    await outbox.record(session, rep());
    expect(seen).toHaveLength(before);
  });
});

describe('the words of the sync state', () => {
  test.each([
    [calm, 'all saved'],
    [{ ...calm, looked: false }, 'checking what is here …'],
    [{ ...calm, waiting: 3 }, '3 waiting'],
    [{ ...calm, waiting: 3, held: 'server trouble' as const }, '3 waiting: the server has trouble'],
    [
      { ...calm, waiting: 1, refused: [{ id: 'x', reason: 'y', fact: null }], held: 'no network' as const },
      '1 waiting for a network, 1 refused',
    ],
    [{ ...calm, waiting: 2, unkept: 2 }, '2 waiting, this device is full: 2 not stored, keep this page open'],
  ])('%j is “%s”', (state, words) => expect(syncWords(state)).toBe(words));
});
