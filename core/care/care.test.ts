import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Student } from '../people';
import type { Technique } from '../breakdown';
import { aRep, factId, inHand, plainBreakdown } from '../test';
import {
  type CareNote,
  CareNote as CareNoteSchema,
  capsOn,
  expose,
  exposureOf,
  lastBeforeLoad,
  neutralRules,
  notesOn,
  Override,
  permit,
  permitOfPair,
  RuleSet,
  spanSpares,
  withWays,
  standingNotes,
  unexposed,
  withHow,
  activityAt,
} from '.';

const today = '2026-03-05';
const somebody = (id: string, fields: Partial<Student> = {}) =>
  Student.parse({
    id,
    name: id[0]!.toUpperCase() + id.slice(1),
    born: '1990-01-01',
    mainSide: 'right',
    experienceMonths: 36,
    statureCm: null,
    massKg: 70,
    armSpanCm: null,
    neckGirthCm: null,
    chestGirthCm: null,
    hipMobility: null,
    injuries: [],
    archived: false,
    ...fields,
  });
const ada = somebody('ada');
const ben = somebody('ben');
const strangle = {
  id: 'strangle',
  kind: 'submission' as const,
  mechanism: 'blood strangle' as const,
  regions: ['neck' as const],
  ruleTags: [],
  loadSpeed: 'slow' as const,
  attire: 'either' as const,
};
const heelHook = {
  id: 'heel',
  kind: 'submission' as const,
  mechanism: 'rotation' as const,
  regions: ['knee' as const],
  ruleTags: ['twisting leg lock' as const],
  loadSpeed: 'fast' as const,
  attire: 'either' as const,
};
const agreed = { consents: ['twisting leg lock' as const] };
const at = { rules: neutralRules, today };
const note = (fields: Partial<CareNote> = {}): CareNote =>
  CareNoteSchema.parse({
    id: factId(1),
    session: null,
    at: `${today}T18:00:00Z`,
    observer: 'coach',
    person: 'ben',
    why: 'pain',
    regions: ['neck'],
    side: null,
    until: today,
    words: '',
    replaces: null,
    ...fields,
  });

describe('a permit', () => {
  test('is given where nothing speaks against it', () => {
    expect(permit(ada, ben, strangle, 'spar', at)).toEqual({
      verdict: 'allowed',
      reasons: [],
      overridable: false,
    });
    expect(permit(ada, null, strangle, 'learn', at).verdict).toBe('allowed');
  });

  test('for a twisting leg lock grows with experience: learn early, spar late (common practice)', () => {
    const verdicts = [0, 12, 24].map((experienceMonths) => {
      const [one, other] = [
        somebody('ada', { experienceMonths, ...agreed }),
        somebody('ben', { experienceMonths, ...agreed }),
      ];
      return (['learn', 'drill', 'spar'] as const).map(
        (activity) => permit(one, other, heelHook, activity, at).verdict !== 'not allowed',
      );
    });
    expect(verdicts).toEqual([
      [true, false, false],
      [true, true, false],
      [true, true, true],
    ]);
  });

  test('looks at what a technique does and not at what it is for, nor whether somebody has tagged it', () => {
    const young = somebody('ada', {
      born: '2010-06-01',
      experienceMonths: 60,
      consents: ['neck crank', 'spinal'],
    });
    const ways = {
      regions: ['neck' as const],
      loadSpeed: 'slow' as const,
      attire: 'either' as const,
      id: 'x',
    };
    const crank = {
      ...ways,
      kind: 'control' as const,
      mechanism: 'none' as const,
      ruleTags: ['neck crank' as const],
    };
    expect(permit(young, ben, crank, 'drill', at)).toMatchObject({
      verdict: 'not allowed',
      overridable: false,
    });
    const untagged = { ...ways, kind: 'submission' as const, mechanism: 'spinal' as const, ruleTags: [] };
    const newer = somebody('ada', { experienceMonths: 6 });
    expect(permit(newer, ben, untagged, 'drill', at).verdict).toBe('not allowed');
    expect(permit(ada, ben, untagged, 'spar', at).reasons[0]!.words).toMatch(/^Rule: spinal locks/);
    // A defence answers such a thing, and loads nobody else with it.
    const answer = {
      ...ways,
      kind: 'defence' as const,
      mechanism: 'none' as const,
      ruleTags: ['neck crank' as const],
    };
    expect(permit(somebody('ada'), ben, answer, 'drill', at).verdict).toBe('allowed');
  });

  test('is refused where a defence loads the defender’s own open injury', () => {
    const hurt = somebody('ada', {
      injuries: [{ region: 'neck', side: null, until: '2026-04-01', note: '' }],
    });
    const escape = { ...strangle, kind: 'defence' as const, mechanism: 'none' as const };
    expect(permit(hurt, ben, escape, 'drill', at)).toMatchObject({
      verdict: 'not allowed',
      reasons: [{ words: expect.stringMatching(/^It loads Ada’s own neck/) }],
    });
    expect(permit(hurt, ben, escape, 'learn', at).verdict).toBe('with care');
    expect(permit(ben, hurt, escape, 'drill', at).verdict).not.toBe('not allowed');
  });

  test('for a restricted technique needs the consent of both', () => {
    const [one, other] = [somebody('ada', agreed), somebody('ben')];
    const refused = permit(one, other, heelHook, 'drill', at);
    expect(refused.reasons[0]).toMatchObject({
      person: 'ben',
      words: 'Ben has not consented to: twisting leg lock.',
    });
    expect(permit(one, somebody('ben', agreed), heelHook, 'drill', at).verdict).toBe('allowed');
  });

  test('keeps minors off the restricted list, and no reason sets that aside', () => {
    const minor = somebody('cleo', { born: '2012-06-01', ...agreed });
    const refused = permit(somebody('ada', agreed), minor, heelHook, 'drill', {
      ...at,
      overrides: [
        {
          id: factId(2),
          session: factId(3),
          at: `${today}T18:00:00Z`,
          observer: 'coach',
          student: 'ada',
          partner: 'cleo',
          technique: 'heel',
          reason: 'they asked so nicely',
        },
      ],
    });
    expect(refused).toMatchObject({ verdict: 'not allowed', overridable: false });
    expect(permit(ada, minor, strangle, 'drill', at).verdict).toBe('with care');
  });

  test('lets adults drill with a written reason, and never spar', () => {
    const [one, other] = [somebody('ada', { ...agreed, experienceMonths: 6 }), somebody('ben', agreed)];
    const overrides = [
      Override.parse({
        id: factId(2),
        session: factId(3),
        at: `${today}T18:00:00Z`,
        observer: 'coach',
        student: 'ada',
        partner: 'ben',
        technique: 'heel',
        reason: 'long experience in another sport',
      }),
    ];
    expect(permit(one, other, heelHook, 'drill', at)).toMatchObject({
      verdict: 'not allowed',
      overridable: true,
    });
    const let1 = permit(one, other, heelHook, 'drill', { ...at, overrides });
    expect(let1.verdict).toBe('with care');
    expect(let1.reasons[0]!.words).toContain('long experience in another sport');
    expect(permit(one, other, heelHook, 'spar', { ...at, overrides })).toMatchObject({
      verdict: 'not allowed',
      overridable: false,
    });
    expect(permit(other, one, heelHook, 'drill', { ...at, overrides }).verdict).toBe('not allowed');
    expect(Override.safeParse({ ...overrides[0], reason: ' because ' }).success).toBe(false);
  });

  test('spares an injured partner, and minds an injured attacker', () => {
    const hurt = somebody('ben', { injuries: [{ region: 'neck', side: null, until: today, note: '' }] });
    expect(permit(ada, hurt, strangle, 'drill', at).verdict).toBe('not allowed');
    expect(permit(ada, hurt, strangle, 'learn', at).verdict).toBe('with care');
    expect(permit(hurt, ada, strangle, 'drill', at).verdict).toBe('with care');
    expect(permit(ada, hurt, strangle, 'drill', { ...at, today: '2026-03-06' }).verdict).toBe('allowed');
  });

  test('follows a stop for safety for the rest of its day', () => {
    expect(permit(ada, ben, strangle, 'drill', { ...at, notes: [note()] }).verdict).toBe('not allowed');
    expect(
      permit(ada, ben, heelHook, 'learn', { ...at, notes: [note()] })
        .reasons.map(({ words }) => words)
        .join(),
    ).not.toContain('kept off');
    const tomorrow = { ...at, today: '2026-03-06', notes: [note()] };
    expect(permit(ada, ben, strangle, 'drill', tomorrow).verdict).toBe('allowed');
  });

  test('asks for care where one is much heavier, or where a fast lock meets a beginner', () => {
    expect(permit(ada, somebody('ben', { massKg: 90 }), strangle, 'drill', at).verdict).toBe('with care');
    const fast = { ...strangle, regions: ['elbow' as const], loadSpeed: 'fast' as const };
    expect(permit(somebody('ada', { experienceMonths: 3 }), ben, fast, 'drill', at).verdict).toBe(
      'with care',
    );
    expect(permit(somebody('ada', { experienceMonths: 3 }), ben, fast, 'spar', at).verdict).toBe(
      'not allowed',
    );
  });

  test('never grows with less experience, at any rung and for any technique', () => {
    const grave = ['allowed', 'with care', 'not allowed'];
    fc.assert(
      fc.property(
        fc.nat(60),
        fc.nat(60),
        fc.constantFrom('learn' as const, 'drill' as const, 'spar' as const),
        fc.constantFrom(strangle, heelHook),
        (a, b, activity, technique) => {
          const [less, more] = [Math.min(a, b), Math.max(a, b)].map((experienceMonths) =>
            permit(
              somebody('ada', { experienceMonths, ...agreed }),
              somebody('ben', agreed),
              technique,
              activity,
              at,
            ),
          );
          expect(grave.indexOf(more!.verdict)).toBeLessThanOrEqual(grave.indexOf(less!.verdict));
        },
      ),
    );
  });

  test('of a pair is the gravest of its turns', () => {
    const hurt = somebody('ben', { injuries: [{ region: 'neck', side: 'left', until: today, note: '' }] });
    expect(permitOfPair([ada, hurt], strangle, 'drill', at).verdict).toBe('not allowed');
    expect(permitOfPair([hurt], strangle, 'drill', at).verdict).toBe('with care');
  });

  test('takes rung 0 for learning, 1 and 2 for drilling, 3 and 4 for sparring', () => {
    expect(([0, 1, 2, 3, 4] as const).map(activityAt)).toEqual(['learn', 'drill', 'drill', 'spar', 'spar']);
  });
});

describe('care notes', () => {
  test('are replaced by later ones, and lifted by one without regions', () => {
    const lifted = note({ id: factId(2), replaces: factId(1), regions: [] });
    expect(standingNotes([lifted, note()])).toEqual([lifted]);
    expect(notesOn([note()], 'ben', today)).toHaveLength(1);
    expect(permit(ada, ben, strangle, 'drill', { ...at, notes: [note(), lifted] }).verdict).toBe('allowed');
  });

  test('of unconsciousness are not lifted by another: nobody trains on that day', () => {
    const out = note({ why: 'unconscious' });
    const lifted = note({ id: factId(2), replaces: factId(1), regions: [], why: 'other' });
    const refused = permit(ada, ben, strangle, 'learn', { ...at, notes: [out, lifted] });
    expect(refused).toMatchObject({ verdict: 'not allowed', overridable: false });
  });
});

describe('a knock on the head', () => {
  const [day, next] = ['2026-03-05', '2026-03-06'];
  const knocked = note({ why: 'knock on the head', regions: [], at: `${day}T19:00:00Z`, until: day });
  const clears = (fields: Partial<CareNote> = {}) =>
    note({
      id: factId(2),
      replaces: knocked.id,
      regions: [],
      why: 'cleared',
      words: 'the club’s doctor, in writing',
      at: `${next}T10:00:00Z`,
      until: next,
      ...fields,
    });
  const may = (notes: CareNote[], on = next) =>
    permit(ada, ben, strangle, 'learn', { ...at, today: on, notes }).verdict;

  test('keeps off the mat until a coach records a clinician’s clearance, however long that takes', () => {
    expect(may([knocked], day)).toBe('not allowed');
    expect(may([knocked], '2026-09-01')).toBe('not allowed');
    expect(may([knocked, clears()])).not.toBe('not allowed');
    const { reasons, overridable } = permit(ada, ben, strangle, 'learn', {
      ...at,
      today: '2026-09-01',
      notes: [knocked],
    });
    expect(reasons[0]!.words).toMatch(/until a coach records a clinician’s clearance/);
    expect(overridable).toBe(false);
  });

  test('is not cleared on its own day, for somebody else, or by anything that says less', () => {
    expect(may([knocked, clears({ at: `${day}T21:00:00Z` })])).toBe('not allowed');
    expect(may([knocked, clears({ person: 'ada' })])).toBe('not allowed');
    expect(may([knocked, clears({ why: 'other' })])).toBe('not allowed');
    expect(may([knocked, clears({ why: 'dizzy' })])).toBe('not allowed');
    // What was worse than it was taken for at first is said in its place.
    const worse = clears({ why: 'unconscious', at: `${day}T19:30:00Z`, until: day });
    expect(standingNotes([knocked, worse])).toEqual([worse]);
  });
});

describe('what is loaded, and on whom', () => {
  const wristed = {
    ...strangle,
    loads: [
      { region: 'neck' as const, whom: 'partner' as const, from: null },
      { region: 'wrist' as const, whom: 'partner' as const, from: 'c2' },
      { region: 'knee' as const, whom: 'student' as const, from: null },
    ],
  };
  const hurt = (region: 'wrist' | 'knee') =>
    somebody('cleo', { injuries: [{ region, side: null, until: '2026-03-09', note: '' }] });
  const verdict = (one: ReturnType<typeof somebody>, other: ReturnType<typeof somebody>) =>
    permit(one, other, wristed, 'drill', at).verdict;

  test('keeps an open injury out of it, on either side of the pair', () => {
    expect(verdict(ada, hurt('wrist'))).toBe('not allowed');
    expect(verdict(hurt('wrist'), ben)).toBe('with care');
    expect(verdict(hurt('knee'), ben)).toBe('not allowed');
    expect(verdict(ada, hurt('knee'))).toBe('with care');
  });

  test('brings a restriction of the house with it, as the tags of a way do', () => {
    const newer = somebody('ada', { experienceMonths: 5 });
    const rule = /^Rule: wrist locks/;
    expect(permit(newer, ben, wristed, 'drill', at).reasons[0]!.words).toMatch(rule);
    expect(permit(newer, ben, strangle, 'drill', at).verdict).toBe('allowed');
    const way = withWays(strangle, [{ ruleTags: ['slicer'] }]);
    expect(permit(newer, ben, way, 'drill', at).reasons[0]!.words).toMatch(/^Rule: muscle slicers/);
    expect(withWays(strangle, [{}])).toBe(strangle);
  });
});

describe('the exposure ledger', () => {
  const breakdown = plainBreakdown(5);
  const lock = { ...strangle, regions: ['neck' as const, 'shoulder' as const], loadSpeed: 'fast' as const };

  test('counts a rep in which the finish checkpoint was reached, and no other', () => {
    const exposes = (rep: ReturnType<typeof aRep>) => expose(unexposed, breakdown, lock, rep) !== unexposed;
    expect(exposes(aRep())).toBe(true);
    expect(exposes(aRep({ stop: 'c5' }))).toBe(true);
    expect(exposes(aRep({ stop: 'c4' }))).toBe(false);
    expect(exposes(aRep({ to: 'c4' }))).toBe(false);
    expect(exposes(aRep({ partner: null }))).toBe(false);
  });

  test('books to the partner, by region, and fast ones at rung 3 and 4 apart', () => {
    const reps = [aRep(), aRep({ rung: 3 }), aRep({ stop: 'c1' }), aRep({ partner: 'cleo' })];
    const on = (person: string, what: Partial<Technique> = {}) =>
      exposureOf(inHand(breakdown, { ...lock, ...what }), reps, person, 'partner');
    expect([...on('ben').byRegion]).toEqual([
      ['neck', { finish: 2, firm: 0, light: 0 }],
      ['shoulder', { finish: 2, firm: 0, light: 0 }],
    ]);
    // Alone, nobody is loaded.
    expect(expose(unexposed, breakdown, lock, aRep({ rung: 0 }))).toBe(unexposed);
    expect(on('ben')).toMatchObject({ fast: 2, fastSpar: 1 });
    expect(on('cleo').fast).toBe(1);
    expect(on('ben', { kind: 'defence' })).toBe(unexposed);
  });

  test('is held against the caps: neck 12, a joint 10, a fast lock 4, half of it at rung 3 or 4', () => {
    expect(capsOn(unexposed, lock, 3, neutralRules.caps)).toEqual([
      { counts: 'fast-acting finishes at rung 3 and 4', whom: 'partner', spent: 0, cap: 2 },
      { counts: 'fast-acting finishes', whom: 'partner', spent: 0, cap: 4 },
      { counts: 'finishes on the shoulder', whom: 'partner', spent: 0, cap: 10 },
      { counts: 'finishes on the neck', whom: 'partner', spent: 0, cap: 12 },
    ]);
    expect(capsOn(unexposed, lock, 2, neutralRules.caps)).toHaveLength(3);
    expect(capsOn(unexposed, { ...lock, kind: 'control' }, 2, neutralRules.caps)).toEqual([]);
  });

  test('is spared by a span that ends before the finish', () => {
    expect(lastBeforeLoad(breakdown, lock)).toBe('c4');
    expect(['c4', 'c5', null].map((to) => spanSpares(breakdown, lock, to))).toEqual([true, false, false]);
    // Where no checkpoint is called a finish, the last one loads the partner anyway.
    const unfinished = structuredClone(breakdown);
    unfinished.checkpoints.forEach((point) => point.kind === 'finish' && (point.kind = 'pressure'));
    expect(['c4', 'c5'].map((to) => spanSpares(unfinished, lock, to))).toEqual([true, false]);
    const fast = (rep: ReturnType<typeof aRep>) => expose(unexposed, unfinished, lock, rep).fast;
    expect([fast(aRep({ stop: 'c4' })), fast(aRep())]).toEqual([0, 1]);
  });

  test('counts what is loaded before the finish from where it is, and what a defence loads on its own student', () => {
    const wristed = {
      ...lock,
      loads: [
        { region: 'wrist' as const, whom: 'partner' as const, from: 'c2' },
        { region: 'shoulder' as const, whom: 'partner' as const, from: null },
      ],
    };
    const onBen = (stop: string) => [
      ...exposureOf(inHand(breakdown, wristed), [aRep({ stop })], 'ben', 'partner').byRegion,
    ];
    expect(['c1', 'c2', 'c5'].map(onBen)).toEqual([
      [],
      [['wrist', { finish: 0, firm: 0, light: 1 }]],
      [
        ['wrist', { finish: 0, firm: 0, light: 1 }],
        ['shoulder', { finish: 1, firm: 0, light: 0 }],
      ],
    ]);
    // A wrist that is held on the way is no finish, unless somebody says so; and it spends what the house counts.
    expect(lastBeforeLoad(breakdown, wristed)).toBe('c4');
    const locked = {
      ...wristed,
      loads: [{ ...wristed.loads[0]!, how: 'finish' as const }, wristed.loads[1]!],
    };
    expect(lastBeforeLoad(breakdown, locked)).toBe('c1');
    const counted = (counts: ('finish' | 'light')[]) =>
      capsOn(unexposed, withHow(wristed, breakdown), 2, { ...neutralRules.caps, counts }).map(
        (one) => one.counts,
      );
    expect(counted(['finish'])).not.toContain('finishes on the wrist');
    expect(counted(['finish', 'light'])).toContain('finishes on the wrist');
    const escape = { ...strangle, kind: 'defence' as const };
    expect(
      exposureOf(inHand(breakdown, escape), [aRep({ stop: 'c1' })], 'ada', 'student').byRegion.get('neck'),
    ).toEqual({ finish: 1, firm: 0, light: 0 });
    expect(capsOn(unexposed, escape, 2, neutralRules.caps, 'student')).toEqual([
      { counts: 'finishes on the neck', whom: 'student', spent: 0, cap: 12 },
    ]);
    const control = { ...lock, kind: 'control' as const };
    expect(spanSpares(breakdown, control, null)).toBe(true);
  });
});

test('the neutral rule set is data that reads back as itself, and tells to look into the event’s own', () => {
  expect(RuleSet.parse(JSON.parse(JSON.stringify(neutralRules)))).toEqual(neutralRules);
  expect(neutralRules.note).toContain('Your event’s current rule book');
});
