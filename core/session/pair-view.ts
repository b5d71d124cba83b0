import { type Breakdown, type Id, placeOf, type Technique } from '../breakdown';
import {
  activityAt,
  type CapState,
  type CareNote,
  capsOn,
  type Exposure,
  type Override,
  permit,
  type Permit,
  loadedOn,
  type RuleSet,
  spanSpares,
  standingNotes,
  type Whom,
  withWays,
} from '../care';
import { newStudent, type Student, type Units } from '../people';
import { rechecked, saidAtRoot, signOff, type SignOff, signOffShort } from '../prescription';
import type { Rep, Rung } from '../rep';
import { type Pairing, pairingOf, variantsFor, type WayAt } from '../variants';
import { type NextTechnique, carriedOf } from './carried';
import { type Earlier } from './day';
import { type Editions, exposedBy } from '../care';
import { likelyOnce } from './doubles';
import { Growing } from './growing';
import { pairNow, type PairNow, type SessionNow } from './now';
import type { Prescribed, Session } from './session';
import { type Pair, pairKey, repsOfPair, type Turn, type Turning, turnOf } from './turn';

/** What was entered in a class, as far as a pair is seen by it. */
export interface ClassLog {
  /** The standing reps of a student as the attacker, in order of time; the same list until one of them changes. */
  of(student: Id): readonly Rep[];
  /** The standing reps that somebody was the partner in. */
  on(partner: Id): readonly Rep[];
  notes: readonly CareNote[];
  overrides: readonly Override[];
}

/** An attacker's correction, and the state of its sign-off test. */
export interface WorkInProgress {
  place: number;
  /** Reps below it do not count; `counts`: do they at the rung that is drilled now? */
  rung: Rung;
  counts: boolean;
  test: SignOff;
  /** What the reps of this class say of it, in order. */
  said: readonly boolean[];
  /** The reps of this class that showed the checkpoint, where it was signed off and is looked at again. */
  recheck: { seen: number; held: number } | null;
  /** Reps of the dose: done in this class, of all; null where no dose was accepted. */
  dose: { done: number; of: number } | null;
  /** With what cue and drill, and what earlier classes said. */
  how: Prescribed;
}

/** Everything that a tile shows of a pair, and that the stage needs when it is the open one. */
export interface PairView {
  key: string;
  members: Pair;
  reps: readonly Rep[];
  turn: Turn;
  /** Who has no part in this turn: the third of a group. */
  waits: readonly Id[];
  /** What the pair has gone on to; null where it drills the technique of the class. */
  carried: NextTechnique | null;
  /** Rung, sides, span, task, and whose turn a coach has set. */
  own: PairNow;
  span: { from: Id | null; to: Id | null };
  permit: Permit;
  /** The ways that hold for the two of the turn. */
  ways: readonly WayAt[];
  /** The caps that the next rep counts against, the fullest first; none where the span loads nobody. */
  caps: readonly CapState[];
  work: WorkInProgress | null;
  /** A stop for safety that nobody has explained yet: until then the pair waits. */
  stopped: CareNote | null;
}

/** What all pairs of a class have in common. */
export interface Common {
  log: ClassLog;
  now: SessionNow;
  breakdown: Breakdown;
  technique: Technique;
  library: Editions;
  students: ReadonlyMap<Id, Student>;
  session: Pick<Session, 'id' | 'from' | 'to' | 'attire'>;
  rules: RuleSet;
  units: Units;
  /** ISO date, by the server's clock. */
  today: string;
  /** Notes of other classes that still hold. */
  earlierNotes: readonly CareNote[];
  /** The exposure from today's other classes. */
  earlier: Earlier;
  turning: Turning;
}

const person = (students: ReadonlyMap<Id, Student>, id: Id): Student =>
  students.get(id) ?? newStudent({ id, name: id });

/** May the one of a turn do it to the other? */
const permitOfTurn = (
  { students, technique, rules, units, today, earlierNotes, log }: Omit<Common, 'library'>,
  { student, partner }: Pick<Turn, 'student' | 'partner'>,
  rung: Rung,
  ways: readonly WayAt[] = [],
): Permit =>
  permit(
    person(students, student),
    partner === null ? null : person(students, partner),
    withWays(
      technique,
      ways.map(({ variant }) => variant),
    ),
    activityAt(rung),
    { rules, units, today, notes: [...earlierNotes, ...log.notes], overrides: log.overrides },
  );

/** What is counted rep by rep in a class, kept from tap to tap. */
class Counts {
  private exposures: Record<Whom, Growing<Rep, Exposure>> | null = null;

  /** A person's exposure today. */
  exposure({ breakdown, technique, library, log, earlier }: Common, who: Id, whom: Whom): Exposure {
    if (!this.exposures) {
      // What a pair went on to loads as well; reps of the class are read by its edition.
      const editions: Editions = new Map([...library, [breakdown.technique, { technique, breakdown }]]);
      const of = (one: Whom) => new Growing(exposedBy(editions, one));
      this.exposures = { partner: of('partner'), student: of('student') };
    }
    const reps = whom === 'partner' ? log.on(who) : log.of(who);
    return this.exposures[whom].of(who, reps, earlier.exposureOf(who, whom));
  }

  /** What the reps of this class say of what somebody works on. */
  held(breakdown: Breakdown, reps: readonly Rep[], on: Prescribed): readonly boolean[] {
    const none: readonly boolean[] = [];
    const step = (sum: readonly boolean[], rep: Rep): readonly boolean[] => {
      const said = saidBy(breakdown, rep, on);
      return said === null ? sum : [...sum, said];
    };
    return this.growing(on.student, on, step).of(on.student, reps, none);
  }

  private readonly byStudent = new Map<Id, { on: Prescribed; growing: Growing<Rep, readonly boolean[]> }>();
  private growing(
    student: Id,
    on: Prescribed,
    step: (sum: readonly boolean[], rep: Rep) => readonly boolean[],
  ): Growing<Rep, readonly boolean[]> {
    const known = this.byStudent.get(student);
    if (known?.on === on) return known.growing;
    const growing = new Growing(step);
    this.byStudent.set(student, { on, growing });
    return growing;
  }

  clear(): void {
    this.exposures = null;
    this.byStudent.clear();
  }
}

/** Did the checkpoint that somebody works on hold in a rep of this class? Null where the rep says nothing of it. */
const saidBy = (breakdown: Breakdown, rep: Rep, on: Prescribed): boolean | null =>
  on.since !== undefined && rep.at <= on.since
    ? null
    : ([...saidAtRoot([breakdown], [rep], on)][0]?.held ?? null);

/** The caps on the two of a turn, by all reps of the day, the fullest first. */
export function capsOfTurn(
  common: Common,
  { student, partner }: Pick<Turn, 'student' | 'partner'>,
  rung: Rung,
  counts = new Counts(),
): readonly CapState[] {
  const { technique, rules } = common;
  const capsOf = (who: Id, whom: Whom) =>
    capsOn(counts.exposure(common, who, whom), technique, rung, rules.caps, whom);
  return [
    ...(partner === null ? [] : capsOf(partner, 'partner')),
    ...(loadedOn(technique, 'student').length > 0 ? capsOf(student, 'student') : []),
  ].sort((a, b) => a.cap - a.spent - (b.cap - b.spent));
}

/** A technique in what is worn in a class, where it allows either. */
export const inAttireOf = <One extends Pick<Technique, 'attire'>>(
  technique: One,
  { attire }: Pick<Session, 'attire'>,
): One => (technique.attire === 'either' && attire ? { ...technique, attire } : technique);

/** All that decides which ways the two of a turn use. */
export const pairingOfTurn = (
  { students, now, session }: Pick<Common, 'students' | 'now' | 'session'>,
  members: Pair,
  { student, partner }: Pick<Turn, 'student' | 'partner'>,
  technique: Technique,
): Pairing =>
  pairingOf(
    inAttireOf(technique, session),
    students.get(student) ?? null,
    (partner === null ? null : students.get(partner)) ?? null,
    now.settings.get(pairKey(members))?.ways,
  );

/** The ways that hold for a turn: by bodies and attire, and by what was chosen for the pair. */
const waysOfTurn = (
  common: Common,
  members: Pair,
  turn: Pick<Turn, 'student' | 'partner'>,
): readonly WayAt[] => variantsFor(common.breakdown, pairingOfTurn(common, members, turn, common.technique));

/** What somebody works on in this class at a rung; null where nothing was prescribed for this technique. */
export function workOf(
  {
    breakdown,
    prescribed,
    log,
    rung,
  }: {
    breakdown: Breakdown;
    prescribed: readonly Prescribed[];
    log: Pick<ClassLog, 'of'>;
    rung: Rung;
  },
  student: Id,
  counts = new Counts(),
): WorkInProgress | null {
  const one = prescribed.find((each) => each.student === student);
  const place = one ? placeOf(breakdown, one.checkpoint) : -1;
  if (!one || place < 0) return null;
  const reps = log.of(student);
  const said = counts.held(breakdown, reps, one);
  const counted = ({ technique, rung: at, at: when }: Rep) =>
    technique === breakdown.technique && at >= one.rung && (one.since === undefined || when > one.since);
  return {
    place,
    rung: one.rung,
    counts: rung >= one.rung,
    // The test that the record goes by: what earlier classes said, then this one.
    test: signOff([...(one.held ?? []), ...said]),
    said,
    recheck: one.recheck ? { seen: said.length, held: said.filter(Boolean).length } : null,
    dose:
      one.reps === undefined
        ? null
        : {
            done: reps.filter(counted).length,
            of: one.reps * (one.sets ?? 1) * (one.sides === 'both' || one.sides === undefined ? 2 : 1),
          },
    how: one,
  };
}

/** The sign-off test of a student's correction after one more rep. */
export function testAfter(breakdown: Breakdown, { how, said }: WorkInProgress, rep: Rep): SignOff {
  const one = saidBy(breakdown, rep, how);
  return signOff([...(how.held ?? []), ...said, ...(one === null ? [] : [one])]);
}

/** The state of a sign-off test as a mark, or why it does not move. */
export const workShort = ({ counts, rung, test, recheck }: WorkInProgress): string =>
  !counts
    ? `counts from rung ${rung}`
    : recheck
      ? `recheck, held ${recheck.held} of ${Math.max(rechecked.fewestReps, recheck.seen)}`
      : signOffShort(test);

const alike = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((one, i) => one === b[i]);

function viewOf(common: Common, members: Pair, counts: Counts, before?: PairView): PairView {
  const { log, now, breakdown, library, session, turning } = common;
  const own = pairNow(session, now, members);
  const reps = repsOfPair(members, (student) => log.of(student));
  const turn = turnOf(members, likelyOnce(reps, now.settled), turning, own.turn, own.sides);
  const breakdownAt = (id: Id) => (id === breakdown.technique ? breakdown : library.get(id)?.breakdown);
  const carried = carriedOf(members, (student) => log.of(student), breakdownAt, own.back);
  const fresh = waysOfTurn(common, members, turn);
  const [is, was] = [fresh, before?.ways ?? []].map((list) => list.map(({ variant }) => variant));
  // The same object while they are the same, so that nothing is drawn again.
  const ways = before && alike(is!, was!) ? before.ways : fresh;
  const notes = standingNotes(log.notes).filter(
    ({ person: who, session: where, why }) =>
      where === session.id && members.includes(who) && why === 'not said',
  );
  // The same object while it says the same.
  const span = before?.span.from === own.span.from && before.span.to === own.span.to ? before.span : own.span;
  return {
    key: pairKey(members),
    members,
    reps,
    turn,
    waits: members.filter((id) => id !== turn.student && id !== turn.partner),
    carried,
    own,
    span,
    permit: permitOfTurn(common, turn, own.rung, ways),
    ways,
    caps: spanSpares(breakdown, common.technique, own.span.to, common.rules.caps.counts)
      ? []
      : capsOfTurn(common, turn, own.rung, counts),
    work: workOf({ breakdown, prescribed: now.prescribed, log, rung: own.rung }, turn.student, counts),
    stopped: notes.at(-1) ?? null,
  };
}

/**
 * Views of pairs that stay the same object until something of that pair has changed, so that a tap costs one tile and not
 * all of them.
 */
export class PairViews {
  private known = new Map<string, { own: readonly unknown[]; view: PairView }>();
  private shared: readonly unknown[] = [];
  private readonly counts = new Counts();
  private last: { common: Common; views: readonly PairView[] } | null = null;

  /** The views of all pairs, in walking order. */
  all(common: Common): readonly PairView[] {
    if (this.last?.common === common) return this.last.views;
    const { log, now, turning, ...rest } = common;
    const shared = [
      log.notes,
      log.overrides,
      now.prescribed,
      now.everybody.rung,
      now.everybody.sides,
      now.everybody.task,
      now.settled.size,
      now.clock.round,
      ...Object.values(rest),
      ...Object.values(turning),
    ];
    if (!alike(shared, this.shared)) {
      this.known.clear();
      this.counts.clear();
    }
    this.shared = shared;
    const views = now.pairs.map((members) => this.of(common, members));
    this.last = { common, views };
    return views;
  }

  private of(common: Common, members: Pair): PairView {
    const { log, now } = common;
    const key = pairKey(members);
    const before = this.known.get(key);
    const settings = now.settings.get(key);
    const own = [
      ...members,
      ...members.flatMap((one) => [log.of(one), log.on(one)]),
      ...Object.entries(settings ?? {}).flat(),
    ];
    if (before && alike(own, before.own)) return before.view;
    const view = viewOf(common, members, this.counts, before?.view);
    this.known.set(key, { own, view });
    return view;
  }
}

/** A pair that has gone on to another technique: from there, on that side, and by what may be done there. */
export function goneOn(
  common: Common,
  members: Pair,
  view: PairView,
  { from, side, follows }: NextTechnique,
  { breakdown, technique }: { breakdown: Breakdown; technique: Technique },
): PairView {
  const before = common.log.of(view.turn.student).find(({ id }) => id === follows.rep);
  const turn = {
    ...view.turn,
    ...(before && { student: before.student, partner: before.partner }),
    side,
  };
  const there: Common = { ...common, breakdown, technique };
  const ways = waysOfTurn(there, members, turn);
  return {
    ...view,
    turn,
    span: { from, to: null },
    ways,
    permit: permitOfTurn(there, turn, view.own.rung, ways),
    caps: capsOfTurn(there, turn, view.own.rung),
    work: null,
  };
}
