import { useState } from 'react';
import {
  activityAt,
  type CapState,
  type CareNote,
  capsOn,
  expose,
  permit,
  loadedOn,
  type Permit,
  type RuleSet,
  spanSpares,
  standingNotes,
  unexposed,
  type Whom,
  withWays,
} from '@ulkret/core/care';
import { type Breakdown, type Id, placeOf, type Technique } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { type SignOff, signOffAt, signOffShort } from '@ulkret/core/prescription';
import type { Rep, Rung } from '@ulkret/core/rep';
import {
  type Carried,
  carriedOf,
  type Pair,
  pairKey,
  type Prescribed,
  repsOfPair,
  type SessionNow,
  type Turn,
  type Turning,
  turnOf,
} from '@ulkret/core/session';
import type { Standing } from '@ulkret/core/facts';
import { type Pairing, pairingOf, variantsFor, type WayAt } from '@ulkret/core/ways';

/** What an attacker works on, and where its sign-off test stands. */
export interface Work {
  place: number;
  /** Reps below it do not count; `counts`: do they at the rung that is drilled now? */
  rung: Rung;
  counts: boolean;
  test: SignOff;
  /** With what cue and drill, and what earlier sessions said. */
  how: Prescribed;
}

/** Everything that a tile shows of a pair, and that the stage needs when it is the active one. */
export interface PairView {
  members: Pair;
  reps: readonly Rep[];
  turn: Turn;
  /** What the pair has gone on to; null where it drills the technique of the class. */
  carried: Carried | null;
  span: { from: Id | null; to: Id | null };
  permit: Permit;
  /** The ways that hold for the two of the turn. */
  ways: readonly WayAt[];
  /** The caps that the next rep counts against, the fullest first; none where the span loads nobody. */
  caps: readonly CapState[];
  work: Work | null;
  /** The stop for safety of which nobody has said yet what went wrong: until then the pair waits. */
  stopped: CareNote | null;
}

/** What all pairs of a session have in common. */
export interface Common {
  log: Standing;
  now: SessionNow;
  breakdown: Breakdown;
  technique: Technique;
  library: ReadonlyMap<Id, { technique: Technique; breakdown: Breakdown }>;
  students: ReadonlyMap<Id, Student>;
  prescribed: readonly Prescribed[];
  session: { id: string; from: Id | null; to: Id | null };
  rules: RuleSet;
  /** ISO date. */
  today: string;
  /** Notes of other sessions that still hold. */
  earlierNotes: readonly CareNote[];
  rung: Rung;
  turning: Turning;
}

const person = (students: ReadonlyMap<Id, Student>, id: Id) =>
  students.get(id) ?? {
    id,
    name: id,
    born: null,
    experienceMonths: 0,
    grade: null,
    massKg: null,
    injuries: [],
    consents: [],
  };

/** May the one of a turn do it to the other? */
export const permitOfTurn = (
  { students, technique, rules, today, earlierNotes, log, rung }: Omit<Common, 'library'>,
  { student, partner }: Pick<Turn, 'student' | 'partner'>,
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
    { rules, today, notes: [...earlierNotes, ...log.notes], overrides: log.overrides },
  );

/** The caps on the two of a turn, by the reps of this session, the fullest first. */
export function capsOfTurn(
  { breakdown, technique, library, rules, log, rung }: Common,
  { student, partner }: Pick<Turn, 'student' | 'partner'>,
): readonly CapState[] {
  const ledger = (reps: readonly Rep[], whom: Whom) =>
    reps.reduce((sum, rep) => {
      // What a pair went on to loads as well.
      const other = rep.technique === breakdown.technique ? undefined : library.get(rep.technique);
      return expose(sum, other?.breakdown ?? breakdown, other?.technique ?? technique, rep, whom);
    }, unexposed);
  const capsOf = (reps: readonly Rep[], whom: Whom) =>
    capsOn(ledger(reps, whom), technique, rung, rules.caps, whom);
  return [
    ...(partner === null ? [] : capsOf(log.on(partner), 'partner')),
    ...(loadedOn(technique, 'student').length > 0 ? capsOf(log.of(student), 'student') : []),
  ].sort((a, b) => a.cap - a.spent - (b.cap - b.spent));
}

/** All that decides which ways the two of a turn use. */
export const pairingOfTurn = (
  { students, now }: Pick<Common, 'students' | 'now'>,
  members: Pair,
  { student, partner }: Pick<Turn, 'student' | 'partner'>,
  technique: Technique,
): Pairing =>
  pairingOf(
    technique,
    students.get(student) ?? null,
    (partner === null ? null : students.get(partner)) ?? null,
    now.ways.get(pairKey(members)),
  );

/** The ways that hold for a turn: by bodies and attire, and by what was chosen for the pair. */
export const waysOfTurn = (
  common: Common,
  members: Pair,
  turn: Pick<Turn, 'student' | 'partner'>,
): readonly WayAt[] => variantsFor(common.breakdown, pairingOfTurn(common, members, turn, common.technique));

export const workOf = (
  { breakdown, prescribed, log, rung }: Pick<Common, 'breakdown' | 'prescribed' | 'log' | 'rung'>,
  student: Id,
): Work | null => {
  const one = prescribed.find((each) => each.student === student);
  const place = one ? placeOf(breakdown, one.checkpoint) : -1;
  return one && place >= 0
    ? {
        place,
        rung: one.rung,
        counts: rung >= one.rung,
        test: signOffAt(breakdown, log.of(student), one),
        how: one,
      }
    : null;
};

/** Where a sign-off test stands, as a mark; or why it does not move. */
export const workShort = ({ counts, rung, test }: Work): string =>
  counts ? signOffShort(test) : `from rung ${rung}`;

const alike = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((one, i) => one === b[i]);

function viewOf(common: Common, members: Pair, before?: PairView): PairView {
  const { log, now, breakdown, library, session, turning } = common;
  const reps = repsOfPair(members, (student) => log.of(student));
  const turn = turnOf(members, reps, turning, now.turns.get(pairKey(members)));
  const breakdownAt = (id: Id) => (id === breakdown.technique ? breakdown : library.get(id)?.breakdown);
  const carried = carriedOf(
    members,
    (student) => log.of(student),
    breakdownAt,
    now.back.get(pairKey(members)),
  );
  const span = now.spans.get(pairKey(members)) ?? { from: session.from, to: session.to };
  const fresh = waysOfTurn(common, members, turn);
  const [is, was] = [fresh, before?.ways ?? []].map((list) => list.map(({ variant }) => variant));
  // The same object while they are the same, so that nothing is drawn again.
  const ways = before && alike(is!, was!) ? before.ways : fresh;
  const notes = standingNotes(log.notes).filter(
    ({ person: who, session: where, why }) =>
      where === session.id && members.includes(who) && why === 'not said',
  );
  return {
    members,
    reps,
    turn,
    carried,
    span,
    permit: permitOfTurn(common, turn, ways),
    ways,
    caps: spanSpares(breakdown, common.technique, span.to) ? [] : capsOfTurn(common, turn),
    work: workOf(common, turn.student),
    stopped: notes.at(-1) ?? null,
  };
}

/**
 * Views of pairs that stay the same object until something of that pair has changed, so that a tap costs one tile and not
 * all of them.
 */
export class PairViews {
  private readonly known = new Map<Pair, { key: string; own: readonly unknown[]; view: PairView }>();
  private shared: readonly unknown[] = [];

  /** The views of all pairs, in walking order. */
  all(common: Common): readonly PairView[] {
    const { log, now, turning, ...rest } = common;
    const shared = [
      log.notes,
      log.overrides,
      now.pairs,
      now.clock.round,
      ...Object.values(rest),
      ...Object.values(turning),
    ];
    if (!alike(shared, this.shared)) this.known.clear();
    this.shared = shared;
    return now.pairs.map((members) => this.of(common, members));
  }

  private of(common: Common, members: Pair): PairView {
    const { log, now } = common;
    const before = this.known.get(members);
    const key = before?.key ?? pairKey(members);
    const span = now.spans.get(key);
    const own = [
      ...members.flatMap((one) => [log.of(one), log.on(one)]),
      span?.from,
      span?.to,
      now.turns.get(key),
      now.ways.get(key),
      now.back.get(key),
    ];
    if (before && alike(own, before.own)) return before.view;
    const view = viewOf(common, members, before?.view);
    this.known.set(members, { key, own, view });
    return view;
  }
}

/** The views of all pairs, in walking order. */
export function usePairViews(common: Common): readonly PairView[] {
  const [views] = useState(() => new PairViews());
  return views.all(common);
}

/** A pair that has gone on to another technique: from there, on that side, and by what may be done there. */
export function goneOn(
  common: Common,
  members: Pair,
  view: PairView,
  { from, side, follows }: Carried,
  { breakdown, technique }: { breakdown: Breakdown; technique: Technique },
): PairView {
  const before = common.log.of(view.turn.student).find(({ id }) => id === follows.rep);
  const turn = {
    ...view.turn,
    ...(before && { student: before.student, partner: before.partner }),
    side,
  };
  const there: Common = { ...common, breakdown, technique, prescribed: [] };
  const ways = waysOfTurn(there, members, turn);
  return {
    ...view,
    turn,
    span: { from, to: null },
    ways,
    permit: permitOfTurn(there, turn, ways),
    caps: capsOfTurn(there, turn),
    work: null,
  };
}
