import { type Breakdown, type Id, type Side, checkpointWords } from '../breakdown';
import type { Drill } from '../drills';
import { percent, sure } from '../words';
import type { Candidate, Correction, RuleFired } from './prescription';
import { fellAbove, mayHaveFallenAbove, type Worked } from './worked';

const rulesInWords: Readonly<Record<RuleFired, string>> = {
  'fundamentals first': 'Dependencies come first.',
  'one rung above the highest tried at most': 'At most one rung above the highest tried.',
  'the house allows no higher rung': 'The rules allow this student no higher rung.',
  'never free sparring': 'Free sparring cannot be counted, so it is never prescribed.',
  'the worse side first': 'The worse side comes first.',
  'one side is signed off': 'The other side is signed off at this rung: it rests.',
  'starts here because few get this far': 'Fewer than half of the reps get this far, so they start here.',
  'stops here because the drill does': 'The drill ends where the checkpoint holds.',
  'stops before it loads': 'That many finishes would exceed the class cap, so reps stop before the finish.',
  'fewer because it loads': 'It can only be drilled under load: no more reps than the class cap allows.',
};

/** A tenth of a percent is told: what a dose brings is often less than one. */
const points = (share: number): string => `about ${(share * 100).toFixed(1)} points`;

const lost: Readonly<Record<NonNullable<Candidate['lostBy']>, string>> = {
  'brings less': 'it brings less',
  'depends on it': 'it depends on this one, which breaks too often',
  declined: 'a coach declined it',
  'signed off': 'it is signed off',
  'not clear yet': 'it would bring more, but that is not clear yet',
  'nothing to gain':
    'it breaks no more often than for the squad’s best quarter, or this student never lost a rep there',
};

/** Why this one: a line for the chosen one, a line for each rejected candidate, and the other rules that decided. */
export function whyWords(
  breakdown: Breakdown,
  { reason }: Pick<Correction, 'reason'>,
  lead: Side,
  drills: readonly Drill[],
): { chosen: string; others: string[]; rules: string[] } {
  const point = (id: Id) => checkpointWords(breakdown, id, lead);
  const drill = (id: Id | null) => drills.find((one) => one.id === id)?.title ?? 'just this checkpoint';
  const numbers = ({ rise, rung, hold }: Candidate) =>
    `${points(rise)} more of the finish rate at rung ${rung}, where about ${percent(hold)} hold`;
  const [chosen, ...others] = reason.candidates;
  return {
    chosen: `${point(chosen!.checkpoint)}, with “${drill(chosen!.drill)}”: one evening’s reps should bring ${numbers(chosen!)}. Chance that it breaks too often: ${sure(chosen!.above)}.`,
    others: others.map(
      (one) => `${point(one.checkpoint)}: ${numbers(one)}. Not this one: ${lost[one.lostBy!]}.`,
    ),
    rules: reason.rules.map((rule) => rulesInWords[rule]),
  };
}

/** Whether a correction worked, in one or two sentences with their numbers; honest about what would have been seen anyway. */
export function workedWords({ before, after, chance, untouched }: Worked): string {
  const of = ({ failed, seen }: Worked['before']) => `${failed} of ${seen}`;
  if (chance === null)
    return `Not enough reps yet: ${before.seen} before, ${after.seen} since; five of each at least.`;
  const counts = `Lost ${of(before)} before, ${of(after)} since`;
  const raw = before.failed / before.seen;
  const anyway =
    untouched !== null && untouched < raw - 0.02
      ? ` It was picked at its worst: without a correction about ${percent(untouched)} would be lost, not ${percent(raw)}.`
      : '';
  if (chance < fellAbove && chance >= mayHaveFallenAbove)
    return `It may have dropped, but that is not clear yet: ${counts.toLowerCase()} (chance that it fell ${sure(chance)}).${anyway}`;
  if (chance < fellAbove)
    return `No sign of a drop: ${counts.toLowerCase()} (chance that it fell ${sure(chance)}).${anyway}`;
  const beyond = untouched === null || after.hazard.high < untouched;
  return `${beyond ? 'It fell' : 'It dropped, but may have anyway'}: ${counts.toLowerCase()} (chance ${sure(chance)}).${anyway}`;
}
