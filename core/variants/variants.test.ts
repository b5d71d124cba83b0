import { describe, expect, test } from '@jest/globals';
import type { Variant, When } from '../breakdown';
import { newStudent } from '../people';
import { sayingBreakdown } from '../test';
import { choosable, chosenAfter, factOf, holdsFor, type Pairing, variantsFor } from '.';

const pairing = (more: Partial<Pairing> = {}): Pairing => ({
  student: newStudent({ id: 'ada', massKg: 60, statureCm: 160, hipMobility: 'low', grade: 2 }),
  partner: newStudent({ id: 'ben', massKg: 90, statureCm: 184 }),
  attire: 'gi',
  chosen: new Set(),
  reach: null,
  ...more,
});
const when = (
  fact: Extract<When, { on: 'body' }>['fact'],
  is: '<' | '>' | '=',
  value: number | 'low',
): When => ({
  on: 'body',
  fact,
  is,
  value,
});

describe('a way holds', () => {
  test('where the two bodies say so, and nobody can say where they were not measured', () => {
    const held = (one: When) => holdsFor(one, pairing());
    expect(factOf('partner mass ratio', pairing())).toBe(1.5);
    expect(held(when('partner mass ratio', '>', 1.25))).toBe(true);
    expect(held(when('stature ratio', '<', 0.9))).toBe(false);
    expect(held(when('hip mobility', '=', 'low'))).toBe(true);
    expect(held(when('grade', '>', 2))).toBe(false);
    expect(held(when('wrist mobility', '=', 'low'))).toBeNull();
    expect(held(when('reach margin', '<', 0))).toBeNull();
    expect(
      holdsFor(when('reach margin', '<', 0), pairing({ reach: { margin: -3, error: 0, estimated: false } })),
    ).toBe(true);
    const reach = { margin: -3, error: 3, estimated: false };
    // What is only an estimate decides where it is sure enough, and else leaves it to the coach.
    expect(holdsFor(when('reach margin', '<', 2), pairing({ reach }))).toBe(true);
    expect(holdsFor(when('reach margin', '<', 0), pairing({ reach }))).toBeNull();
    expect(holdsFor(when('reach margin', '>', 2), pairing({ reach }))).toBe(false);
    expect(holdsFor(when('partner mass ratio', '>', 1), pairing({ partner: null }))).toBeNull();
  });

  test('by the attire of the technique; where it may be either, a coach says', () => {
    const gi: When = { on: 'attire', attire: 'gi' };
    expect(holdsFor(gi, pairing())).toBe(true);
    expect(holdsFor(gi, pairing({ attire: 'no-gi' }))).toBe(false);
    expect(holdsFor(gi, pairing({ attire: 'either' }))).toBeNull();
  });
});

describe('a fact of the partner', () => {
  test('decides a variant as well', () => {
    const stiff: When = { on: 'body', fact: 'partner shoulder mobility', is: '=', value: 'low' };
    const body = (shoulderMobility: 'low' | 'high' | null) => ({
      ...newStudent({ id: 'ben', name: 'Ben' }),
      shoulderMobility,
    });
    expect(holdsFor(stiff, pairing({ partner: body('low') }))).toBe(true);
    expect(holdsFor(stiff, pairing({ partner: body('high') }))).toBe(false);
    expect(holdsFor(stiff, pairing({ partner: body(null) }))).toBeNull();
  });
});

describe('the ways of a pair', () => {
  const breakdown = sayingBreakdown();
  const stiff: Variant = { id: 'stiff', name: 'Stiff', when: when('hip mobility', '=', 'low') };
  breakdown.checkpoints[3]!.variants = [
    stiff,
    { id: 'high-4', name: 'High', when: { on: 'school', school: 'high' } },
    { id: 'stacked', name: 'Stacked', when: { on: 'situation', situation: 'the partner stacks' } },
  ];
  const idsOf = (list: ReturnType<typeof variantsFor>) => list.map(({ variant }) => variant.id);

  test('are what bodies decide, and what was chosen', () => {
    expect(idsOf(variantsFor(breakdown, pairing()))).toEqual(['stiff']);
    const chosen = new Set(['high', 'high-4']);
    expect(idsOf(variantsFor(breakdown, pairing({ chosen })))).toEqual(['high', 'stiff', 'high-4']);
    expect(idsOf(choosable(breakdown, pairing()))).toEqual(['high', 'low', 'high-4', 'stacked']);
    // What a body refuses is not had by choosing it.
    const supple = pairing({ student: newStudent({ id: 'ada', hipMobility: 'high' }) });
    expect(idsOf(variantsFor(breakdown, { ...supple, chosen: new Set(['stiff']) }))).toEqual([]);
  });

  test('of a school are chosen together, one school at a checkpoint at a time', () => {
    const after = (...taps: string[]) =>
      taps.reduce<readonly string[]>((chosen, id) => chosenAfter(breakdown, new Set(chosen), id), []);
    expect(after('high')).toEqual(['high', 'high-4']);
    expect(after('high', 'low')).toEqual(['high-4', 'low']);
    expect(after('stacked', 'high')).toEqual(['stacked', 'high', 'high-4']);
    expect(after('high', 'high')).toEqual([]);
    expect(after('nowhere')).toEqual([]);
  });
});
