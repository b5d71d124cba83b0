import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { prescriptionsCsv } from '../formats';
import { betaEstimate } from '../math';
import { shippedDrills } from '../drills';
import { plainReading } from '../reading';
import { aLife, aRep, plainBreakdown, questionOf, someTerms } from '../test';
import { fellAbove, prescribe, type Worked, workedWords, whyWords } from '.';

const breakdown = plainBreakdown(5);
const times = (n: number, fields: Parameters<typeof aRep>[0]) =>
  Array.from({ length: n }, () => aRep(fields));

const period = (seen: number, failed: number) => ({
  seen,
  failed,
  hazard: betaEstimate({ a: 1 + failed, b: 1 + seen - failed }),
});

describe('the words of a reason', () => {
  test('say of what was chosen, and of each that lost, what it would bring; and the rules that decided', () => {
    const reps = [...times(24, { stop: 'c2' }), ...times(20, { stop: 'c3' }), ...times(6, {})];
    const told = prescribe(breakdown, plainReading(questionOf(breakdown, reps)).students[0]!, {
      mainSide: 'right',
      drills: shippedDrills,
    });
    if (told.kind !== 'correct') throw new Error('it is clear');
    const { chosen, others, rules } = whyWords(breakdown, told, 'right', shippedDrills);
    expect(chosen).toMatch(
      /^2 “Point 2”, with “.+”: one evening’s reps should bring about \d+\.\d points more of the finish rate at rung \d/,
    );
    expect(others.length).toBe(told.reason.candidates.length - 1);
    for (const line of others) expect(line).toMatch(/^\d “Point \d”: .+ Not this one: .+\.$/);
    expect(rules).toContain('Dependencies come first.');
  });
});

describe('the words of whether it worked', () => {
  test('never contradict their numbers, and say what would have been seen anyway', () => {
    const counts = fc
      .integer({ min: 0, max: 60 })
      .chain((seen) => fc.integer({ min: 0, max: seen }).map((failed) => period(seen, failed)));
    fc.assert(
      fc.property(
        counts,
        counts,
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.option(fc.double({ min: 0, max: 1, noNaN: true })),
        (before, after, chance, untouched) => {
          const enough = before.seen >= 5 && after.seen >= 5;
          const worked: Worked = { before, after, chance: enough ? chance : null, untouched };
          const words = workedWords(worked);
          if (!enough) return expect(words).toMatch(/^Not enough reps yet/);
          expect(words).toContain(
            `${before.failed} of ${before.seen} before, ${after.failed} of ${after.seen} since`,
          );
          expect(words.startsWith('No sign of a drop')).toBe(chance < fellAbove);
          if (words.startsWith('It fell:') && untouched !== null)
            expect(after.hazard.high).toBeLessThan(untouched);
          if (untouched !== null && untouched >= before.failed / before.seen)
            expect(words).not.toContain('picked at its worst');
        },
      ),
    );
  });
});

describe('prescriptions as CSV', () => {
  test('are a row each, with a column for everything that is agreed to', () => {
    const life = aLife(1, { terms: { ...someTerms, cue: '=elbow, first' }, held: [true, false] });
    const worked: Worked = { before: period(12, 9), after: period(2, 1), chance: null, untouched: null };
    const [head, row, end] = prescriptionsCsv([{ life, worked }]).split('\r\n');
    expect(head!.split(',')).toContain('chance_fell');
    // What starts like a formula is written as text.
    expect(row).toContain(`"'=elbow, first"`);
    expect(row).toContain(',in work,1,2,,12,9,2,1,,');
    expect(end).toBe('');
  });
});
