import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { packSteps, redone, type UndoSteps, stepTo, undone, unpackSteps } from './steps';

const begin = (present: object): UndoSteps<object> => ({ past: [], present, future: [] });

describe('the steps of a draft', () => {
  test('are undone and again, and a new one ends what was undone', () => {
    let steps = begin({ n: 0 });
    for (const n of [1, 2, 3]) steps = stepTo(steps, { n });
    steps = undone(undone(steps));
    expect(steps.present).toEqual({ n: 1 });
    expect(redone(steps).present).toEqual({ n: 2 });
    steps = stepTo(steps, { n: 9 });
    expect(redone(steps)).toBe(steps);
    expect(undone(steps).present).toEqual({ n: 1 });
  });

  test('stay what they are where there is nothing to take back, to repeat, or to change', () => {
    const steps = begin({ n: 0 });
    expect(undone(steps)).toBe(steps);
    expect(redone(steps)).toBe(steps);
    expect(stepTo(steps, steps.present)).toBe(steps);
  });

  test('any walk of steps, undone as often, is where it began', () => {
    fc.assert(
      fc.property(fc.array(fc.integer(), { maxLength: 100 }), (walk) => {
        const end = walk.reduce((steps, n) => stepTo(steps, { n }), begin({ n: 'start' }));
        const back = walk.reduce((steps) => undone(steps), end);
        expect(back.present).toEqual({ n: 'start' });
        expect(walk.reduce((steps) => redone(steps), back).present).toEqual(end.present);
      }),
    );
  });

  test('are the last two hundred', () => {
    let steps = begin({ n: 0 });
    for (let n = 1; n <= 300; n++) steps = stepTo(steps, { n });
    expect(steps.past).toHaveLength(200);
    expect(steps.past[0]).toEqual({ n: 100 });
  });
});

describe('kept steps', () => {
  const steps: UndoSteps<object> = {
    past: [{ a: 1 }, { a: 2 }],
    present: { a: 3, b: { c: 1, d: 2 } },
    future: [{ a: 4 }, { a: 5 }],
  };

  test('come back where they led to the same work, in whichever order its fields are told', () => {
    expect(unpackSteps(packSteps(steps), { b: { d: 2, c: 1 }, a: 3 })).toEqual(steps);
  });

  test('are forgotten where the work has become another, or they cannot be read', () => {
    const other = { a: 3, b: { c: 1, d: 9 } };
    for (const text of [packSteps(steps), null, 'no JSON', '{"past":1}'])
      expect(unpackSteps(text, other)).toEqual(begin(other));
  });

  test('are those nearest to the present where there is no room for all', () => {
    const room = JSON.stringify(steps.present).length + 2 * '{"a":1}'.length;
    expect(unpackSteps(packSteps(steps, room), steps.present)).toEqual({
      past: [{ a: 1 }, { a: 2 }],
      present: steps.present,
      future: [],
    });
    expect(unpackSteps(packSteps(steps, room - 1), steps.present).past).toEqual([{ a: 2 }]);
    expect(unpackSteps(packSteps(steps, 1), steps.present)).toEqual(begin(steps.present));
  });
});
