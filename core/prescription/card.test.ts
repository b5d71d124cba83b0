import { describe, expect, test } from '@jest/globals';
import { shippedDrills } from '../drills';
import { newStudent } from '../people';
import { aLife, plainBreakdown, someTerms } from '../test';
import { betweenOf, type Card, cardOf, doseWords, type EditionOf, workOf } from '.';

const breakdown = plainBreakdown(5);
breakdown.checkpoints[1]!.title = '{right} hand under the chin';
const technique = { name: 'Test lock', safetyNote: 'Slowly.' } as NonNullable<
  ReturnType<EditionOf>
>['technique'];
const editionOf: EditionOf = ({ edition }) => (edition === 1 ? { technique, breakdown } : null);
const terms = { ...someTerms, checkpoint: 'c2', drill: shippedDrills[0]!.id };
const life = (n: number, fields: Partial<Parameters<typeof aLife>[1]> = {}) =>
  aLife(n, { student: 'ada', edition: 1, terms, ...fields });
const ada = newStudent({ id: 'ada', name: 'Ada', mainSide: 'left' });

describe('a student’s card', () => {
  const lives = [
    life(1, { state: 'kept', due: '2026-05-01T00:00:00Z' }),
    life(2, { state: 'recheck due', due: '2026-03-01T00:00:00Z' }),
    life(3, { student: 'ben' }),
    life(4, { state: 'in work', held: [true, false], stood: null }),
    life(5, { state: 'ended' }),
    life(6, { edition: 9 }),
  ];
  const card: Card = cardOf(ada, lives, editionOf, shippedDrills);

  test('tells what is worked on, read for the student’s own side, with the drill and what the reps say', () => {
    expect(card.works).toEqual([
      expect.objectContaining({
        technique: 'Test lock',
        place: 2,
        title: 'left hand under the chin',
        safetyNote: 'Slowly.',
        held: [true, false],
        stood: null,
      }),
    ]);
    expect(card.works[0]!.drill!.title).toBe(shippedDrills[0]!.title);
    // What is for coaches stays with them.
    expect(Object.keys(card.works[0]!.drill!)).not.toContain('trains');
  });

  test('tells what is signed off, with what is due, and nothing of what is over or of anybody else', () => {
    expect(card.proven.map(({ due, isDue }) => [due.slice(0, 10), isDue])).toEqual([
      ['2026-03-01', true],
      ['2026-05-01', false],
    ]);
  });

  test('names the defence whose answer is the cue, and none that has no answer yet', () => {
    const answered = structuredClone(breakdown);
    const defence = answered.defences[0]!;
    defence.answers = [{ do: 'retreat', to: 'guard', how: 'Let go.', bait: false }];
    const against = life(7, { terms: { ...terms, defence: defence.id } });
    const work = (of: typeof breakdown) => workOf(against, { technique, breakdown: of }, [], 'left');
    expect(work(answered)).toMatchObject({ defence: defence.title, drill: null });
    expect(work(breakdown)!.defence).toBeNull();
  });

  test('says how much in one way, and between which checkpoints', () => {
    const whole = { start: null, end: null };
    expect(doseWords({ ...terms, sides: 'both', first: 'left', sets: 2, reps: 10, rung: 2 }, whole)).toBe(
      '2 × 10 reps each side, the left first, at rung 2 (moving partner)',
    );
    expect(doseWords({ ...terms, sides: 'right', sets: 1, reps: 1, rung: 1 }, whole)).toMatch(
      /^1 × 1 rep on the right side, at rung 1 \(/,
    );
    const between = (startAt: string | null, endAt: string | null) =>
      doseWords(terms, betweenOf(breakdown, { startAt, endAt })).split('), ')[1];
    expect([between('c2', null), between('c2', 'c4'), between(null, 'c4'), between('c2', 'c2')]).toEqual([
      'started at 2',
      'from 2 to 4, no further',
      'from 1 to 4, no further',
      '2 alone',
    ]);
  });
});
