import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Mechanism, Region, RuleTag } from '../breakdown';
import { isMinor, Student } from '../people';
import { aRep, inHand, factId, plainBreakdown } from '../test';
import {
  Activity,
  type CareNote,
  capsOn,
  exposureOf,
  neutralRules,
  type Override,
  permit,
  permitOfPair,
  standingNotes,
  Stopped,
  type Verdict,
} from '.';

/** Properties of care for any people, activities and notes. */

const today = '2026-03-05';
const gravity: Readonly<Record<Verdict, number>> = { allowed: 0, 'with care': 1, 'not allowed': 2 };

const regions = fc.subarray(Region.options, { maxLength: 3 });
const dates = fc.constantFrom('2026-01-01', '2026-03-04', today, '2026-03-06', '2027-01-01');
const person = (id: string) =>
  fc
    .record({
      born: fc.constantFrom(null, '1980-05-05', '2008-03-05', '2008-03-06', '2012-01-01'),
      experienceMonths: fc.integer({ min: 0, max: 120 }),
      massKg: fc.option(fc.integer({ min: 40, max: 140 }), { nil: null }),
      injuries: fc.array(
        fc.record({
          region: fc.constantFrom(...Region.options),
          side: fc.constantFrom(null, 'left' as const, 'right' as const),
          until: dates,
          note: fc.constant(''),
        }),
        { maxLength: 2 },
      ),
      consents: fc.subarray(RuleTag.options, { maxLength: 2 }),
    })
    .map((fields) =>
      Student.parse({
        id,
        name: id,
        mainSide: 'right',
        statureCm: null,
        armSpanCm: null,
        neckGirthCm: null,
        chestGirthCm: null,
        hipMobility: null,
        archived: false,
        ...fields,
      }),
    );
const technique = fc.record({
  id: fc.constant('any'),
  kind: fc.constantFrom('submission' as const, 'defence' as const, 'control' as const),
  mechanism: fc.constantFrom(...Mechanism.options),
  regions: regions.filter(({ length }) => length > 0),
  ruleTags: fc.subarray(RuleTag.options, { maxLength: 2 }),
  loadSpeed: fc.constantFrom('slow' as const, 'fast' as const),
  attire: fc.constantFrom('gi' as const, 'no-gi' as const, 'either' as const),
});
const note = (n: number) =>
  fc.record({
    id: fc.constant(factId(n)),
    session: fc.constant(null),
    at: fc.constant(`${today}T18:00:00.000Z`),
    observer: fc.constant('coach'),
    person: fc.constantFrom('ada', 'ben'),
    why: fc.constantFrom(...Stopped.options),
    regions,
    side: fc.constant(null),
    until: dates,
    words: fc.constant(''),
    replaces: fc.constant(null),
  }) as fc.Arbitrary<CareNote>;
const override: Override = {
  id: factId(90),
  session: factId(91),
  at: `${today}T18:00:00.000Z`,
  observer: 'coach',
  student: 'ada',
  partner: 'ben',
  technique: 'any',
  reason: 'both know it and asked',
};
const circumstances = { rules: neutralRules, today };
const all = [person('ada'), person('ben'), technique, fc.constantFrom(...Activity.options)] as const;

describe('for any two people and any activity, a permit', () => {
  test('is graver by a note, never lighter', () => {
    fc.assert(
      fc.property(...all, note(1), note(2), (ada, ben, what, activity, one, two) => {
        const grave = (notes: CareNote[]) =>
          gravity[permit(ada, ben, what, activity, { ...circumstances, notes }).verdict];
        expect(grave([one])).toBeGreaterThanOrEqual(grave([]));
        expect(grave([one, two])).toBeGreaterThanOrEqual(grave([one]));
      }),
    );
  });

  test('is never set aside by a coach for a minor, nor where they would spar', () => {
    fc.assert(
      fc.property(...all, note(1), (ada, ben, what, activity, one) => {
        const notes = [one];
        const before = permit(ada, ben, what, activity, { ...circumstances, notes });
        const after = permit(ada, ben, what, activity, { ...circumstances, notes, overrides: [override] });
        const spars = activity === 'spar' || activity === 'compete';
        const minor = isMinor(ada, today) || isMinor(ben, today);
        if (before.verdict !== 'not allowed' || minor || spars) expect(after.verdict).toBe(before.verdict);
        if (minor && before.verdict === 'not allowed') expect(before.overridable).toBe(false);
      }),
    );
  });

  test('names a reason where it is not simply given, the graver first, each about one of the two', () => {
    fc.assert(
      fc.property(...all, (ada, ben, what, activity) => {
        const { verdict, reasons } = permit(ada, ben, what, activity, circumstances);
        expect(reasons.length > 0).toBe(verdict !== 'allowed');
        const order = reasons.map((reason) => gravity[reason.verdict]);
        expect(order).toEqual(order.toSorted((a, b) => b - a));
        expect(order[0] ?? 0).toBe(gravity[verdict]);
        for (const reason of reasons) expect(['ada', 'ben']).toContain(reason.person);
      }),
    );
  });

  test('of a pair is the graver of both ways round', () => {
    fc.assert(
      fc.property(...all, (ada, ben, what, activity) => {
        const ways = [
          permit(ada, ben, what, activity, circumstances),
          permit(ben, ada, what, activity, circumstances),
        ];
        expect(gravity[permitOfPair([ada, ben], what, activity, circumstances).verdict]).toBe(
          Math.max(...ways.map(({ verdict }) => gravity[verdict])),
        );
      }),
    );
  });
});

describe('whatever was noted', () => {
  test('an unconscious person does not train on that day, also where a later note says less', () => {
    fc.assert(
      fc.property(person('ada'), person('ben'), note(1), note(2), (ada, ben, one, two) => {
        const first = { ...one, person: 'ben', why: 'unconscious' as const, until: today };
        const later = { ...two, person: 'ben', regions: [], why: 'other' as const, replaces: first.id };
        const notes = standingNotes([first, later]);
        const what = {
          id: 'any',
          kind: 'control' as const,
          mechanism: 'none' as const,
          regions: ['hip' as const],
          ruleTags: [],
          attire: 'either' as const,
        };
        const given = permit(ada, ben, { ...what, loadSpeed: 'slow' }, 'learn', { ...circumstances, notes });
        expect([given.verdict, given.overridable]).toEqual(['not allowed', false]);
      }),
    );
  });

  test('the notes that stand are the same in whichever order they came', () => {
    fc.assert(
      fc.property(
        fc
          .tuple(note(1), note(2), note(3))
          .map(([a, b, c]) => [a, { ...b, replaces: a.id }, { ...c, replaces: b.id }]),
        fc.shuffledSubarray([0, 1, 2], { minLength: 3 }),
        (notes, order) => {
          const ids = (list: readonly CareNote[]) =>
            standingNotes(list)
              .map(({ id }) => id)
              .toSorted();
          expect(ids(order.map((i) => notes[i]!))).toEqual(ids(notes));
        },
      ),
    );
  });
});

describe('whatever was drilled, what a partner bears', () => {
  const breakdown = plainBreakdown(5);
  const what = { kind: 'submission' as const, regions: ['neck' as const], loadSpeed: 'fast' as const };
  const rep = fc
    .record({ partner: fc.constantFrom('ben', 'cleo'), stop: fc.constantFrom(undefined, 'c1', 'c4', 'c5') })
    .map(({ partner, stop }) => aRep({ partner, ...(stop && { stop }) }));

  test('is the sum of what each part of the session did, in any order', () => {
    fc.assert(
      fc.property(fc.array(rep), fc.array(rep), (one, two) => {
        const spent = (reps: typeof one) =>
          ['ben', 'cleo'].map((id) => exposureOf(inHand(breakdown, what), reps, id, 'partner').fast);
        const [first, second] = [spent(one), spent(two)];
        expect(spent([...two, ...one])).toEqual(first.map((count, i) => count + second[i]!));
      }),
    );
  });

  test('grows by a rep by one at most, and never falls', () => {
    fc.assert(
      fc.property(fc.array(rep, { minLength: 1 }), (reps) => {
        const caps = (list: typeof reps) =>
          capsOn(exposureOf(inHand(breakdown, what), list, 'ben', 'partner'), what, 2, neutralRules.caps);
        const total = (list: typeof reps) => caps(list).reduce((sum, { spent }) => Math.max(sum, spent), 0);
        const grown = total(reps) - total(reps.slice(0, -1));
        expect([0, 1]).toContain(grown);
      }),
    );
  });
});
