import { expect, test } from '@jest/globals';
import { newStudent } from '../people';
import { gradeWords, legalAt, neutralRules, permit, RuleSet, rulesChanged, ruleTemplates } from '.';

const lock = {
  id: 'lock',
  kind: 'submission',
  mechanism: 'rotation',
  regions: ['ankle'],
  ruleTags: [],
  loadSpeed: 'slow',
  attire: 'either',
} satisfies Parameters<typeof permit>[2];
const at = (rules: RuleSet) => ({ rules, today: '2026-03-05' });
const ankles = neutralRules.restrictions.findIndex(({ regions }) => regions.includes('ankle'));
const withGrades = (grades: RuleSet['restrictions'][number]['grades']): RuleSet => ({
  ...neutralRules,
  restrictions: neutralRules.restrictions.map((one, i) => (i === ankles ? { ...one, grades } : one)),
});

test('a grade does instead of the months, where the house says so, and only for what it says it for', () => {
  const blue = newStudent({ id: 'ada', name: 'Ada', grade: 2, experienceMonths: 1 });
  const verdict = (rules: RuleSet, who = blue, does: 'drill' | 'spar' = 'drill') =>
    permit(who, null, lock, does, at(rules)).verdict;
  expect(verdict(neutralRules)).toBe('not allowed');
  expect(verdict(withGrades({ drill: 2, spar: null }))).toBe('allowed');
  expect(verdict(withGrades({ drill: 2, spar: null }), blue, 'spar')).toBe('not allowed');
  expect(verdict(withGrades({ drill: 3, spar: 3 }))).toBe('not allowed');
  // Without a grade, the months count.
  expect(verdict(withGrades({ drill: 0, spar: 0 }), { ...blue, grade: null })).toBe('not allowed');
  const { reasons } = permit(
    { ...blue, grade: 1 },
    null,
    lock,
    'drill',
    at(withGrades({ drill: 2, spar: null })),
  );
  expect(reasons[0]!.words).toContain('after 3 months on the mat, or from grade 2 on; Ada has 1.');
  // A grade is no age: what is refused to a minor stays refused.
  expect(verdict(withGrades({ drill: 2, spar: 2 }), { ...blue, born: '2012-01-01' })).toBe('not allowed');
});

test('the templates that ship are rule sets, name no event, and defer to its rule book', () => {
  expect(new Set(ruleTemplates.map(({ id }) => id)).size).toBe(3);
  for (const one of ruleTemplates) {
    expect(RuleSet.parse(JSON.parse(JSON.stringify(one)))).toEqual(one);
    expect(one.note).toMatch(/Your event’s current rule book/);
  }
  const [neutral, careful, experienced] = ruleTemplates;
  for (const [i, { months, minors }] of neutral!.restrictions.entries()) {
    const [strict, free] = [careful!.restrictions[i]!, experienced!.restrictions[i]!];
    expect(strict.months.drill).toBeGreaterThanOrEqual(months.drill);
    expect(free.months.drill).toBeLessThanOrEqual(months.drill);
    expect([strict.minors, free.minors].includes('allowed') && minors !== 'allowed').toBe(false);
  }
});

test('what changed is told in a few words each, and nothing where nothing has', () => {
  expect(rulesChanged(neutralRules, structuredClone(neutralRules))).toEqual([]);
  const after = withGrades({ drill: 2, spar: null });
  after.restrictions = after.restrictions.filter(({ name }) => name !== 'muscle slicers');
  after.restrictions.push({ ...after.restrictions[0]!, name: 'cloth strangles' });
  expect(rulesChanged(neutralRules, after)).toEqual([
    'locks on the knee and ankle, grade to drill: none to grade 2',
    'cloth strangles: added',
    'muscle slicers: deleted',
  ]);
});

test('an age and an attire are asked where the house asks for them, and of nobody whose birthday is not known', () => {
  const only = (part: Partial<RuleSet['restrictions'][number]>): RuleSet => ({
    ...neutralRules,
    restrictions: neutralRules.restrictions.map((one, i) => (i === ankles ? { ...one, ...part } : one)),
  });
  const old = newStudent({ id: 'ada', name: 'Ada', experienceMonths: 60 });
  const says = (rules: RuleSet, born: string | null, attire: 'gi' | 'no-gi' | 'either' = 'either') =>
    permit({ ...old, born }, null, { ...lock, attire }, 'drill', at(rules)).reasons.map(({ words }) => words);
  const from20 = only({ fromAge: 20 });
  expect(says(from20, '2006-03-06')).toEqual([
    'Rule: locks on the knee and ankle from age 20. Ada is younger.',
  ]);
  expect(says(from20, '2006-03-05')).toEqual([]);
  expect(says(from20, null)).toEqual([]);
  const inGi = only({ fromAge: 20, attire: 'gi' });
  expect(says(inGi, '2006-03-06', 'no-gi')).toEqual([]);
  expect(says(inGi, '2006-03-06', 'gi')).toHaveLength(1);
  expect(says(inGi, '2006-03-06', 'either')).toHaveLength(1);
});

test('a grade is called as the house calls it', () => {
  const ladder = ['Beginner', 'First stripe', 'Green'];
  expect(gradeWords({ ladder }, 2)).toBe('Green');
  expect(gradeWords({ ladder }, 3)).toBe('grade 3');
  const { reasons } = permit(
    newStudent({ id: 'ada', name: 'Ada', grade: 1 }),
    null,
    lock,
    'drill',
    at({ ...withGrades({ drill: 2, spar: null }), ladder }),
  );
  expect(reasons[0]!.words).toMatch(/, or from Green on; nobody entered how long Ada has trained\.$/);
});

test.each([
  ['a plain lock, which no tag is about', [], ['elbow'], {}, 'legal', []],
  ['a tag that is not', ['wrist'], ['wrist'], { wrist: 'not' }, 'not', ['wrist']],
  ['a tag that is', ['wrist'], ['wrist'], { wrist: 'legal' }, 'legal', ['wrist']],
  ['a tag that nobody has looked up', ['wrist'], ['wrist'], { slicer: 'not' }, 'not said', ['wrist']],
  ['below the knee', ['slicer'], ['calf'], { slicer: 'below the knee only' }, 'legal', ['slicer']],
  ['at the knee', ['slicer'], ['calf', 'knee'], { slicer: 'below the knee only' }, 'not', ['slicer']],
  ['of which no region is known', ['slicer'], [], { slicer: 'below the knee only' }, 'not', ['slicer']],
  ['one of two', ['wrist', 'cloth'], ['wrist'], { wrist: 'legal', cloth: 'not' }, 'not', ['cloth']],
] as const)('what an event says of %s', (_, ruleTags, regions, tags, says, by) => {
  expect(legalAt({ mechanism: 'none', ruleTags: [...ruleTags], regions: [...regions] }, { tags })).toEqual({
    says,
    by,
  });
});

test('a spinal mechanism is one at an event too, tagged or not', () => {
  const crank = { mechanism: 'spinal' as const, ruleTags: [], regions: ['neck' as const] };
  expect(legalAt(crank, { tags: { spinal: 'not' } })).toEqual({ says: 'not', by: ['spinal'] });
});

test('what is changed of grades, events, ages and keeping is told', () => {
  const before: RuleSet = { ...neutralRules, events: [{ name: 'Spring open', tags: { wrist: 'legal' } }] };
  const after: RuleSet = {
    ...before,
    ladder: ['Beginner', 'Green'],
    events: [
      { name: 'Spring open', tags: { wrist: 'not' } },
      { name: 'Harbour cup', tags: {} },
    ],
    keep: { accessMonths: 12, leftMonths: 36 },
    restrictions: before.restrictions.map((one, i) => (i === ankles ? { ...one, fromAge: 16 } : one)),
  };
  expect(rulesChanged(before, after)).toEqual([
    'locks on the knee and ankle, minimum age: none to 16',
    'the grades: none to Beginner, Green',
    'Spring open, wrist: legal to not',
    'Harbour cup: added',
    'months after which leavers are erased: never to 36',
  ]);
  expect(rulesChanged(after, { ...after, events: [] })).toEqual([
    'Spring open: deleted',
    'Harbour cup: deleted',
  ]);
  // What an earlier release has kept says none of it.
  const { ladder: _, events: __, keep: ___, ...earlier } = neutralRules;
  expect(RuleSet.parse(earlier)).toEqual(neutralRules);
});
