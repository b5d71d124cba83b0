import { answersOf, type Breakdown, doorsOf, type Id, placeOf } from '@ulkret/core/breakdown';
import type { CauseTag } from '@ulkret/core/facts';
import type { Student } from '@ulkret/core/people';
import { observing, onlySeen, type Rep, type Rung, type Observation } from '@ulkret/core/rep';
import type { Session } from '@ulkret/core/session';
import { pairingOf, variantsFor } from '@ulkret/core/variants';
import { maker, type Truth } from './simulate';

/** The breakdowns of the demo, and what is true of them. */
export interface Played {
  breakdown: Breakdown;
  truth: Truth;
}

/** How much less surely the second school holds: what the page of ways has to find. */
const secondSchoolLost = 0.18;
const metShare = 0.25;
/** How often the coach measures, and how far off what is lost is, in finger widths. */
const measuredShare = 0.3;

/** What is said of a technique: the school that some follow, the partner's task, and the checkpoint at which is measured. */
interface SaidOf {
  school: Id;
  task: readonly Id[];
  measured: Id;
}

/** Slack in finger widths, now and then: up to two where it held, up to four where it was lost. */
function measuredAt(seen: Observation, checkpoint: Id, chance: () => number): Pick<Rep, 'measured'> {
  if (seen === 'not seen' || chance() > measuredShare) return {};
  const value = Math.round(2 * (seen === 'failed' ? 0.6 + 3.2 * chance() : 1.7 * chance() ** 1.5)) / 2;
  return { measured: [{ checkpoint, value }] };
}

/**
 * Reps as they were noted by a coach who says more: the ways that bodies decide, the school that a third of the students
 * follow, the defences that the partner was told to play and what was done about them. What a rep came to stays as it is.
 */
export function saidMore(
  reps: readonly Rep[],
  tags: readonly CauseTag[],
  students: readonly Student[],
  { breakdown, school, task, measured }: Pick<Played, 'breakdown'> & SaidOf,
  seed: number,
): Rep[] {
  const { chance } = maker(seed);
  // A stream of its own: what is measured changes nothing else.
  const measuring = maker(seed / 3).chance;
  const people = new Map(students.map((one, i) => [one.id, { one, follows: i % 3 === 0 }]));
  const causeOf = new Map(tags.map(({ rep, cause }) => [rep, cause]));
  const at = breakdown.checkpoints.find(({ variants }) => variants.some(({ id }) => id === school))!.id;
  return reps.map((rep) => {
    if (rep.technique !== breakdown.technique) return rep;
    const seen = observing(breakdown, rep);
    const student = people.get(rep.student);
    const here = seen(placeOf(breakdown, at));
    // Who follows the school loses that checkpoint a little more often.
    const chosen =
      student?.follows === true || (here === 'failed' && chance() < secondSchoolLost) ? [school] : [];
    const partner = rep.partner === null ? null : (people.get(rep.partner)?.one ?? null);
    const pairing = pairingOf({ attire: 'no-gi' }, student?.one ?? null, partner, chosen);
    const ways = variantsFor(breakdown, pairing).map(({ variant }) => variant.id);
    const played = rep.rung === 2 ? task : [];
    const met = played.flatMap((id): NonNullable<Rep['met']> => {
      const defence = breakdown.defences.find((one) => one.id === id)!;
      const [first, second] = answersOf(defence);
      if (!first) return [];
      const answer = second && chance() < 0.4 ? second.id : first.id;
      if (causeOf.get(rep.id) === id) return [{ defence: id, answer, worked: false }];
      // Only a rep that got through all of its window can have answered it.
      const through = seen(placeOf(breakdown, defence.closes)) === 'held';
      return through && chance() < metShare ? [{ defence: id, answer, worked: true }] : [];
    });
    return onlySeen(breakdown, {
      ...rep,
      ...(ways.length > 0 && { ways }),
      ...(played.length > 0 && { task: [...played] }),
      ...(met.length > 0 && { met }),
      ...measuredAt(seen(placeOf(breakdown, measured)), measured, measuring),
    });
  });
}

/**
 * Reps of a class in which an exit was taken: the first is left from the checkpoint of the exit, the second goes on from it in
 * the other technique, and ends as that technique does.
 */
export function wentOn(
  session: Session,
  who: readonly Student[],
  { breakdown }: Played,
  there: Played,
  { rung, lesson, observer }: { rung: Rung; lesson: number; observer: Id },
  seed: number,
): Rep[] {
  const { chance, id } = maker(seed);
  const door = doorsOf(breakdown).find(({ technique }) => technique === there.breakdown.technique)!;
  const from = placeOf(there.breakdown, door.enteredAt!);
  let at = Date.parse(session.startedAt) + 20 * 60_000;
  return session.pairs.flatMap((pair): Rep[] => {
    const [student, partner] = pair.map((one) => who.find((person) => person.id === one));
    if (!student || !partner) return [];
    const told = () => ({
      id: id((at += 9000)),
      session: session.id,
      at: new Date(at).toISOString(),
      student: student.id,
      partner: partner.id,
      side: 'right' as const,
      rung,
      to: null,
      soft: [],
      cause: null,
      observer,
      source: 'mat' as const,
      note: '',
    });
    const { technique, edition } = breakdown;
    const left: Rep = {
      ...told(),
      technique,
      edition,
      from: null,
      outcome: 'left',
      heldTo: door.heldTo,
      by: door.by,
    };
    const attempt = { student, partner, side: 'right' as const, rung, lesson };
    const stop = there.breakdown.checkpoints
      .slice(from)
      .find(({ id: checkpoint }) => chance() < there.truth.hazard(attempt, checkpoint));
    const second: Rep = {
      ...told(),
      technique: there.breakdown.technique,
      edition: there.breakdown.edition,
      from: door.enteredAt,
      follows: { rep: left.id, by: door.by },
      ...(stop ? { outcome: 'stopped' as const, stop: stop.id } : { outcome: 'finished' as const }),
    };
    return [left, second];
  });
}
