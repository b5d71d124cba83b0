import type { Id, RuleTag, Technique } from '../breakdown';
import { isMinor, openInjuries, type Student } from '../people';
import type { Rung } from '../rep';
import { many } from '../words';
import { type CareNote, notesOn, type Override } from './notes';
import type { Activity, Restriction, RuleSet } from './rules';

export type Verdict = 'allowed' | 'with care' | 'not allowed';

export interface Reason {
  verdict: Exclude<Verdict, 'allowed'>;
  /** Whom it is about. */
  person: Id;
  /** One sentence. */
  words: string;
}

export interface Permit {
  verdict: Verdict;
  /** The graver ones first. */
  reasons: readonly Reason[];
  /** May a coach set it aside with a written reason? Never for a minor, nor for somebody who was unconscious today. */
  overridable: boolean;
}

/** What is known of the people and the house when a permit is asked for. */
export interface Circumstances {
  rules: RuleSet;
  /** ISO date. */
  today: string;
  notes?: readonly CareNote[];
  overrides?: readonly Override[];
}

/** The activity that a rung is. */
export const activityAt = (rung: Rung): Activity => (rung === 0 ? 'learn' : rung <= 2 ? 'drill' : 'spar');

type Person = Pick<Student, 'id' | 'name' | 'born' | 'experienceMonths' | 'massKg' | 'injuries' | 'consents'>;
type Loaded = Pick<Technique, 'id' | 'regions' | 'ruleTags' | 'loadSpeed' | 'kind'>;

const verbs: Readonly<Record<Activity, string>> = {
  learn: 'learnt',
  drill: 'drilled',
  spar: 'sparred with',
  compete: 'competed with',
};

const applies = ({ tags, regions }: Restriction, technique: Loaded): boolean =>
  technique.ruleTags.some((tag) => tags.includes(tag)) ||
  technique.regions.some((region) => regions.includes(region));

const doing = (activity: Activity): 'learn' | 'drill' | 'spar' =>
  activity === 'compete' ? 'spar' : activity;

/**
 * May this student do this technique on this partner? `partner` is null where nobody partners. A defence and a control
 * load nobody, so only injuries and notes are looked at. The rules are a house's own; they replace neither an event's
 * rule book nor a licensed person's judgement.
 */
export function permit(
  student: Person,
  partner: Person | null,
  technique: Loaded,
  activity: Activity,
  { rules, today, notes = [], overrides = [] }: Circumstances,
): Permit {
  const reasons: Reason[] = [];
  let overridable = true;
  const say = (verdict: Reason['verdict'], person: Person, words: string) =>
    reasons.push({ verdict, person: person.id, words });
  const both = partner ? [student, partner] : [student];
  const loads = technique.kind === 'submission';

  if (loads) {
    for (const restriction of rules.restrictions.filter((one) => applies(one, technique)))
      for (const person of both) restrict(restriction, person, person === student);
    if (technique.loadSpeed === 'fast') {
      if (doing(activity) === 'spar')
        for (const person of both)
          if (person.experienceMonths < rules.fast.sparMonths)
            say(
              'not allowed',
              person,
              `It comes on fast: ${person.name} spars with it after ${many(rules.fast.sparMonths, 'month')} on the mat.`,
            );
      if (student.experienceMonths < rules.fast.careUnderMonths)
        say('with care', student, `It comes on fast and ${student.name} is new to it: put it on slowly.`);
    }
  }
  for (const person of both) {
    const attacks = person === student;
    for (const { region, side } of openInjuries(person, today)) {
      const where = `${side ? `${side} ` : ''}${region}`;
      if (!technique.regions.includes(region)) {
        if (attacks || activity !== 'learn')
          say('with care', person, `${person.name} has an open injury: ${where}.`);
      } else if (attacks) say('with care', person, `${person.name} attacks with an open injury: ${where}.`);
      else if (loads && activity !== 'learn')
        say(
          'not allowed',
          person,
          `It loads the ${region}, and ${person.name} has an open injury there: ${where}.`,
        );
      else say('with care', person, `${person.name} has an open injury: ${where}.`);
    }
    for (const note of notesOn(notes, person.id, today)) {
      if (note.why === 'unconscious') {
        overridable = false;
        say('not allowed', person, `${person.name} was unconscious and does not train on that day.`);
      } else if (note.regions.some((region) => technique.regions.includes(region)))
        say(
          attacks && loads ? 'with care' : 'not allowed',
          person,
          `${person.name} is kept off the ${note.regions.join(' and the ')} until the end of ${note.until}: ${note.why}.`,
        );
    }
  }
  if (partner?.massKg && student.massKg) {
    const ratio = Math.max(partner.massKg / student.massKg, student.massKg / partner.massKg);
    if (ratio >= rules.massRatio)
      say('with care', partner, `One is ${ratio.toFixed(1)} times as heavy as the other: take extra care.`);
  }
  if (
    both.some((person) => isMinor(person, today)) &&
    reasons.some(({ verdict }) => verdict === 'not allowed')
  )
    overridable = false;

  const refused = reasons.some(({ verdict }) => verdict === 'not allowed');
  const setAside =
    refused &&
    overridable &&
    activity !== 'compete' &&
    activity !== 'spar' &&
    overrides.find(
      (one) =>
        one.student === student.id && one.partner === (partner?.id ?? null) && one.technique === technique.id,
    );
  const sorted = [...reasons].sort(
    (a, b) => Number(b.verdict === 'not allowed') - Number(a.verdict === 'not allowed'),
  );
  if (setAside)
    return {
      verdict: 'with care',
      reasons: [
        { verdict: 'with care', person: student.id, words: `Let through by a coach: ${setAside.reason}` },
        ...sorted,
      ],
      overridable,
    };
  return {
    verdict: refused ? 'not allowed' : reasons.length > 0 ? 'with care' : 'allowed',
    reasons: sorted,
    overridable: refused && overridable && (activity === 'learn' || activity === 'drill'),
  };

  function restrict({ name, months, minors, consent, tags }: Restriction, person: Person, attacks: boolean) {
    if (isMinor(person, today) && minors !== 'allowed')
      say(
        minors,
        person,
        minors === 'not allowed'
          ? `${person.name} is a minor: no ${name}.`
          : `${person.name} is a minor: ${name} only lightly, and watched.`,
      );
    const needed = activity === 'compete' ? months.spar : months[doing(activity)];
    if (needed === null) say('not allowed', person, `House rule: ${name} are not ${verbs[activity]}.`);
    else if (person.experienceMonths < needed)
      say(
        attacks || activity !== 'learn' ? 'not allowed' : 'with care',
        person,
        `House rule: ${name} are ${verbs[activity]} after ${many(needed, 'month')} on the mat; ${person.name} has ${person.experienceMonths}.`,
      );
    const asked: RuleTag[] = consent ? technique.ruleTags.filter((tag) => tags.includes(tag)) : [];
    const missing = asked.filter((tag) => !person.consents.includes(tag));
    if (missing.length > 0)
      say('not allowed', person, `${person.name} has not agreed to: ${missing.join(', ')}.`);
  }
}

const graver: readonly Verdict[] = ['allowed', 'with care', 'not allowed'];

/** What all turns of a pair come to: the gravest verdict, each reason once. Who attacks partners the next in the row. */
export function permitOfPair(
  members: readonly Person[],
  technique: Loaded,
  activity: Activity,
  circumstances: Circumstances,
): Permit {
  const turns =
    members.length < 2
      ? [permit(members[0]!, null, technique, activity, circumstances)]
      : members.map((one, i) =>
          permit(one, members[(i + 1) % members.length]!, technique, activity, circumstances),
        );
  const reasons = new Map(turns.flatMap((turn) => turn.reasons.map((reason) => [reason.words, reason])));
  const verdict = turns.reduce<Verdict>(
    (worst, turn) => (graver.indexOf(turn.verdict) > graver.indexOf(worst) ? turn.verdict : worst),
    'allowed',
  );
  return {
    verdict,
    reasons: [...reasons.values()].sort((a, b) => graver.indexOf(b.verdict) - graver.indexOf(a.verdict)),
    overridable: turns.every((turn) => turn.verdict !== 'not allowed' || turn.overridable),
  };
}
