import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { WeekTally } from '@ulkret/core/reading';
import type { Rep, SecondOpinion } from '@ulkret/core/rep';
import type { CauseTag, Void } from '@ulkret/core/facts';
import { aRep, factId, plainBreakdown } from '../../core/test';
import { agreementOf } from '@ulkret/core/reading';
import { saveAcademy } from '../keeping/academies';
import { looksAt } from '../facts/read';
import { saveStudent } from '../people/roster';
import { markAllStale, markStale } from '../signals/stale';
import { refreshTallies, talliesFromFacts, talliesOf } from './tallies';
import { aStudent, anAcademy, takeAll } from '../test/academy';
import { freshDatabase } from '../test/database';

let database: Awaited<ReturnType<typeof freshDatabase>>;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

const sorted = (list: readonly WeekTally[]) =>
  [...list].sort((a, b) =>
    JSON.stringify([a.week, a.student, a.rung, a.side]) < JSON.stringify([b.week, b.student, b.rung, b.side])
      ? -1
      : 1,
  );
const stored = async (academy: string) =>
  sorted(await talliesOf(database.db, academy, { until: '2027-01-01' }));
const counted = async (academy: string) => sorted(await talliesFromFacts(database.db, academy));
const reached = (list: readonly WeekTally[]) =>
  list.reduce((sum, { checkpoints }) => sum + (checkpoints['c1']?.reached ?? 0), 0);

const day = (n: number) => new Date(Date.parse('2026-01-05T18:00:00.000Z') + n * 86_400_000).toISOString();
const term = (from: number, n: number): Rep[] =>
  Array.from({ length: n }, (_, i) =>
    aRep({
      id: factId(from + i),
      at: day((i * 7) % 50),
      student: ['ada', 'ben', 'cleo'][i % 3],
      partner: 'dan',
      side: i % 2 ? 'left' : 'right',
      rung: ((i % 3) + 1) as 1 | 2 | 3,
      ...(i % 4 > 0 && { stop: `c${i % 4}` }),
    }),
  );
const voidOf = (rep: Rep, n: number): Void => ({
  id: factId(n),
  rep: rep.id,
  at: rep.at,
  observer: 'coach',
  ofImport: false,
});
const tagOf = (rep: Rep, n: number, cause: string | null): CauseTag => ({
  ...voidOf(rep, n),
  cause,
  words: null,
});

describe('weekly tallies', () => {
  test('follow reps, voids and tags in any order, and agree with the facts each time', async () => {
    const academy = 'follows';
    await anAcademy(database.db, academy);
    const reps = term(1000, 120);
    await takeAll(database.db, academy, { reps: reps.slice(0, 60), voids: [], tags: [] });
    expect(await stored(academy)).toEqual(await counted(academy));
    // A void and a tag before their reps, and after.
    await takeAll(database.db, academy, {
      reps: [],
      voids: [voidOf(reps[5]!, 2000), voidOf(reps[90]!, 2001)],
      tags: [tagOf(reps[1]!, 2100, 'm1'), tagOf(reps[61]!, 2101, 'm1')],
    });
    expect(await stored(academy)).toEqual(await counted(academy));
    await takeAll(database.db, academy, { reps: reps.slice(60), voids: [], tags: [] });
    await takeAll(database.db, academy, { reps: [], voids: [], tags: [tagOf(reps[1]!, 2102, 'd1')] });
    const tallies = await stored(academy);
    expect(tallies).toEqual(await counted(academy));
    expect(reached(tallies)).toBe(118);
  });

  test('lose nothing while ten devices send and five readers look', async () => {
    const academy = 'busy';
    await anAcademy(database.db, academy);
    const reps = term(10_000, 400);
    const devices = Array.from({ length: 10 }, (_, d) => reps.filter((_, i) => i % 10 === d));
    await Promise.all([
      ...devices.map(async (own, d) => {
        for (let i = 0; i < own.length; i += 8) {
          const part = own.slice(i, i + 8);
          await takeAll(database.db, academy, { reps: part, voids: [], tags: [] });
          await takeAll(database.db, academy, {
            reps: [],
            voids: [voidOf(part[0]!, 20_000 + d * 100 + i)],
            tags: [],
          });
        }
      }),
      ...Array.from({ length: 5 }, async () => {
        for (let i = 0; i < 12; i++) await refreshTallies(database.db, academy);
      }),
    ]);
    const tallies = await stored(academy);
    expect(tallies).toEqual(await counted(academy));
    expect(reached(tallies)).toBe(400 - 50);
  }, 60_000);

  test('are counted while somebody marks a week, without waiting for them', async () => {
    const academy = 'marking';
    await anAcademy(database.db, academy);
    const reps = term(30_000, 30);
    await takeAll(database.db, academy, { reps, voids: [], tags: [] });
    await database.db.transaction(async (tx) => {
      const [ada, cleo] = ['ada', 'cleo'].map((who) => reps.filter(({ student }) => student === who));
      await markStale(tx, academy, cleo!);
      await refreshTallies(database.db, academy);
      // A writer that marks meets no lock of the one that counted.
      await markStale(tx, academy, ada!);
    });
    const { rows } = await database.pool.query('select student from stale_weeks where academy_id = $1', [
      academy,
    ]);
    expect(new Set(rows.map(({ student }: { student: string }) => student))).toEqual(
      new Set(['ada', 'cleo']),
    );
    expect(await stored(academy)).toEqual(await counted(academy));
  });

  test('are taken again when a mass is fixed, for the partner’s reps as well, and can be rebuilt at any time', async () => {
    const academy = 'masses';
    await anAcademy(database.db, academy);
    await takeAll(database.db, academy, { reps: term(40_000, 30), voids: [], tags: [] });
    expect((await stored(academy)).every(({ massBand }) => massBand === 0)).toBe(true);
    await saveStudent(database.db, academy, aStudent('dan', { massKg: 90 }));
    await saveStudent(database.db, academy, aStudent('ada', { massKg: 60 }));
    const tallies = await stored(academy);
    expect(tallies).toEqual(await counted(academy));
    expect(tallies.filter(({ student }) => student === 'ada').every(({ massBand }) => massBand === 4)).toBe(
      true,
    );
    await markAllStale(database.db, academy);
    expect(await stored(academy)).toEqual(tallies);
  });

  test('start again on another weekday, while devices send and readers read', async () => {
    const academy = 'sundays';
    await anAcademy(database.db, academy);
    const reps = term(50_000, 200);
    const send = (part: Rep[]) => takeAll(database.db, academy, { reps: part, voids: [], tags: [] });
    await send(reps.slice(0, 40));
    expect(new Set((await stored(academy)).map(({ week }) => new Date(week).getUTCDay()))).toEqual(
      new Set([1]),
    );
    await Promise.all([
      ...[0, 1, 2, 3].map(async (device) => {
        for (let i = 40 + device * 4; i < reps.length; i += 16) await send(reps.slice(i, i + 4));
      }),
      (async () => {
        for (let i = 0; i < 10; i++) await refreshTallies(database.db, academy);
      })(),
      ...(['wednesday', 'sunday'] as const).map((weekBegins) =>
        saveAcademy(database.db, academy, { weekBegins }),
      ),
    ]);
    await saveAcademy(database.db, academy, { weekBegins: 'sunday', units: 'lb and ft' });
    const tallies = await stored(academy);
    expect(tallies).toEqual(await counted(academy));
    expect(new Set(tallies.map(({ week }) => new Date(week).getUTCDay()))).toEqual(new Set([0]));
    expect(reached(tallies)).toBe(200);
  }, 60_000);

  test('of one academy are never another’s', async () => {
    await anAcademy(database.db, 'next-door');
    expect(await stored('next-door')).toEqual([]);
  });
});

describe('second opinions', () => {
  test('are saved with the reps, once, and refused from the coach who logged the rep', async () => {
    const academy = 'looks';
    await anAcademy(database.db, academy);
    await database.pool.query(
      `insert into coaches (academy_id, id, name, email, password_hash, role) values ($1, 'other', 'Other', 'other@looks.example', '', 'assistant')`,
      [academy],
    );
    const rep = aRep({ id: factId(60_000), stop: 'c2' });
    const look: SecondOpinion = {
      id: factId(60_001),
      rep: rep.id,
      stop: 'c3',
      at: rep.at,
      observer: 'other',
    };
    const answers = async (looks: SecondOpinion[], reps: Rep[] = []) =>
      (await takeAll(database.db, academy, { reps, voids: [], tags: [], looks })).map(({ answer }) => answer);
    expect(await answers([look], [rep])).toEqual(['accepted', 'accepted']);
    expect(await answers([look])).toEqual(['known']);
    expect(await answers([{ ...look, id: factId(60_002), observer: 'coach' }])).toEqual(['refused']);
    expect(await answers([{ ...look, id: factId(60_003), stop: 'c9' }])).toEqual(['refused']);
    const breakdown = plainBreakdown(5);
    const kept = await looksAt(database.db, academy, 'test-lock');
    const { byCheckpoint } = agreementOf(breakdown, new Map([[1, breakdown]]), [rep], kept);
    expect(byCheckpoint.map(({ n }) => n)).toEqual([1, 1, 0, 0, 0]);
    expect(reached(await stored(academy))).toBe(1);
  });
});
