import type { Id } from '../breakdown';
import { byTime, type Rep } from '../rep';
import type { CauseTag } from './cause-tag';
import { type FactList, factLists, type FactOf } from './registry';
import { isUndone, latestVoids } from './standing';
import type { Void } from './void';

/** Facts as they come from somewhere: some of the lists, in any order. */
export type SomeFacts = { readonly [K in FactList]?: readonly FactOf<K>[] };

/** The kinds that a log adds up to the reps that stand; of every other kind it keeps the list. */
const addedUp = ['reps', 'voids', 'tags'] as const;
type ListedKind = Exclude<FactList, (typeof addedUp)[number]>;
type KeptLists = { readonly [K in ListedKind]: readonly FactOf<K>[] };
const isKept = (list: FactList): list is ListedKind => !(addedUp as readonly FactList[]).includes(list);

/** What a session's facts come to at one moment. It never changes; lists in it are the same objects as long as they say the same. */
export interface Standing extends KeptLists {
  /** The standing reps of one student as the attacker, in order of time. */
  of(student: Id): readonly Rep[];
  /** The standing reps of which somebody was the partner, in order of time. */
  on(partner: Id): readonly Rep[];
  /** The last few standing reps of everybody, in order of time. */
  last: readonly Rep[];
  /** What was said of the cause of a rep in words, where the breakdown has no name for it; null where nothing was. */
  wordsOf(rep: string): string | null;
  /** All standing reps, in order of time; sorted when it is first asked for. */
  all(): readonly Rep[];
  /** The reps that were undone, each with its undo, the latest undo first; not those that were moved. */
  undone(): readonly { rep: Rep; by: Void }[];
}

/**
 * The facts of one session, merged by union, kept so that one more costs as much as its own student has reps and not as
 * much as the whole session.
 */
export class SessionLog {
  private readonly seen = new Set<string>();
  private readonly reps = new Map<string, Rep>();
  /** The latest void of each rep. */
  private voids = new Map<string, Void>();
  private tags = new Map<string, CauseTag>();
  private byStudent = new Map<Id, readonly Rep[]>();
  private byPartner = new Map<Id, readonly Rep[]>();
  private last: readonly Rep[] = [];
  private kept = Object.fromEntries(
    factLists()
      .filter(isKept)
      .map((list) => [list, []]),
  ) as unknown as KeptLists;
  private current: Standing | null = null;

  /** Adds what is not there yet; false where all was known. */
  add(facts: SomeFacts): boolean {
    const fresh = <K extends FactList>(list: K): FactOf<K>[] =>
      ((facts[list] ?? []) as readonly FactOf<K>[]).filter(
        ({ id }) => !this.seen.has(id) && this.seen.add(id),
      );
    const [reps, voids, tags] = [fresh('reps'), fresh('voids'), fresh('tags')];
    let changed = reps.length + voids.length + tags.length > 0;

    const touched = new Set<Id>();
    const touch = (rep: Rep | undefined) => rep && touched.add(rep.student);
    if (voids.length > 0 && this.current) this.voids = new Map(this.voids);
    latestVoids(voids, this.voids);
    for (const { rep } of voids) touch(this.reps.get(rep));
    if (tags.length > 0 && this.current) this.tags = new Map(this.tags);
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
    for (const list of Object.keys(facts) as FactList[]) {
      const more = isKept(list) ? fresh(list) : [];
      if (more.length === 0 || !isKept(list)) continue;
      this.kept = { ...this.kept, [list]: [...(this.kept[list] ?? []), ...more] };
      changed = true;
    }
    if (changed) this.current = null;
    return changed;
  }

  /** What the facts come to now: the same object until one is added. */
  standing(): Standing {
    if (this.current) return this.current;
    const { byStudent, byPartner, last, tags, voids } = this;
    let all: readonly Rep[] | null = null;
    let undone: readonly { rep: Rep; by: Void }[] | null = null;
    this.current = {
      ...this.kept,
      of: (student) => byStudent.get(student) ?? none,
      on: (partner) => byPartner.get(partner) ?? none,
      wordsOf: (rep) => tags.get(rep)?.words ?? null,
      all: () => (all ??= [...byStudent.values()].flat().sort(byTime)),
      undone: () =>
        (undone ??= [...voids.values()]
          .filter(isUndone)
          .sort((a, b) => byTime(b, a))
          .flatMap((by) => {
            const rep = this.reps.get(by.rep);
            return rep && !this.isMoved(rep) ? [{ rep, by }] : [];
          })),
      last,
    };
    return this.current;
  }

  /** A tap on this device is nearly always the latest thing that happened; then nothing need be sorted. */
  private isLast(rep: Rep): boolean {
    const before = this.last.at(-1);
    return !this.isVoid(rep.id) && !this.tags.has(rep.id) && (!before || byTime(before, rep) < 0);
  }

  /** Does it count as somebody else's? What was moved is at the same instant. */
  private isMoved({ id, at }: Rep): boolean {
    for (const other of this.reps.values())
      if (other.at === at && other.id !== id && !this.isVoid(other.id)) return true;
    return false;
  }

  private isVoid(rep: string): boolean {
    return isUndone(this.voids.get(rep));
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
      if (this.isVoid(rep.id)) continue;
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
/** How many of the last entries are at hand: enough that each device's own are among them. */
const shown = 40;
