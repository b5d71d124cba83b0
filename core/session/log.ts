import type { CareNote, Override } from '../care';
import { type CauseTag, type Facts, type Rep, byTime } from '../rep';
import type { Id } from '../breakdown';
import type { Change } from './session';

/** Every fact of a session: what was tapped, what was stopped for safety, what was let through, what changed. */
export interface SessionFacts extends Facts {
  notes: readonly CareNote[];
  overrides: readonly Override[];
  changes: readonly Change[];
}

export const noSessionFacts: SessionFacts = {
  reps: [],
  voids: [],
  tags: [],
  notes: [],
  overrides: [],
  changes: [],
};

/** What a session's facts come to at one moment. It never changes; lists in it are the same objects as long as they say the same. */
export interface Standing {
  /** The standing reps of one student as the attacker, in order of time. */
  of(student: Id): readonly Rep[];
  /** The standing reps of which somebody was the partner, in order of time. */
  on(partner: Id): readonly Rep[];
  /** The last few standing reps of everybody, in order of time. */
  last: readonly Rep[];
  /** All standing reps, in order of time; sorted when it is first asked for. */
  all(): readonly Rep[];
  notes: readonly CareNote[];
  overrides: readonly Override[];
  changes: readonly Change[];
}

/**
 * The facts of one session, merged by union, kept so that one more costs as much as its own student has reps and not as
 * much as the whole session.
 */
export class SessionLog {
  private readonly seen = new Set<string>();
  private readonly reps = new Map<string, Rep>();
  private readonly voided = new Set<string>();
  private readonly tags = new Map<string, CauseTag>();
  private byStudent = new Map<Id, readonly Rep[]>();
  private byPartner = new Map<Id, readonly Rep[]>();
  private last: readonly Rep[] = [];
  private notes: readonly CareNote[] = [];
  private overrides: readonly Override[] = [];
  private changes: readonly Change[] = [];
  private current: Standing | null = null;

  /** Adds what is not there yet; false where all was known. */
  add(facts: Partial<SessionFacts>): boolean {
    const fresh = <T extends { id: string }>(list: readonly T[] = []): T[] =>
      list.filter(({ id }) => !this.seen.has(id) && this.seen.add(id));
    const [reps, voids, tags] = [fresh(facts.reps), fresh(facts.voids), fresh(facts.tags)];
    const [notes, overrides, changes] = [fresh(facts.notes), fresh(facts.overrides), fresh(facts.changes)];
    if ([reps, voids, tags, notes, overrides, changes].every(({ length }) => length === 0)) return false;
    const touched = new Set<Id>();
    const touch = (rep: Rep | undefined) => rep && touched.add(rep.student);
    for (const { rep } of voids) {
      this.voided.add(rep);
      touch(this.reps.get(rep));
    }
    for (const tag of tags) {
      const known = this.tags.get(tag.rep);
      if (known && byTime(known, tag) > 0) continue;
      this.tags.set(tag.rep, tag);
      touch(this.reps.get(tag.rep));
    }
    for (const rep of reps) {
      this.reps.set(rep.id, rep);
      touch(rep);
    }
    const [only] = reps;
    if (touched.size > 0) {
      // A snapshot that was handed out keeps its own maps.
      if (this.current) [this.byStudent, this.byPartner] = [new Map(this.byStudent), new Map(this.byPartner)];
      if (reps.length === 1 && voids.length + tags.length === 0 && this.isLast(only!)) this.append(only!);
      else this.recount(touched);
    }
    if (notes.length > 0) this.notes = [...this.notes, ...notes];
    if (overrides.length > 0) this.overrides = [...this.overrides, ...overrides];
    if (changes.length > 0) this.changes = [...this.changes, ...changes];
    this.current = null;
    return true;
  }

  /** What the facts come to now: the same object until one is added. */
  standing(): Standing {
    if (this.current) return this.current;
    const { byStudent, byPartner, last, notes, overrides, changes } = this;
    let all: readonly Rep[] | null = null;
    this.current = {
      of: (student) => byStudent.get(student) ?? none,
      on: (partner) => byPartner.get(partner) ?? none,
      all: () => (all ??= [...byStudent.values()].flat().sort(byTime)),
      last,
      notes,
      overrides,
      changes,
    };
    return this.current;
  }

  /** A tap on this device is nearly always the latest thing that happened; then nothing need be sorted. */
  private isLast(rep: Rep): boolean {
    const before = this.last.at(-1);
    return !this.voided.has(rep.id) && !this.tags.has(rep.id) && (!before || byTime(before, rep) < 0);
  }

  private append(rep: Rep): void {
    const to = (lists: Map<Id, readonly Rep[]>, id: Id) => lists.set(id, [...(lists.get(id) ?? none), rep]);
    to(this.byStudent, rep.student);
    if (rep.partner !== null) to(this.byPartner, rep.partner);
    this.last = [...this.last.slice(1 - shown), rep];
  }

  private recount(students: ReadonlySet<Id>): void {
    const lists = new Map<Id, Rep[]>([...students].map((student) => [student, []]));
    const onPartner = new Map<Id, Rep[]>();
    for (const rep of this.reps.values()) {
      const list = lists.get(rep.student);
      if (!list) continue;
      if (rep.partner !== null) onPartner.set(rep.partner, []);
      if (this.voided.has(rep.id)) continue;
      const tag = this.tags.get(rep.id);
      list.push(tag ? { ...rep, cause: tag.cause } : rep);
    }
    for (const [student, list] of lists) this.byStudent.set(student, list.sort(byTime));
    const standing = [...this.byStudent.values()];
    for (const list of standing)
      for (const rep of list) if (rep.partner !== null) onPartner.get(rep.partner)?.push(rep);
    for (const [partner, list] of onPartner) this.byPartner.set(partner, list.sort(byTime));
    this.last = standing
      .flatMap((list) => list.slice(-shown))
      .sort(byTime)
      .slice(-shown);
  }
}

const none: readonly Rep[] = [];
/** How many of the last entries are kept in view. */
const shown = 5;
