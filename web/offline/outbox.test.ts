import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { ItemAnswer } from '@ulkret/contract';
import { aRep, factId } from '../../core/test';
import { keptFacts, keptSession } from './device';
import { Outbox, syncWords } from './outbox';

// The browser that the outbox lives in, as far as it looks at it.
const listeners = new Map<string, () => void>();
Object.assign(globalThis, {
  window: {
    addEventListener: (name: string, listener: () => void) => listeners.set(name, listener),
    removeEventListener: (name: string) => listeners.delete(name),
  },
});

/** A server that answers as it is told and remembers what it was sent. */
class Server {
  up = true;
  signedIn = true;
  refuse = new Map<string, string>();
  batches: { reps: { id: string }[]; voids: { id: string }[]; tags: { id: string }[] }[] = [];
  sessions: string[] = [];
  known = new Set<string>();

  readonly fetch = async (address: string, options: { body: string }): Promise<Response> => {
    if (!this.up) throw new TypeError('no network');
    if (!this.signedIn)
      return Response.json({ error: 'Nobody is signed in.', todo: 'Sign in.' }, { status: 401 });
    const body = JSON.parse(options.body) as Server['batches'][number] & { id: string; pairs: string[][] };
    if (address.startsWith('/api/sessions/')) {
      if (body.pairs.flat().includes('stranger'))
        return Response.json({ error: 'nobody is "stranger"', todo: 'Set it up again.' }, { status: 400 });
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
    return Response.json({ items });
  };
}

let server: Server;
let outbox: Outbox;
let close: () => void;
let made = 0;
const session = factId(77_000);
const observed = { at: '2026-03-05T18:30:00Z', observer: 'coach' };
const rep = () => ({ is: 'rep' as const, fact: aRep({ session, stop: 'c2' }) });
const setUp = (pairs: string[][]) => ({
  ...{
    id: session,
    technique: 'test-lock',
    edition: 1,
    startedAt: observed.at,
    endedAt: null,
    pairs,
    rung: 2 as const,
  },
  ...{ from: null, to: null, repsPerSide: 10, roundSeconds: 300 },
});

/** Waits until nothing waits, or something holds it up. */
const settled = async () => {
  await outbox.flush();
  return outbox.current();
};

beforeEach(() => {
  server = new Server();
  Object.assign(globalThis, { fetch: server.fetch });
  outbox = new Outbox(`academy-${++made}`);
  close = outbox.open();
});
afterEach(() => close());

describe('the outbox', () => {
  test('sends what was entered, in order, and says that all is saved', async () => {
    const entries = [rep(), rep(), rep()];
    for (const entry of entries) await outbox.record(session, entry);
    expect(await settled()).toEqual({ waiting: 0, refused: [], held: null });
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
    await new Promise((resolve) => setTimeout(resolve, 250));
    expect(outbox.current()).toEqual({ waiting: 0, refused: [], held: null });
  });

  test('survives the tab: another outbox on the same device sends what the first one kept', async () => {
    server.up = false;
    await outbox.record(session, rep());
    await settled();
    close();
    server.up = true;
    outbox = new Outbox(`academy-${made}`);
    close = outbox.open();
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(await settled()).toMatchObject({ waiting: 0 });
    expect(server.known.size).toBe(1);
  });

  test('keeps entries while nobody is signed in, and says so', async () => {
    server.signedIn = false;
    await outbox.record(session, rep());
    expect(await settled()).toMatchObject({ waiting: 1, held: 'signed out' });
    expect(syncWords(outbox.current())).toBe('1 waiting: sign in to send');
    server.signedIn = true;
    expect(await settled()).toMatchObject({ waiting: 0, held: null });
  });

  test('keeps a refused entry with its reason, and sends the others', async () => {
    const [bad, good] = [rep(), rep()];
    server.refuse.set(bad.fact.id, 'student: nobody on the roster is "ada"');
    await outbox.record(session, bad);
    await outbox.record(session, good);
    const state = await settled();
    expect(state.refused).toEqual([{ id: bad.fact.id, reason: 'student: nobody on the roster is "ada"' }]);
    expect(syncWords(state)).toBe('1 refused');
    expect((await keptFacts(`academy-${made}`, session)).reps).toEqual([good.fact]);
  });

  test('sends voids and tags beside the reps that they name', async () => {
    const one = rep();
    await outbox.record(session, one);
    await outbox.record(session, {
      is: 'tag',
      fact: { id: factId(77_001), rep: one.fact.id, cause: 'm2', ...observed },
    });
    await outbox.record(session, { is: 'void', fact: { id: factId(77_002), rep: one.fact.id, ...observed } });
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
    expect(await settled()).toEqual({ waiting: 0, refused: [], held: null });
  });

  test('keeps an entry apart for each academy on a shared device', async () => {
    server.up = false;
    await outbox.record(session, rep());
    await settled();
    close();
    const other = new Outbox('academy-other');
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
    expect((await settled()).refused).toEqual([{ id: session, reason: 'nobody is "stranger"' }]);
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
    [{ waiting: 0, refused: [], held: null }, 'all saved'],
    [{ waiting: 3, refused: [], held: null }, '3 waiting'],
    [{ waiting: 3, refused: [], held: 'server trouble' as const }, '3 waiting: the server has trouble'],
    [
      { waiting: 1, refused: [{ id: 'x', reason: 'y' }], held: 'no network' as const },
      '1 waiting for a network, 1 refused',
    ],
    [
      { waiting: 0, refused: [], held: 'device full' as const },
      'this device is full: the last entry was not kept',
    ],
  ])('%j is “%s”', (state, words) => expect(syncWords(state)).toBe(words));
});
