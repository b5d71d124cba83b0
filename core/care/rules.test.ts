import { expect, test } from '@jest/globals';
import { newStudent } from '../people';
import { neutralRules, permit, RuleSet, rulesChanged, ruleTemplates } from '.';

const lock = {
  id: 'lock',
  kind: 'submission',
  mechanism: 'rotation',
  regions: ['ankle'],
  ruleTags: [],
  loadSpeed: 'slow',
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
  // Of whom no grade is known, the months count.
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
    expect(one.note).toMatch(/Check your event’s current rule book/);
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
    'locks on the knee and ankle, grade to drill: none to 2',
    'cloth strangles: added',
    'muscle slicers: taken out',
  ]);
});
