import { describe, expect, test } from '@jest/globals';
import type { Life, Step } from '@ulkret/core/prescription';
import { aLife, factId, someTerms } from '../../core/test';
import { standingOf } from './use-deciding';

const terms = someTerms;
const at = (hour: number) => `2026-03-05T${hour}:00:00.000Z`;
let made = 0;
const step = (hour: number, does: Step['does']): Step => ({
  id: factId(100 + made++),
  session: null,
  at: at(hour),
  observer: 'coach',
  student: 'ada',
  technique: 'test-lock',
  edition: 1,
  does,
});
const accept = (hour: number) => step(hour, { is: 'accepted', terms, stood: null });
const life = (id: string, state: Life['state'] = 'in work') => aLife(1, { id, state, held: [true] });
const told = (...lives: Life[]): NonNullable<Parameters<typeof standingOf>[0]> => ({
  asOf: at(12),
  prescriptions: lives.map((one) => ({ life: one }) as never),
  declined: [],
  coaches: [],
  tells: { drill: {}, cue: {}, coach: {} },
});
const adas = (...of: Parameters<typeof standingOf>) => standingOf(...of).get('test-lock ada');

describe('what this device and the server know together', () => {
  test('a decision counts before the server has told of it, and is undone on the device that made it', () => {
    const one = accept(11);
    expect(adas(undefined, [one])).toMatchObject({ life: { id: one.id, state: 'accepted' }, step: one });
    const undone = step(12, { is: 'undone', of: one.id });
    expect(adas(undefined, [one, undone])?.life ?? null).toBeNull();
    expect(adas(told(life(one.id)), [one, undone])?.life).toBeNull();
  });
  test('what the server tells of it since is kept, and it can still be undone here', () => {
    const one = accept(11);
    expect(adas(told(life(one.id)), [one])).toMatchObject({ life: { held: [true] }, step: one });
    expect(adas(told(life(one.id, 'signed off')), [one])?.life ?? null).toBeNull();
  });
  test('an edit and a refusal count at once', () => {
    const one = accept(10);
    const edit = step(11, { is: 'edited', of: one.id, terms: { ...terms, rung: 1 } });
    expect(adas(told(life(one.id)), [edit])?.life?.terms.rung).toBe(1);
    const declined = step(12, { is: 'declined', checkpoint: 'c3', reason: 'a sore wrist' });
    expect(adas(told(life(one.id)), [edit, declined])).toMatchObject({
      life: null,
      declined: { checkpoint: 'c3', reason: 'a sore wrist' },
    });
  });
});
