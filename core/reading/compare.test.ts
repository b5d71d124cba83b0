import { describe, expect, test } from '@jest/globals';
import { randomLcg, randomNormal } from 'd3-random';
import { logistic } from '../math';
import type { Rep } from '../rep';
import { aRep, factId, plainBreakdown, questionOf } from '../test';
import { compare, everything, plainReading, type SquadReading } from '.';

const breakdown = plainBreakdown(5);
const times = (n: number, fields: Parameters<typeof aRep>[0]) =>
  Array.from({ length: n }, () => aRep(fields));
const readingOf = (...reps: Rep[]) => plainReading(questionOf(breakdown, reps)).students[0]!;

describe('two readings side by side', () => {
  const before = readingOf(...times(30, { stop: 'c1' }), ...times(25, {}));

  test('say nothing of what was hardly tried, and nothing of what is alike', () => {
    expect(compare(before, readingOf(...times(3, {})))[0]!.fell).toBeNull();
    expect(compare(before, before)[0]!.fell).toBeCloseTo(0.5, 6);
  });

  test('tell how sure it is that a checkpoint breaks less often', () => {
    const after = readingOf(...times(3, { stop: 'c1' }), ...times(27, {}));
    expect(compare(before, after)[0]!.fell).toBeGreaterThan(0.99);
    expect(compare(after, before)[0]!.fell).toBeLessThan(0.01);
  });

  test('leave aside what a harder rung explains, unless the rung is what is compared', () => {
    const easy = { rung: 1 as const };
    const hard = { rung: 3 as const };
    const mostlyEasy = [...times(20, easy), ...times(2, { ...easy, stop: 'c1' }), ...times(5, hard)];
    const mostlyHard = [...times(15, hard), ...times(10, { ...hard, stop: 'c1' }), ...times(5, easy)];
    const fell = (one: Rep[], other: Rep[]) => compare(readingOf(...one), readingOf(...other))[0]!.fell!;
    expect(fell(mostlyEasy, mostlyHard)).toBeGreaterThan(0.05);
    const only = (reps: Rep[], rung: number) => reps.filter((rep) => rep.rung === rung);
    expect(fell(only(mostlyEasy, 1), only(mostlyHard, 3))).toBeLessThan(0.05);
  });
});

/** A made-up squad of sixteen, drilled before and after and on both sides; `lower` logits less break after, and on the main side. */
function drilledTwice(seed: number, lower: number) {
  const source = randomLcg(seed);
  const normal = randomNormal.source(source)(0, 1);
  const level = breakdown.checkpoints.map(() => -1.5 + 0.6 * normal());
  const pattern = aRep({ partner: null });
  return Array.from({ length: 16 }, (_, i) => {
    const own = level.map((at) => at + 0.8 * normal());
    return Array.from({ length: 50 }, (__, k) => {
      const [after, main] = [k >= 25, source() < 0.6];
      const easier = (lower * (Number(after) + Number(main))) / 2;
      const stop = breakdown.checkpoints.find((___, at) => source() < logistic(own[at]! - easier))?.id;
      return {
        ...pattern,
        id: factId(1 + i * 50 + k),
        student: `s${i}`,
        side: main ? ('right' as const) : ('left' as const),
        at: after ? '2026-03-04T18:00:00Z' : '2026-02-20T18:00:00Z',
        ...(stop === undefined ? { outcome: 'finished' as const } : { outcome: 'stopped' as const, stop }),
      };
    });
  }).flat();
}

// Chances of 95 % and more are to be wrong about as often as they say; four squads where nothing differs, two where much does.
describe('every chance is as sure as it should be', () => {
  const [fell, gaps]: Record<'none' | 'much', number[]>[] = [
    { none: [], much: [] },
    { none: [], much: [] },
  ];
  for (const [name, squads, lower] of [
    ['none', 4, 0],
    ['much', 2, 2.4],
  ] as const)
    for (let squad = 1; squad <= squads; squad++) {
      const reps = drilledTwice(squad / 11, lower);
      const mainSides = new Map(reps.map(({ student }) => [student, 'right' as const]));
      const read = (some: Rep[]): SquadReading =>
        plainReading(questionOf(breakdown, some, { mainSides, slice: everything }));
      const [earlier, later] = [true, false].map((before) =>
        read(reps.filter(({ at }) => at < '2026-03-01' === before)),
      );
      for (const one of earlier!.students) {
        const other = later!.students.find(({ student }) => student === one.student);
        if (other) fell![name].push(...compare(one, other).flatMap((both) => both.fell ?? []));
      }
      gaps![name].push(
        ...read(reps).students.flatMap(({ checkpoints }) =>
          checkpoints.flatMap(({ sideGap }) => sideGap ?? []),
        ),
      );
    }
  const share = (chances: number[], says: (chance: number) => boolean) =>
    chances.filter(says).length / chances.length;

  test.each([
    ['before and after', fell!],
    ['the other side', gaps!],
  ])('%s', (_, { none, much }) => {
    const sure = share(none, (chance) => chance > 0.95 || chance < 0.05);
    expect(sure).toBeGreaterThan(0.03);
    expect(sure).toBeLessThan(0.1);
    expect(share(much, (chance) => chance > 0.5)).toBeGreaterThan(0.75);
    expect(share(much, (chance) => chance < 0.05)).toBeLessThan(0.01);
  });
});
