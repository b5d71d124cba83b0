import { describe, expect, test } from '@jest/globals';
import { finished } from '../hazard';
import type { Rep } from '../rep';
import { aRep, cellsOf, editionsOf, factId, plainBreakdown, questionOf, readOn } from '../test';
import {
  agreementOf,
  beliefReading,
  everything,
  evidenceAt,
  fitAcademy,
  fold,
  fullReading,
  massBandOf,
  plainReading,
  type Reading,
  tallyWeeks,
} from '.';

const breakdown = plainBreakdown(5);
const editions = editionsOf(breakdown);
const times = (n: number, fields: Parameters<typeof aRep>[0]) =>
  Array.from({ length: n }, () => aRep(fields));

function full(reps: Rep[], more: Parameters<typeof questionOf>[2] = {}) {
  const question = questionOf(breakdown, reps, more);
  return fullReading(question, finished(fitAcademy(question.cells, question.mainSides)));
}
const drilled = [
  ...times(30, { stop: 'c1' }),
  ...times(20, { stop: 'c4', cause: 'm4' }),
  ...times(25, {}),
  ...times(12, { student: 'ben', partner: 'ada', stop: 'c2' }),
  ...times(40, { student: 'ben', partner: 'ada' }),
  ...times(2, { student: 'cleo', partner: 'ada', stop: 'c1' }),
];

describe('the full reading', () => {
  const { students, squad } = full(drilled);
  const of = (student: string, list: readonly Reading[] = students) =>
    list.find((one) => one.student === student)!;

  test('sums to 1 with its leaks, whose causes move to their roots', () => {
    for (const { checkpoints, finishRate } of [squad, ...students]) {
      expect(checkpoints.reduce((sum, { leak }) => sum + leak.value, finishRate.value)).toBeCloseTo(1, 10);
      expect(checkpoints.reduce((sum, { rootLeak }) => sum + rootLeak, finishRate.value)).toBeCloseTo(1, 10);
      for (const { hazard } of checkpoints) {
        expect(hazard.low).toBeLessThan(hazard.value);
        expect(hazard.value).toBeLessThan(hazard.high);
      }
    }
  });

  test('counts the same reps as the plain one, and as the evidence', () => {
    const plain = plainReading(questionOf(breakdown, drilled));
    students.forEach((reading, i) =>
      reading.checkpoints.forEach(({ checkpoint, reached, failed }, at) => {
        expect([reached, failed]).toEqual([
          plain.students[i]!.checkpoints[at]!.reached,
          plain.students[i]!.checkpoints[at]!.failed,
        ]);
        const own = drilled.filter(({ student }) => student === reading.student);
        expect(evidenceAt(editions, own, checkpoint)).toHaveLength(reached);
      }),
    );
  });

  test('says of a newcomer what the squad says, widely, and that it is not enough', () => {
    const first = of('cleo').checkpoints[0]!;
    expect(first.enough).toBe(false);
    expect(first.hazard.high - first.hazard.low).toBeGreaterThan(0.2);
  });

  test('is told for the rung that is asked for, also where nobody tried it', () => {
    const hard = [...drilled, ...times(30, { rung: 4, stop: 'c2' }), ...times(10, { rung: 4 })];
    const asked = full(hard, { slice: { ...everything, rung: 4 } }).students;
    const easy = full(hard, { slice: { ...everything, rung: 2 } }).students;
    expect(of('ada', asked).checkpoints[1]!.hazard.value).toBeGreaterThan(
      of('ada', easy).checkpoints[1]!.hazard.value + 0.2,
    );
    expect(asked.map(({ student }) => student)).toEqual(['ada']);
  });

  test('of nobody is sound', () => {
    const nobody = full([]);
    expect(nobody.students).toEqual([]);
    expect(nobody.squad.checkpoints.every(({ hazard }) => Number.isFinite(hazard.value))).toBe(true);
  });
});

describe('belief and evidence', () => {
  test('are both shares of a whole, and the farthest apart is named', () => {
    const believed = structuredClone(breakdown);
    believed.checkpoints.forEach((checkpoint, i) => (checkpoint.belief = i === 2 ? 60 : 10));
    const { rows, farthest, tau } = beliefReading(believed, full(drilled).squad);
    expect(rows.reduce((sum, { belief }) => sum + belief, 0)).toBeCloseTo(100, 10);
    expect(rows.reduce((sum, { evidence }) => sum + evidence, 0)).toBeCloseTo(100, 10);
    expect(farthest!.checkpoint).toBe('c3');
    expect(tau).toBeLessThan(0.3);
  });
});

describe('the agreement of two observers', () => {
  const look = (rep: Rep, stop: string | null, n: number) => ({
    id: factId(90_000 + n),
    rep: rep.id,
    stop,
    at: rep.at,
    observer: 'other',
  });

  test('counts what both saw, and is silent on too little', () => {
    const reps = [...times(10, { stop: 'c2' }), ...times(10, {})];
    const looks = reps.map((rep, n) => look(rep, n < 8 ? 'c2' : n < 10 ? null : n < 18 ? null : 'c2', n));
    const { byCheckpoint, looks: counted } = agreementOf(breakdown, editions, reps, looks);
    expect(counted).toBe(20);
    // 8 both failed, 2 the first alone, 2 the second alone, 8 neither: agreement 0.8, by chance 0.5.
    expect(byCheckpoint[1]).toMatchObject({ bothFailed: 8, firstOnly: 2, secondOnly: 2, bothHeld: 8 });
    expect(byCheckpoint[1]!.kappa).toBeCloseTo(0.6, 12);
    expect(byCheckpoint[2]!.n).toBe(8);
    expect(byCheckpoint[2]!.kappa).toBeNull();
  });

  test('leaves out a look at a rep that was undone', () => {
    const [rep] = times(1, {});
    expect(agreementOf(breakdown, editions, [], [look(rep!, null, 1)]).looks).toBe(0);
  });
});

describe('weekly tallies', () => {
  test('keep light and heavy partners apart', () => {
    expect([massBandOf(60, 60), massBandOf(60, 80), massBandOf(80, 60), massBandOf(null, 60)]).toEqual([
      0, 3, -3, 0,
    ]);
    const mass = (person: string) => ({ ada: 60, ben: 80 })[person] ?? null;
    const [cell] = cellsOf([aRep({})], [breakdown], readOn, mass);
    expect(cell!.massBand).toBe(3);
  });

  test('are the same whatever the order, and fold to the weeks asked for', () => {
    const reps = [
      aRep({ at: '2026-01-05T18:00:00Z' }),
      aRep({ at: '2026-03-04T18:00:00Z', stop: 'c2' }),
      aRep({}),
    ];
    const weeks = (list: Rep[]) => tallyWeeks(new Map([['test-lock', editions]]), list, () => null);
    const cells = (list: Rep[], since?: string) => fold(weeks(list), { ...readOn, since });
    expect(cells([...reps].reverse())).toEqual(cells(reps));
    expect(cells(reps)[0]!.reps).toBe(3);
    expect(cells(reps, '2026-03-02')[0]!.reps).toBe(2);
    expect(fold(weeks(reps), { ...readOn, asOf: '2026-02-01' })[0]!.reps).toBe(1);
  });
});
