import { useState } from 'react';
import {
  activityAt,
  type CapState,
  type CareNote,
  capsOn,
  exposuresOf,
  permit,
  type Permit,
  type RuleSet,
  spanSpares,
  standingNotes,
  unexposed,
} from '@ulkret/core/care';
import { type Breakdown, type Id, placeOf, type Technique } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { type SignOff, signOffAt, signOffShort } from '@ulkret/core/prescription';
import type { Rep, Rung } from '@ulkret/core/rep';
import {
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

/** What an attacker works on, and where its sign-off test stands. */
export interface Work {
  place: number;
  /** Reps below it do not count; `counts`: do they at the rung that is drilled now? */
  rung: Rung;
  counts: boolean;
  test: SignOff;
}

/** Everything that a tile shows of a pair, and that the stage needs when it is the active one. */
export interface PairView {
  members: Pair;
  reps: readonly Rep[];
  turn: Turn;
  span: { from: Id | null; to: Id | null };
  permit: Permit;
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
    massKg: null,
    injuries: [],
    consents: [],
  };

/** May the one of a turn do it to the other? */
export const permitOfTurn = (
  { students, technique, rules, today, earlierNotes, log, rung }: Common,
  { student, partner }: Pick<Turn, 'student' | 'partner'>,
): Permit =>
  permit(
    person(students, student),
    partner === null ? null : person(students, partner),
    technique,
    activityAt(rung),
    { rules, today, notes: [...earlierNotes, ...log.notes], overrides: log.overrides },
  );

/** The caps on a partner, by the reps that were done on them in this session. */
export const capsOfPartner = (
  { breakdown, technique, rules, log, rung }: Common,
  partner: Id | null,
): readonly CapState[] =>
  partner === null
    ? []
    : capsOn(
        exposuresOf(breakdown, technique, log.on(partner)).get(partner) ?? unexposed,
        technique,
        rung,
        rules.caps,
      );

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
      }
    : null;
};

/** Where a sign-off test stands, as a mark; or why it does not move. */
export const workShort = ({ counts, rung, test }: Work): string =>
  counts ? signOffShort(test) : `from rung ${rung}`;

function viewOf(common: Common, members: Pair): PairView {
  const { log, now, breakdown, session, turning } = common;
  const reps = repsOfPair(members, (student) => log.of(student));
  const turn = turnOf(members, reps, turning, now.turns.get(pairKey(members)));
  const span = now.spans.get(pairKey(members)) ?? { from: session.from, to: session.to };
  const notes = standingNotes(log.notes).filter(
    ({ person: who, session: where, why }) =>
      where === session.id && members.includes(who) && why === 'not said',
  );
  return {
    members,
    reps,
    turn,
    span,
    permit: permitOfTurn(common, turn),
    caps: spanSpares(breakdown, common.technique, span.to) ? [] : capsOfPartner(common, turn.partner),
    work: workOf(common, turn.student),
    stopped: notes.at(-1) ?? null,
  };
}

const alike = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((one, i) => one === b[i]);

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
    ];
    if (before && alike(own, before.own)) return before.view;
    const view = viewOf(common, members);
    this.known.set(members, { key, own, view });
    return view;
  }
}

/** The views of all pairs, in walking order. */
export function usePairViews(common: Common): readonly PairView[] {
  const [views] = useState(() => new PairViews());
  return views.all(common);
}
