import { z } from 'zod';
import { Day, Id, Region, Side } from '../breakdown';
import { FactId, Instant } from '../rep';

/**
 * What went wrong when a pair was stopped for safety. `not said`: not recorded yet, and the pair waits. Most finishes
 * end with a tap, and nothing goes wrong; `tap out` occurs in older notes.
 */
export const Stopped = z.enum([
  'not said',
  'hard tap',
  'pain',
  'dizzy',
  'knock on the head',
  'unconscious',
  'other',
  // Nothing went wrong at all.
  'pressed by mistake',
  'tap out',
  // What lifts the two before: a coach writes down that a clinician has cleared them.
  'cleared',
]);
export type Stopped = z.infer<typeof Stopped>;

/**
 * A stop for safety, as a fact: who is kept off which regions, and until the end of which day. It is a note for the
 * coach and never medical advice. A later note that `replaces` it counts instead; one without regions lifts it.
 */
export const CareNote = z.object({
  id: FactId,
  session: FactId.nullable(),
  at: Instant,
  observer: Id,
  person: Id,
  why: Stopped,
  /** Regions of this person that no technique may load. */
  regions: z.array(Region).max(Region.options.length),
  side: Side.nullable(),
  /** The last day (ISO date) on which they are kept off. */
  until: Day,
  words: z.string().max(1000),
  replaces: FactId.nullable(),
});
export type CareNote = z.infer<typeof CareNote>;

/**
 * A coach lets two adults drill what the house's rules refuse, and says why. It holds for that student, partner and
 * technique in that session, and never where one of them is a minor.
 */
export const Override = z.object({
  id: FactId,
  session: FactId,
  at: Instant,
  observer: Id,
  student: Id,
  partner: Id.nullable(),
  technique: Id,
  reason: z.string().trim().min(10, 'write the reason in a sentence').max(500),
});
export type Override = z.infer<typeof Override>;

/** Keeps somebody off the mat until a coach records a clinician's clearance: never before the next day. */
export const untilCleared: ReadonlySet<Stopped> = new Set<Stopped>(['knock on the head', 'unconscious']);

/** The notes that count: those that no other one replaces. */
export function standingNotes(notes: readonly CareNote[]): CareNote[] {
  const byId = new Map(notes.map((note) => [note.id, note]));
  const replaced = new Set<string>();
  for (const note of notes) {
    const before = note.replaces === null ? undefined : byId.get(note.replaces);
    if (before && mayReplace(note, before)) replaced.add(before.id);
  }
  return [...byId.values()].filter(({ id }) => !replaced.has(id));
}

function mayReplace(note: CareNote, before: CareNote): boolean {
  if (!untilCleared.has(before.why)) return true;
  return note.why === 'cleared'
    ? note.person === before.person && dayOf(note.at) > dayOf(before.at)
    : !lightens(note, before);
}

const dayOf = (at: string): string => new Date(at).toISOString().slice(0, 10);

/** Does a note keep somebody off less, or for a shorter time, than the one that it replaces? */
const lightens = (note: CareNote, before: CareNote): boolean =>
  note.until < before.until ||
  !untilCleared.has(note.why) ||
  note.person !== before.person ||
  before.regions.some((region) => !note.regions.includes(region));

/** Of these, what keeps somebody off the mat for the day: it may be the head. */
export const ofTheHead: ReadonlySet<Stopped> = new Set<Stopped>(['dizzy', ...untilCleared]);

/** Does a note that counts keep its person off something on a day (ISO date)? */
export const holdsOn = ({ why, until }: Pick<CareNote, 'why' | 'until'>, day: string): boolean =>
  why !== 'cleared' && (untilCleared.has(why) || until >= day.slice(0, 10));

/** What a person must avoid on a day, by the active notes. */
export const notesOn = (notes: readonly CareNote[], person: Id, day: string): CareNote[] =>
  standingNotes(notes).filter((note) => note.person === person && holdsOn(note, day));
