import { dequal } from 'dequal';
import type { z } from 'zod';
import { RuleTag } from '../breakdown';
import { gradeWords } from './ladder';
import { aboveBeginnerMonths, beginnerMonths, neutralRules, type Restriction, type RuleSet } from './rules';

const { restrictions, caps } = neutralRules;
type Restricted = z.infer<typeof Restriction>;

/** The others that ship, to begin from: a room with many minors and beginners, and one of experienced adults. */
export const ruleTemplates: readonly RuleSet[] = [
  neutralRules,
  {
    ...neutralRules,
    id: 'careful',
    name: 'Careful rules',
    note: 'A template for squads with many minors and beginners. Your event’s current rule book and your club’s and country’s safeguarding rules come first.',
    restrictions: restrictions.map((one): Restricted => ({
      ...one,
      months: {
        learn: Math.max(one.months.learn, one.consent ? beginnerMonths : 0),
        drill: one.months.drill === 0 ? 3 : one.months.drill * 2,
        spar: one.months.spar === null ? null : Math.max(beginnerMonths, one.months.spar * 2),
      },
      minors: one.minors === 'allowed' ? 'with care' : one.minors,
    })),
    fast: { sparMonths: beginnerMonths, careUnderMonths: aboveBeginnerMonths },
    caps: { ...caps, neck: 6, joint: 6, fast: 2 },
  },
  {
    ...neutralRules,
    id: 'experienced',
    name: 'Rules of an experienced squad',
    note: 'A template for a squad of experienced adults. Your event’s current rule book and your club’s and country’s safeguarding rules come first.',
    restrictions: restrictions.map((one): Restricted => ({
      ...one,
      months: {
        learn: 0,
        drill: Math.floor(one.months.drill / 2),
        spar: one.months.spar === null ? null : Math.floor(one.months.spar / 2),
      },
    })),
    caps: { ...caps, neck: 16, joint: 14, fast: 6 },
  },
];

const gradeOrNone = (rules: RuleSet, grade: number | null): string =>
  grade === null ? 'none' : gradeWords(rules, grade);

const monthsWords = (months: number | null): string => (months === null ? 'never' : String(months));

/** What differs between two rule sets, a few words each, in the order of the page. */
export function rulesChanged(before: RuleSet, after: RuleSet): string[] {
  const told: string[] = [];
  const tell = (what: string, was: unknown, is: unknown) => {
    if (!dequal(was, is)) told.push(`${what}: ${String(was)} to ${String(is)}`);
  };
  const named = new Map(before.restrictions.map((one) => [one.name, one]));
  for (const one of after.restrictions) {
    const was = named.get(one.name);
    named.delete(one.name);
    if (!was) {
      told.push(`${one.name}: added`);
      continue;
    }
    for (const activity of ['learn', 'drill', 'spar'] as const)
      tell(
        `${one.name}, months to ${activity}`,
        monthsWords(was.months[activity]),
        monthsWords(one.months[activity]),
      );
    for (const activity of ['drill', 'spar'] as const)
      tell(
        `${one.name}, grade to ${activity}`,
        gradeOrNone(before, was.grades[activity]),
        gradeOrNone(after, one.grades[activity]),
      );
    tell(`${one.name}, minors`, was.minors, one.minors);
    tell(`${one.name}, minimum age`, was.fromAge ?? 'none', one.fromAge ?? 'none');
    tell(`${one.name}, attire`, was.attire, one.attire);
    tell(`${one.name}, both agree`, was.consent ? 'yes' : 'no', one.consent ? 'yes' : 'no');
    tell(`${one.name}, rule tags`, was.tags.join(', ') || 'none', one.tags.join(', ') || 'none');
    tell(`${one.name}, regions`, was.regions.join(', ') || 'none', one.regions.join(', ') || 'none');
  }
  for (const gone of named.keys()) told.push(`${gone}: deleted`);
  tell('fast locks, months to spar', before.fast.sparMonths, after.fast.sparMonths);
  tell('fast locks, months with care', before.fast.careUnderMonths, after.fast.careUnderMonths);
  tell('weight ratio', before.massRatio, after.massRatio);
  tell('what counts as a finish', before.caps.counts.join(', '), after.caps.counts.join(', '));
  tell('finishes on a neck in a class', before.caps.neck, after.caps.neck);
  tell('finishes on a joint in a class', before.caps.joint, after.caps.joint);
  tell('fast finishes in a class', before.caps.fast, after.caps.fast);
  tell('share of them at rung 3 and 4', before.caps.fastSparShare, after.caps.fastSparShare);
  tell('the grades', before.ladder.join(', ') || 'none', after.ladder.join(', ') || 'none');
  const events = new Map(before.events.map((one) => [one.name, one]));
  for (const one of after.events) {
    const was = events.get(one.name);
    events.delete(one.name);
    if (!was) told.push(`${one.name}: added`);
    else
      for (const tag of RuleTag.options)
        tell(`${one.name}, ${tag}`, was.tags[tag] ?? 'not said', one.tags[tag] ?? 'not said');
  }
  for (const gone of events.keys()) told.push(`${gone}: deleted`);
  tell('months the access log is kept', before.keep.accessMonths, after.keep.accessMonths);
  tell(
    'months after which leavers are erased',
    before.keep.leftMonths ?? 'never',
    after.keep.leftMonths ?? 'never',
  );
  tell('the tap rule', before.tap, after.tap);
  tell('safeguarding', before.safeguarding || 'nobody', after.safeguarding || 'nobody');
  tell('the name', before.name, after.name);
  tell('the note', before.note, after.note);
  return told;
}
