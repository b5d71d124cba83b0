import type { Id, LoadHow, Region, RuleTag, Technique } from '../breakdown';
import { isMinor, isYounger, measuredWords, openInjuries, type Student, type Units } from '../people';
import type { Rung } from '../rep';
import { many } from '../words';
import { type CareNote, notesOn, ofTheHead, type Override, untilCleared } from './notes';
import { tagsOf } from './legality';
import { loadedOn, loadsPartner } from './loads';
import { gradeWords } from './ladder';
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
  /** May a coach set it aside with a written reason? Never for a minor, nor for somebody who was dizzy or unconscious today. */
  overridable: boolean;
}

/** The people and rules that a permit depends on. */
export interface Circumstances {
  rules: RuleSet;
  /** ISO date. */
  today: string;
  notes?: readonly CareNote[];
  overrides?: readonly Override[];
  /** Units for masses. */
  units?: Units;
}

/** The activity that a rung is. */
export const activityAt = (rung: Rung): Activity => (rung === 0 ? 'learn' : rung <= 2 ? 'drill' : 'spar');

type Person = Pick<
  Student,
  'id' | 'name' | 'born' | 'experienceMonths' | 'grade' | 'massKg' | 'injuries' | 'consents'
>;
type LoadingTechnique = Pick<
  Technique,
  'id' | 'regions' | 'ruleTags' | 'loadSpeed' | 'kind' | 'mechanism' | 'loads' | 'attire'
>;

/** One person in what is asked, with all that a rule may look at. */
interface PermitQuestion {
  person: Person;
  attacks: boolean;
  /** The two, who attacks first; null where nobody partners. */
  student: Person;
  partner: Person | null;
  technique: LoadingTechnique;
  /** The regions that it loads on the partner, on who does it, and on this person. */
  onPartner: readonly Region[];
  onStudent: readonly Region[];
  onThem: readonly Region[];
  /** Those of either of the two that it takes to the finish, and that it loads firmly on the way. */
  finishes: readonly Region[];
  firmly: readonly Region[];
  /** Does it load anybody but who does it? */
  loads: boolean;
  activity: Activity;
  rules: RuleSet;
  today: string;
  notes: readonly CareNote[];
  units: Units;
}

/** What a rule says of one person: how grave it is, in one sentence. */
type Objection = readonly [verdict: Reason['verdict'], words: string];
type PermitRule = (asked: PermitQuestion) => Iterable<Objection>;

const verbs: Readonly<Record<Activity, string>> = {
  learn: 'learnt',
  drill: 'drilled',
  spar: 'sparred with',
  compete: 'competed with',
};

/** The attire that it is asked for in. */
const inAttire = ({ attire }: Restriction, { technique }: PermitQuestion): boolean =>
  attire === 'either' || technique.attire === 'either' || technique.attire === attire;

/**
 * By its tags also where it is a control: what cranks a neck cranks it, whatever it is for. A defence only answers such a
 * thing, but its own student bears the finish. What is loaded on the way does not make it another lock.
 */
const applies = (one: Restriction, { technique, finishes }: PermitQuestion): boolean =>
  (technique.kind !== 'defence' && tagsOf(technique).some((tag) => one.tags.includes(tag))) ||
  finishes.some((region) => one.regions.includes(region));

/** What a competition asks is what sparring asks. */
const doing = (activity: Activity): 'learn' | 'drill' | 'spar' =>
  activity === 'compete' ? 'spar' : activity;

/** A rule for each restriction of the house that the technique falls under; with care where it is only firmly loaded on the way. */
const restricted = (
  rule: (restriction: Restriction, asked: PermitQuestion) => Iterable<Objection>,
): PermitRule =>
  function* (asked) {
    for (const one of asked.rules.restrictions) {
      if (!inAttire(one, asked)) continue;
      if (applies(one, asked)) yield* rule(one, asked);
      else if (asked.firmly.some((region) => one.regions.includes(region)))
        for (const [, words] of rule(one, asked)) yield ['with care', `${words} It is loaded on the way.`];
    }
  };

function* minors({ name, minors: may }: Restriction, { person, today }: PermitQuestion): Iterable<Objection> {
  if (!isMinor(person, today) || may === 'allowed') return;
  yield may === 'not allowed'
    ? [may, `${person.name} is a minor: no ${name}.`]
    : [may, `${person.name} is a minor: ${name} only lightly, and watched.`];
}

function* age({ name, fromAge }: Restriction, { person, today }: PermitQuestion): Iterable<Objection> {
  if (fromAge !== null && isYounger(person, fromAge, today))
    yield ['not allowed', `Rule: ${name} from age ${fromAge}. ${person.name} is younger.`];
}

/** The length of somebody's training, for a reason: an unknown one is named and counts as too short. */
const experienceWords = ({ name, experienceMonths }: Person): string =>
  experienceMonths === null
    ? `nobody entered how long ${name} has trained`
    : `${name} has ${experienceMonths}`;

function* months(
  { name, months: of, grades }: Restriction,
  { person, attacks, activity, rules }: PermitQuestion,
): Iterable<Objection> {
  const does = doing(activity);
  const needed = of[does];
  const grade = does === 'learn' ? null : grades[does];
  if (grade !== null && person.grade !== null && person.grade >= grade) return;
  if (needed === null) yield ['not allowed', `Rule: ${name} are not ${verbs[activity]}.`];
  else if (needed > 0 && (person.experienceMonths ?? 0) < needed)
    yield [
      attacks || activity !== 'learn' ? 'not allowed' : 'with care',
      `Rule: ${name} are ${verbs[activity]} after ${many(needed, 'month')} on the mat${grade === null ? '' : `, or from ${gradeWords(rules, grade)} on`}; ${experienceWords(person)}.`,
    ];
}

function* consent(
  { consent: needed, tags }: Restriction,
  { person, technique }: PermitQuestion,
): Iterable<Objection> {
  const asked: RuleTag[] = needed ? tagsOf(technique).filter((tag) => tags.includes(tag)) : [];
  const missing = asked.filter((tag) => !person.consents.includes(tag));
  if (missing.length > 0)
    yield ['not allowed', `${person.name} has not consented to: ${missing.join(', ')}.`];
}

const fastInSparring: PermitRule = function* ({ person, technique, loads, activity, rules }) {
  const { sparMonths } = rules.fast;
  if (loads && technique.loadSpeed === 'fast' && doing(activity) === 'spar')
    if ((person.experienceMonths ?? 0) < sparMonths)
      yield [
        'not allowed',
        `Fast lock: no sparring before ${many(sparMonths, 'month')} on the mat (${experienceWords(person)}).`,
      ];
};

const fastAndNew: PermitRule = function* ({ person, attacks, technique, loads, rules }) {
  if (!loads || !attacks || technique.loadSpeed !== 'fast') return;
  if ((person.experienceMonths ?? 0) < rules.fast.careUnderMonths)
    yield [
      'with care',
      person.experienceMonths === null
        ? `Fast lock, and nobody entered how long ${person.name} has trained: put it on slowly.`
        : `Fast lock, and ${person.name} is new to it: put it on slowly.`,
    ];
};

const injuries: PermitRule = function* ({ person, attacks, onPartner, onThem, activity, today }) {
  for (const { region, side } of openInjuries(person, today)) {
    const where = `${side ? `${side} ` : ''}${region}`;
    const isLoaded = onThem.includes(region);
    if (isLoaded && attacks && activity !== 'learn')
      yield ['not allowed', `It loads ${person.name}’s own ${region}, which has an open injury: ${where}.`];
    else if (attacks && onPartner.includes(region))
      yield ['with care', `${person.name} attacks with an open injury: ${where}.`];
    else if (isLoaded && activity !== 'learn')
      yield ['not allowed', `It loads the ${region}, and ${person.name} has an open injury there: ${where}.`];
    else if (isLoaded || attacks || activity !== 'learn')
      yield ['with care', `${person.name} has an open injury: ${where}.`];
  }
};

const head: PermitRule = function* ({ person, notes, today }) {
  for (const { why, until } of notesOn(notes, person.id, today))
    if (ofTheHead.has(why))
      yield [
        'not allowed',
        untilCleared.has(why)
          ? `${person.name} ${why === 'unconscious' ? 'was unconscious' : 'had a knock on the head'}: no training until a coach records a clinician’s clearance.`
          : `${person.name} was ${why}: no training ${until === today.slice(0, 10) ? 'today' : `until the end of ${until}`}.`,
      ];
};

const keptOff: PermitRule = function* ({
  person,
  attacks,
  technique,
  loads,
  onPartner,
  onStudent,
  onThem,
  notes,
  today,
}) {
  const touched = [...technique.regions, ...onPartner, ...onStudent];
  for (const { why, regions, until } of notesOn(notes, person.id, today))
    if (!ofTheHead.has(why) && regions.some((region) => touched.includes(region)))
      yield [
        // Who only puts it on somebody else may go on, with care.
        attacks && loads && !regions.some((region) => onThem.includes(region)) ? 'with care' : 'not allowed',
        `${person.name} rests the ${regions.join(' and the ')} until ${until}: ${why}.`,
      ];
};

const unlikeInMass: PermitRule = function* ({ student, partner, attacks, rules, units }) {
  if (attacks || !partner) return;
  const unknown = [student, partner].filter(({ massKg }) => massKg === null);
  // Without anybody's mass, mass is no criterion.
  if (unknown.length === 1)
    yield ['with care', `Nobody entered ${unknown[0]!.name}’s mass: check that the two fit.`];
  if (!partner.massKg || !student.massKg) return;
  const [light, heavy] = partner.massKg < student.massKg ? [partner, student] : [student, partner];
  const ratio = heavy.massKg! / light.massKg!;
  const told = (one: Person) => `${one.name} (${measuredWords(units, 'mass', one.massKg!, 'en')})`;
  if (ratio >= rules.massRatio)
    yield [
      'with care',
      `${told(heavy)} is ${ratio.toFixed(1)} times as heavy as ${told(light)}: take extra care.`,
    ];
};

const minorWithAdult: PermitRule = function* ({ student, partner, attacks, today }) {
  if (attacks || !partner) return;
  const [minor, adult] = isMinor(student, today) ? [student, partner] : [partner, student];
  if (isMinor(minor, today) && adult.born !== null && !isMinor(adult, today))
    yield ['with care', `${minor.name} is a minor and ${adult.name} an adult: watch them.`];
};

/** All that is looked at, in the order in which it is said. */
const looked: readonly PermitRule[] = [
  restricted(minors),
  restricted(age),
  restricted(months),
  restricted(consent),
  fastInSparring,
  fastAndNew,
  injuries,
  head,
  keptOff,
  unlikeInMass,
  minorWithAdult,
];

const isOffForTheHead = (person: Person, notes: readonly CareNote[], today: string): boolean =>
  notesOn(notes, person.id, today).some(({ why }) => ofTheHead.has(why));

const graver: readonly Verdict[] = ['allowed', 'with care', 'not allowed'];
const byGravity = (a: Reason, b: Reason) => graver.indexOf(b.verdict) - graver.indexOf(a.verdict);

/** The override that a coach has written for these two on this technique. */
const writtenFor = (
  overrides: readonly Override[],
  student: Person,
  partner: Person | null,
  technique: LoadingTechnique,
): Override | undefined =>
  overrides.find(
    (one) =>
      one.student === student.id && one.partner === (partner?.id ?? null) && one.technique === technique.id,
  );

/**
 * May this student do this technique on this partner? `partner` is null where nobody partners. What it loads, and whom,
 * `loadsOf` says; a control falls under a restriction by its tags and its mechanism as well. The rules are a house's own; they replace neither an event's
 * rule book nor a licensed person's judgement.
 */
export function permit(
  student: Person,
  partner: Person | null,
  technique: LoadingTechnique,
  activity: Activity,
  { rules, today, notes = [], overrides = [], units = 'kg and cm' }: Circumstances,
): Permit {
  const both = partner ? [student, partner] : [student];
  const [onPartner, onStudent] = [loadedOn(technique, 'partner'), loadedOn(technique, 'student')];
  const hard = (how: LoadHow) =>
    (['partner', 'student'] as const).flatMap((whom) => loadedOn(technique, whom, [how]));
  const [finishes, firmly] = [hard('finish'), hard('firm')];
  const reasons = looked
    .flatMap((rule) =>
      both.flatMap((person) => {
        const asked: PermitQuestion = {
          person,
          attacks: person === student,
          student,
          partner,
          technique,
          onPartner,
          onStudent,
          onThem: person === student ? onStudent : onPartner,
          finishes,
          firmly,
          loads: loadsPartner(technique),
          activity,
          rules,
          today,
          notes,
          units,
        };
        return [...rule(asked)].map(([verdict, words]): Reason => ({ verdict, person: person.id, words }));
      }),
    )
    .sort(byGravity);
  const refused = reasons.some(({ verdict }) => verdict === 'not allowed');
  const never =
    activity === 'compete' ||
    activity === 'spar' ||
    both.some((person) => isMinor(person, today) || isOffForTheHead(person, notes, today));
  const written = refused && !never ? writtenFor(overrides, student, partner, technique) : undefined;
  if (written) {
    const words = `Overridden by a coach: ${written.reason}`;
    return {
      verdict: 'with care',
      reasons: [{ verdict: 'with care', person: student.id, words }, ...reasons],
      overridable: true,
    };
  }
  return {
    verdict: refused ? 'not allowed' : reasons.length > 0 ? 'with care' : 'allowed',
    reasons,
    overridable: refused && !never,
  };
}

/**
 * What all turns of a pair come to: the gravest verdict, each reason once. Who attacks partners the next in the row. The
 * technique may be another one for each turn, as it is done by these two.
 */
export function permitOfPair<One extends Person>(
  members: readonly One[],
  technique: LoadingTechnique | ((student: One, partner: One | null) => LoadingTechnique),
  activity: Activity,
  circumstances: Circumstances,
): Permit {
  const done = typeof technique === 'function' ? technique : () => technique;
  const turns =
    members.length < 2
      ? [permit(members[0]!, null, done(members[0]!, null), activity, circumstances)]
      : members.map((one, i) => {
          const other = members[(i + 1) % members.length]!;
          return permit(one, other, done(one, other), activity, circumstances);
        });
  const reasons = new Map(turns.flatMap((turn) => turn.reasons.map((reason) => [reason.words, reason])));
  const verdict = turns.reduce<Verdict>(
    (worst, turn) => (graver.indexOf(turn.verdict) > graver.indexOf(worst) ? turn.verdict : worst),
    'allowed',
  );
  return {
    verdict,
    reasons: [...reasons.values()].sort(byGravity),
    overridable: turns.every((turn) => turn.verdict !== 'not allowed' || turn.overridable),
  };
}
