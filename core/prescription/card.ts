import { z } from 'zod';
import { type Side, numberOf } from '../breakdown';
import { type Breakdown, type Id, readFor, type Technique } from '../breakdown';
import { Drill } from '../drills';
import { Instant, rungNames } from '../rep';
import { many } from '../words';
import { type Body, pairingOf } from '../variants';
import { cautionsOf } from './cautions';
import { minutesOf } from './dose';
import { isOpen, type Life } from './lifecycle';
import { bodyWaysAt, ownDrillOf } from './options';
import { proofWords } from './proof-words';
import { Terms } from './step';

/** A point of a technique, read for the side that its student leads with. */
const point = { technique: z.string(), place: z.int().positive(), title: z.string() };

/** A drill, in the words of its card. */
const Told = Drill.pick({
  title: true,
  setUp: true,
  constraint: true,
  task: true,
  caution: true,
  measure: true,
});

/** One thing that a student works on, as it is told to that student. */
export const CardWork = z.object({
  ...point,
  criterion: z.string(),
  safetyNote: z.string(),
  /** The cautions of the checkpoint, of the way that the body calls for, and of the drill. */
  cautions: z.array(z.string()),
  /** The student's held and lost reps there at the time of acceptance; null if they were not counted. */
  stood: z.object({ held: z.int().min(0), lost: z.int().min(0) }).nullable(),
  cue: z.string(),
  /** What the partner does that ends it most often, where the cue is the answer to that. */
  defence: z.string().nullable(),
  /** What the partner does to play it, and the sign by which it is known. */
  task: z.string(),
  signal: z.string(),
  /** What the mistake itself says to drill, where that is none of the library's. */
  ownDrill: z.string().nullable(),
  minutes: z.int().positive(),
  /** What proves it, where the dose itself does not; empty where it does. */
  proof: z.string(),
  /** Null if the checkpoint is drilled on its own. */
  drill: Told.nullable(),
  ...Terms.pick({ sets: true, reps: true, sides: true, first: true, rung: true }).shape,
  /** Where its reps start and stop, as a coach counts; null where they begin at the first, and go on to their end. */
  between: z.object({ start: z.int().positive().nullable(), end: z.int().positive().nullable() }),
  /** The results of the reps since, in order. */
  held: z.array(z.boolean()),
});
export type CardWork = z.infer<typeof CardWork>;

/** Something that is signed off, and when it is looked at again. */
export const Proven = z.object({ ...point, due: Instant, isDue: z.boolean() });
export type Proven = z.infer<typeof Proven>;

/** What one student works on and has signed off; nothing of anybody else. */
export const Card = z.object({ name: z.string(), works: z.array(CardWork), proven: z.array(Proven) });
export type Card = z.infer<typeof Card>;

/** The edition of a technique that a correction was agreed to on; null where it is not at hand. */
export type EditionOf = (
  life: Life,
) => { technique: Technique; breakdown: Pick<Breakdown, 'checkpoints' | 'defences' | 'mistakes'> } | null;

const pointOf = ({ terms: { checkpoint } }: Life, edition: ReturnType<EditionOf>, lead: Side) => {
  const at = edition?.breakdown.checkpoints.find(({ id }) => id === checkpoint);
  return edition && at
    ? {
        at,
        point: {
          technique: edition.technique.name,
          place: numberOf(edition.breakdown, checkpoint),
          title: readFor(at.title, lead),
        },
      }
    : null;
};

/** A correction as its student reads it; null where its edition is not at hand. */
export function workOf(
  life: Life,
  edition: ReturnType<EditionOf>,
  drills: readonly Drill[],
  lead: Side,
  body: Body | null = null,
): CardWork | null {
  const found = pointOf(life, edition, lead);
  if (!edition || !found) return null;
  const { terms, stood, held } = life;
  const defence = edition.breakdown.defences.find((one) => one.id === terms.defence);
  const drill = drills.find(({ id }) => id === terms.drill);
  const own = drill ? null : ownDrillOf(edition.breakdown, terms.mistake, drills);
  return {
    ...found.point,
    criterion: readFor(found.at.criterion, lead),
    safetyNote: edition.technique.safetyNote,
    cautions: cautionsOf(edition.breakdown, terms.checkpoint, {
      drill,
      ways: bodyWaysAt(edition.breakdown, terms.checkpoint, pairingOf(edition.technique, body, null)).map(
        ({ id }) => id,
      ),
    }).map((one) => readFor(one, lead)),
    stood: stood && { held: stood.reached - stood.failed, lost: stood.failed },
    cue: readFor(terms.cue, lead),
    defence: defence && defence.answers.length > 0 ? readFor(defence.title, lead) : null,
    task: readFor(defence?.task ?? '', lead),
    signal: readFor(defence?.signal ?? '', lead),
    ownDrill: own === null ? null : readFor(own, lead),
    minutes: minutesOf(terms, drill),
    proof: proofWords(edition.breakdown, terms, lead),
    // The drill's other facts are for coaches.
    drill: drill ? Told.parse(drill) : null,
    sets: terms.sets,
    reps: terms.reps,
    sides: terms.sides,
    first: terms.first,
    rung: terms.rung,
    between: betweenOf(edition.breakdown, terms),
    held: [...held],
  };
}

/** A student's card of all that was ever agreed to for them, the latest first. */
export function cardOf(
  student: { id: Id; name: string; mainSide: Side } & Body,
  lives: readonly Life[],
  editionOf: EditionOf,
  drills: readonly Drill[],
): Card {
  const { id, name, mainSide } = student;
  const own = lives.filter((life) => life.student === id).toReversed();
  return {
    name,
    works: own
      .filter(isOpen)
      .flatMap((life) => workOf(life, editionOf(life), drills, mainSide, student) ?? []),
    proven: own.flatMap((life) => {
      const found = pointOf(life, editionOf(life), mainSide);
      return found && life.due !== null
        ? [{ ...found.point, due: life.due, isDue: life.state === 'recheck due' }]
        : [];
    }),
  };
}

/** The checkpoints between which reps are done, as a coach counts them; null where they begin at the first and go on to their end. */
export interface Between {
  start: number | null;
  end: number | null;
}

/** Where the reps of a correction start and stop. */
export function betweenOf(
  breakdown: Pick<Breakdown, 'checkpoints'>,
  { startAt, endAt }: Pick<Terms, 'startAt' | 'endAt'>,
): Between {
  const placed = (id: Id | null) => (id === null ? null : numberOf(breakdown, id) || null);
  return { start: placed(startAt), end: placed(endAt) };
}

/** “2 × 10 reps each side, the right first, at rung 2 (moving partner), from 3 to 5” */
export function doseWords(
  { sets, reps, sides, first, rung }: Pick<Terms, 'sets' | 'reps' | 'sides' | 'first' | 'rung'>,
  { start, end }: Between,
): string {
  const on = sides === 'both' ? `each side, the ${first} first` : `on the ${sides} side`;
  const between =
    end === null
      ? start === null
        ? ''
        : `, started at ${start}`
      : start === end
        ? `, ${end} alone`
        : `, from ${start ?? 1} to ${end}, no further`;
  return `${sets} × ${many(reps, 'rep')} ${on}, at rung ${rung} (${rungNames[rung]})${between}`;
}
