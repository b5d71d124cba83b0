import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Rep } from '../rep';
import { standing } from '../facts';
import { aRep, cellsOf, editionsOf, factId, plainBreakdown, questionOf, studentIds } from '../test';
import check from '../test/check-values.json' with { type: 'json' };
import {
  evidenceAt,
  everything,
  fewestReps,
  finishRate,
  gain,
  generalHazard,
  leaks,
  plainReading,
  priorWeight,
  rootGain,
  survival,
  weightOf,
} from '.';

const breakdown = plainBreakdown(5);
const editions = editionsOf(breakdown);
const read = (reps: Rep[], more: Parameters<typeof questionOf>[2] = {}) =>
  plainReading(questionOf(breakdown, reps, more));
const times = (n: number, fields: Parameters<typeof aRep>[0]) =>
  Array.from({ length: n }, () => aRep(fields));

describe('the hazard of censored reps', () => {
  // Freireich et al., Blood 21 (1963), 6-mercaptopurine arm; survival recomputed with R survival.
  test('gives the Kaplan–Meier curve of the 6-MP remission data', () => {
    const { time, event, table } = check.kaplanMeier;
    const weeks = table.map((row) => row.time);
    const life = plainBreakdown(weeks.length);
    const patients = time.map((week, i) => {
      if (event[i] === 1) return aRep({ stop: `c${weeks.indexOf(week) + 1}` });
      const lived = weeks.filter((one) => one <= week).length;
      return aRep({ outcome: 'not judged', heldTo: lived > 0 ? `c${lived}` : null });
    });
    const counts = Object.assign({}, ...cellsOf(patients, [life]).map(({ checkpoints }) => checkpoints));
    const counted = life.checkpoints.map(({ id }) => counts[id]!);
    expect(counted.map(({ reached }) => reached)).toEqual(table.map(({ atRisk }) => atRisk));
    const curve = survival(counted.map(({ failed, reached }) => failed / reached)).slice(1);
    curve.forEach((alive, i) => expect(alive).toBeCloseTo(table[i]!.survival, 3));
  });
});

describe('survival, leaks and gains', () => {
  const hazards = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 12 });

  test('leaks and finish rate sum to 1', () => {
    fc.assert(
      fc.property(hazards, (list) => {
        const lost = leaks(list).reduce((sum, leak) => sum + leak, 0);
        expect(lost + finishRate(list)).toBeCloseTo(1, 10);
      }),
    );
  });

  test('mending one checkpoint never costs, and gains nothing where it is mended', () => {
    fc.assert(
      fc.property(hazards, fc.nat(11), fc.double({ min: 0, max: 1, noNaN: true }), (list, at, target) => {
        const place = at % list.length;
        expect(gain(list, place, target)).toBeGreaterThanOrEqual(-1e-12);
        expect(gain(list, place, list[place]!)).toBeCloseTo(0, 12);
      }),
    );
  });

  test('mending a root fixes what it breaks later; with every root in its place that is the gain', () => {
    const own = [0.2, 0.1, 0.4];
    const inPlace = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ];
    for (const place of [0, 1, 2])
      expect(rootGain(own, inPlace, place, [0.05, 0.05, 0.05])).toBeCloseTo(gain(own, place, 0.05), 12);
    // Three quarters of the stops at the third have their root at the first: 0.4 falls by 0.75 × 0.35.
    const early = [
      [1, 0, 0],
      [0, 1, 0],
      [0.75, 0, 0.25],
    ];
    const fixed = 0.95 * 0.9 * (1 - (0.4 - 0.75 * 0.35));
    expect(rootGain(own, early, 0, [0.05, 0.05, 0.05])).toBeCloseTo(fixed - 0.8 * 0.9 * 0.6, 12);
  });

  test('an early leak hides a late one: what never arrives cannot fail', () => {
    const reading = read([...times(30, { stop: 'c1' }), ...times(6, { stop: 'c4' }), ...times(2, {})]).squad;
    const [first, , , fourth] = reading.checkpoints;
    expect(first!.failed).toBeGreaterThan(fourth!.failed * 4);
    expect(fourth!.reached).toBe(8);
    expect(fourth!.hazard.value).toBeGreaterThan(0.5);
  });
});

describe('the plain reading', () => {
  test('is the Beta posterior around the squad’s rate, worked by hand', () => {
    const reps = [
      ...times(3, { stop: 'c1' }),
      ...times(7, {}),
      ...times(10, { student: 'ben', partner: 'ada' }),
    ];
    const { squad, students } = read(reps);
    const squadRate = (priorWeight * generalHazard + 3) / (priorWeight + 20);
    expect(squad.checkpoints[0]!.hazard.value).toBeCloseTo(squadRate, 12);
    const ada = students.find(({ student }) => student === 'ada')!;
    expect(ada.checkpoints[0]).toMatchObject({ reached: 10, failed: 3 });
    expect(ada.checkpoints[0]!.hazard.value).toBeCloseTo(
      (priorWeight * squadRate + 3) / (priorWeight + 10),
      12,
    );
    expect(ada).toMatchObject({ reps: 10, finished: 7 });
  });

  test('weighs a rep by half for each half-life of its age, in whole weeks', () => {
    const folding = { asOf: '2026-03-05T20:00:00Z', halfLifeDays: 28 };
    expect(weightOf('2026-02-02', folding)).toBeCloseTo(0.5, 12);
    expect(weightOf('2026-03-09', folding)).toBe(1);
    const reps = [aRep({ stop: 'c1', at: '2026-02-05T20:00:00Z' }), aRep({})];
    const hazard = read(reps).squad.checkpoints[0]!.hazard.value;
    expect(hazard).toBeCloseTo((priorWeight * generalHazard + 0.5) / (priorWeight + 1.5), 12);
  });

  const aDrilledRep = fc.record({
    student: fc.constantFrom(...studentIds.slice(0, 3)),
    side: fc.constantFrom('right' as const, 'left' as const),
    rung: fc.constantFrom(1 as const, 2 as const, 3 as const),
    stop: fc.option(fc.constantFrom('c1', 'c2', 'c3', 'c4', 'c5'), { nil: undefined }),
    day: fc.integer({ min: 1, max: 28 }),
  });
  const drilled = fc.array(aDrilledRep, { maxLength: 40 }).map((list) =>
    list.map(({ day, ...fields }, i) =>
      aRep({
        ...fields,
        partner: 'dan',
        id: factId(50_000 + i),
        at: `2026-02-${String(day).padStart(2, '0')}T18:00:00Z`,
      }),
    ),
  );

  test('does not depend on the order of ingest, nor on a rep sent twice', () => {
    fc.assert(
      fc.property(
        drilled.chain((reps) =>
          fc.tuple(fc.constant(reps), fc.shuffledSubarray(reps, { minLength: reps.length })),
        ),
        ([reps, other]) => {
          const twice = standing({ reps: [...other, ...other.slice(0, 5)], voids: [], tags: [] });
          expect(read(twice)).toEqual(read(reps));
        },
      ),
      { numRuns: 25 },
    );
  });

  test('sums to 1 with its leaks, stays in range, and its n are those of its evidence', () => {
    fc.assert(
      fc.property(drilled, (reps) => {
        const { squad, students } = read(reps);
        for (const { checkpoints, finishRate, student } of [squad, ...students]) {
          expect(checkpoints.reduce((sum, { leak }) => sum + leak.value, finishRate.value)).toBeCloseTo(
            1,
            10,
          );
          expect(checkpoints.reduce((sum, { rootLeak }) => sum + rootLeak, finishRate.value)).toBeCloseTo(
            1,
            10,
          );
          for (const { checkpoint, hazard, reached, failed, causes, byRung } of checkpoints) {
            expect(hazard.low).toBeGreaterThanOrEqual(0);
            expect(hazard.high).toBeLessThanOrEqual(1);
            const mine = reps.filter((rep) => student === null || rep.student === student);
            const evidence = evidenceAt(editions, mine, checkpoint);
            expect(evidence).toHaveLength(reached);
            expect(evidence.filter(({ observation }) => observation === 'failed')).toHaveLength(failed);
            expect(causes.reduce((sum, { stops }) => sum + stops, 0)).toBe(failed);
            expect(causes.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 10);
            expect(byRung.reduce((sum, one) => sum + one.reached, 0)).toBe(reached);
          }
        }
      }),
      { numRuns: 20 },
    );
  });

  test('counts old reps at the checkpoints that an edition kept, in the order of the new one', () => {
    const second = structuredClone(breakdown);
    second.edition = 2;
    second.checkpoints = [second.checkpoints[1]!, second.checkpoints[0]!];
    second.checkpoints.forEach((checkpoint) => (checkpoint.after = []));
    const reps = [...times(4, { stop: 'c2' }), ...times(2, { edition: 2, stop: 'c1' })];
    const cells = cellsOf(reps, [breakdown, second]);
    const { squad } = plainReading({ breakdown: second, cells, slice: everything, mainSides: new Map() });
    expect(squad.checkpoints.map(({ checkpoint, reached, failed }) => [checkpoint, reached, failed])).toEqual(
      [
        ['c2', 6, 4],
        ['c1', 6, 2],
      ],
    );
  });

  test('splits stops by their cause and leaves the untagged apart', () => {
    const reps = [
      ...times(2, { stop: 'c3', cause: 'm3' }),
      aRep({ stop: 'c3', cause: 'd3' }),
      aRep({ stop: 'c3' }),
    ];
    const causes = read(reps).squad.checkpoints[2]!.causes;
    expect(causes.map(({ cause, kind, stops }) => [cause, kind, stops])).toEqual([
      ['m3', 'mistake', 2],
      ['d3', 'defence', 1],
      [null, 'unknown', 1],
    ]);
    expect(causes.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 12);
  });

  test('asks for a rung or a side and counts only that', () => {
    const reps = [...times(3, { rung: 1, side: 'left' }), ...times(2, { rung: 3, stop: 'c2' })];
    expect(read(reps, { slice: { ...everything, rung: 3 } }).squad.reps).toBe(2);
    expect(read(reps, { slice: { ...everything, side: 'left' } }).squad.checkpoints[1]!.failed).toBe(0);
    expect(read(reps).squad.checkpoints[1]!.byRung.map(({ rung, failed }) => [rung, failed])).toEqual([
      [1, 0],
      [3, 2],
    ]);
  });

  test('tells the off side from the main side by what broke there', () => {
    const reps = [...times(12, { side: 'right' }), ...times(12, { side: 'left', stop: 'c2' })];
    const gap = (main: 'right' | 'left') =>
      read(reps, { mainSides: new Map([['ada', main]]) }).students[0]!.checkpoints[1]!.sideGap;
    expect(gap('right')).toBeGreaterThan(0.95);
    expect(gap('left')).toBeLessThan(0.05);
    expect(read(times(12, { side: 'right' })).students[0]!.checkpoints[1]!.sideGap).toBeNull();
  });

  test('says of few reps that they are not enough, and about how many are missing', () => {
    const few = read(times(3, {})).students[0]!.checkpoints[0]!;
    expect(few.enough).toBe(false);
    expect(few.moreNeeded).toBeGreaterThanOrEqual(fewestReps - 3);
    const more = read(times(3 + few.moreNeeded, {})).students[0]!.checkpoints[0]!;
    expect(more.enough).toBe(true);
  });

  test('of nobody is sound: no reps, a finish rate from the prior, nothing that is not a number', () => {
    const { squad, students } = read([]);
    expect(students).toEqual([]);
    expect(squad.finishedShare).toBeNull();
    expect(squad.finishRate.value).toBeCloseTo((1 - generalHazard) ** 5, 12);
  });
});

test('ids may be words that every object knows: they are counted like others', () => {
  const said = JSON.stringify(plainBreakdown(3))
    .replaceAll('"c2"', '"constructor"')
    .replaceAll('"m2"', '"valueof"');
  const breakdown = JSON.parse(said) as ReturnType<typeof plainBreakdown>;
  const reps = [aRep({ stop: 'constructor', cause: 'valueof' }), aRep({}), aRep({ stop: 'c1' })];
  const cells = cellsOf(reps, [breakdown]);
  const [, at] = plainReading(questionOf(breakdown, reps)).squad.checkpoints;
  expect(cells[0]!.checkpoints['constructor']).toMatchObject({ reached: 2, failed: 1, weightReached: 2 });
  expect(at).toMatchObject({ checkpoint: 'constructor', reached: 2, failed: 1 });
  expect(at!.causes[0]).toMatchObject({ cause: 'valueof', stops: 1 });
});
