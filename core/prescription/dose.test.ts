import { describe, expect, test } from '@jest/globals';
import { neutralRules } from '../care';
import { plainReading } from '../reading';
import { aRep, plainBreakdown, questionOf } from '../test';
import { type DecisionContext, prescribe } from '.';

const breakdown = plainBreakdown(5);
const times = (n: number, fields: Parameters<typeof aRep>[0]) =>
  Array.from({ length: n }, () => aRep(fields));
/** Lost at one checkpoint in twelve of twenty-four reps, and never anywhere else. */
const lostAt = (stop: string) =>
  plainReading(questionOf(breakdown, [...times(12, { stop }), ...times(12, {})])).students[0]!;
const technique = {
  kind: 'submission',
  regions: ['shoulder'],
  loadSpeed: 'slow',
} satisfies NonNullable<DecisionContext['load']>['technique'];
const caps = neutralRules.caps;

function told(stop: string, known: Partial<DecisionContext> = {}) {
  const now = prescribe(breakdown, lostAt(stop), { mainSide: 'right', ...known });
  if (now.kind !== 'correct') throw new Error('half of them is clear');
  return { ...now.dose, rules: now.reason.rules };
}

describe('how much, and how far', () => {
  test('ten each side twice, and to their end, where nothing is loaded', () => {
    const control = { ...technique, kind: 'control' } as const;
    for (const known of [{}, { load: { technique: control, caps } }]) {
      expect(told('c2', known)).toMatchObject({ reps: 10, sets: 2, sides: 'both', endAt: null });
      expect(told('c2', known).rules).not.toContain('stops before it loads');
    }
  });

  test('stops before the finish if that many would pass the caps of a class', () => {
    const load = { technique, caps };
    expect(told('c2', { load })).toMatchObject({ reps: 10, sets: 2, endAt: 'c4' });
    expect(told('c2', { load }).rules).toContain('stops before it loads');
    // About half of forty get there: rules that allow that many ask for no fewer.
    expect(told('c2', { load: { technique, caps: { ...caps, joint: 40 } } }).endAt).toBeNull();
  });

  test('is less where what is corrected is under load itself', () => {
    const dose = told('c5', { load: { technique, caps } });
    expect(dose).toMatchObject({ endAt: null });
    expect(dose.rules).toContain('fewer because it loads');
    expect(dose.reps * dose.sets * 2).toBeLessThanOrEqual(caps.joint);
  });

  test('counts what a fast one may, and what it does to the attacker', () => {
    const fast = { ...technique, loadSpeed: 'fast' } as const;
    const dose = told('c5', { load: { technique: fast, caps } });
    expect(dose.reps * dose.sets * 2).toBeLessThanOrEqual(caps.fast);
    const own = {
      ...technique,
      kind: 'defence',
      loads: [{ region: 'neck', whom: 'student', from: 'c4' }],
    } satisfies NonNullable<DecisionContext['load']>['technique'];
    expect(told('c2', { load: { technique: own, caps } }).endAt).toBe('c3');
    expect(told('c2', { load: { technique: own, caps: { ...caps, neck: 100 } } }).endAt).toBeNull();
  });
});
