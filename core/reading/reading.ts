import { z } from 'zod';
import { type Breakdown, CheckpointKind, Id, Side } from '../breakdown';
import { Estimate } from '../math';
import { Rung, rungs } from '../rep';

const rate = z.number().min(0).max(1);
const n = z.int().min(0);

/** How a reading is made: counts of one checkpoint around the squad's rate, or the model of the whole academy at once. */
export const Method = z.enum(['plain', 'full']);
export type Method = z.infer<typeof Method>;

/** The partner against the student: at least a tenth of a logarithm lighter or heavier (about 10 %), or about even. */
export const Partner = z.enum(['lighter', 'even', 'heavier']);
export type Partner = z.infer<typeof Partner>;

/** Which reps are asked about; null asks for all. */
export const Slice = z.object({
  rung: Rung.nullable(),
  side: Side.nullable(),
  partner: Partner.nullable(),
});
export type Slice = z.infer<typeof Slice>;
export const everything: Slice = { rung: null, side: null, partner: null };

/** One cause of stops at a checkpoint. */
export const CauseShare = z.object({
  cause: Id.nullable(),
  kind: z.enum(['mistake', 'defence', 'unknown']),
  /** Stops that were tagged with it; for the unknown, those that were not tagged. */
  stops: n,
  /** Its share of all stops here, the untagged ones shared out. */
  share: rate,
  /** Where it would have to be fixed: a mistake's root, else this checkpoint. */
  root: Id,
});
export type CauseShare = z.infer<typeof CauseShare>;

/** How often a checkpoint held under one condition, with the reps that were done under it. */
export const Held = z.object({ reached: n, failed: n, held: Estimate });
export type Held = z.infer<typeof Held>;
export const RungReading = Held.extend({ rung: Rung });
export type RungReading = z.infer<typeof RungReading>;
const PartnerReading = Held.extend({ partner: Partner });
const SideReading = Held.extend({ side: Side });

/**
 * What the reps say about a checkpoint as a root: a rep failed there where it stopped there, or later by a mistake that has
 * its root there. Everything that is dosed and signed off goes by this.
 */
export const RootReading = z.object({
  /** Reps that say something of it: those that were lost by it, and those that went past all that has its root here. */
  reached: n,
  failed: n,
  /**
   * The same as far as each checkpoint at which it can show, in order: the reps that went to that one or were lost by it, and
   * the hold rate so far at each rung, as expected where nothing was tried.
   */
  shown: z.array(z.object({ at: Id, reached: n, held: z.array(rate).length(rungs.length) })),
  /** Later stops that nobody tagged and that are mostly rooted here. */
  open: n,
  /** P(lost here, or later because of here | reached). */
  hazard: Estimate,
  /** What it would be if all that has its root here were fixed to the targets. */
  target: rate,
  /** P(the hazard is above its target). */
  above: rate,
  /** The reps that got here at each rung that was tried. */
  tried: z.array(z.object({ rung: Rung, reached: n })),
});
export type RootReading = z.infer<typeof RootReading>;

/** What the reps of one student (or the squad) say about one checkpoint. */
export const CheckpointReading = z.object({
  checkpoint: Id,
  /** Reps that reached it: the n of the hazard. */
  reached: n,
  failed: n,
  /** P(stop here | reached) and its 80 % interval. */
  hazard: Estimate,
  /** Share of all reps that get as far as this checkpoint. */
  survivalBefore: rate,
  /** Share of all reps lost here. Leaks and finish rate sum to 1. */
  leak: Estimate,
  /** Share of all reps lost because of this checkpoint, here or later. Root leaks and finish rate sum to 1. */
  rootLeak: rate,
  /** What finish rate would rise by if the hazard here fell to `target`. */
  gain: Estimate,
  /** What they would rise by if all that has its root here were fixed to the targets, here and later. */
  rootGain: Estimate,
  target: rate,
  /** The share of the best gain there is that fixing this root first is expected to bring: what to correct first goes by. */
  promise: rate,
  atRoot: RootReading,
  /** What ends the reps here, mistakes first; an untagged remainder last. */
  causes: z.array(CauseShare),
  /** Is the interval narrow enough to act on? If not, about how many more reps that reach it would make it so? */
  enough: z.boolean(),
  moreNeeded: n,
  /** Hold rate rung by rung, side by side, partner by partner, for what was tried. */
  byRung: z.array(RungReading),
  bySide: z.array(SideReading),
  byPartner: z.array(PartnerReading),
  /** The highest rung tried at which the hold rate is at least 0.75; null where there is none. */
  holdsUpTo: Rung.nullable(),
  /** P(the off side breaks more often); null where either side was reached fewer than five times. */
  sideGap: rate.nullable(),
  /** P(a heavier partner breaks it more often than a lighter one); null where one was met fewer than five times. */
  massGap: rate.nullable(),
});
export type CheckpointReading = z.infer<typeof CheckpointReading>;

/** The reading of one student on one technique, or of the whole squad where `student` is null. */
export const Reading = z.object({
  student: Id.nullable(),
  /** Reps that counted. */
  reps: n,
  finished: n,
  /** Share of judged whole reps that finished, as counted, with Wilson's interval; null where there is none. */
  finishedShare: Estimate.nullable(),
  /** The product of all hold rates, with its interval from seeded draws. */
  finishRate: Estimate,
  checkpoints: z.array(CheckpointReading),
  /** Share of all reps lost at the checkpoints of each kind that the breakdown has. */
  kinds: z.array(z.object({ kind: CheckpointKind, leak: Estimate })),
});
export type Reading = z.infer<typeof Reading>;

/** Readings of everybody who has a rep on the technique, and of the squad as one. */
export const SquadReading = z.object({
  technique: Id,
  edition: z.int().positive(),
  method: Method,
  slice: Slice,
  squad: Reading,
  students: z.array(Reading),
});
export type SquadReading = z.infer<typeof SquadReading>;

/** The share of all reps that is lost at a checkpoint, split into mistakes, defences and untagged stops. */
export const Lost = z.object({ mistake: rate, defence: rate, unknown: rate });
export type Lost = z.infer<typeof Lost>;

/** In proportion to the stops that were tagged; without any, all of it is unknown. */
export function lostAt({ causes, leak }: Pick<CheckpointReading, 'causes' | 'leak'>): Lost {
  const stops = causes.reduce((sum, one) => sum + one.stops, 0);
  const of = (kind: CauseShare['kind']) =>
    stops === 0
      ? 0
      : (leak.value / stops) *
        causes.filter((one) => one.kind === kind).reduce((sum, one) => sum + one.stops, 0);
  const [mistake, defence] = [of('mistake'), of('defence')];
  return { mistake, defence, unknown: Math.max(0, leak.value - mistake - defence) };
}

/** Of a reading what a table of everybody at every checkpoint tells: how often, and not why. */
export const Rates = Reading.pick({ student: true, reps: true, finished: true, finishRate: true }).extend({
  checkpoints: z.array(
    CheckpointReading.pick({
      checkpoint: true,
      reached: true,
      failed: true,
      hazard: true,
      leak: true,
      rootLeak: true,
      rootGain: true,
      enough: true,
      moreNeeded: true,
      survivalBefore: true,
    }).extend({ lost: Lost }),
  ),
});
export type Rates = z.infer<typeof Rates>;
/** What a defence costs: the stops that were tagged with it, wherever it was met, and the share of all reps that they are. */
export const DefenceCost = z.object({ defence: Id, title: z.string(), opens: Id, stops: n, lost: rate });
export type DefenceCost = z.infer<typeof DefenceCost>;
export const SquadRates = SquadReading.extend({
  squad: Rates,
  students: z.array(Rates),
  defences: z.array(DefenceCost),
});
export type SquadRates = z.infer<typeof SquadRates>;

/** The defences of a breakdown that stopped anybody, the dearest first. What nobody tagged is in none of them. */
export const defenceCosts = (
  { defences }: Pick<Breakdown, 'defences'>,
  { checkpoints }: Pick<Reading, 'checkpoints'>,
): DefenceCost[] =>
  defences
    .map(({ id, title, opens }): DefenceCost => {
      const met = checkpoints.flatMap(({ causes, leak }) => {
        const all = causes.reduce((sum, { stops }) => sum + stops, 0);
        return causes
          .filter(({ cause, stops }) => cause === id && stops > 0)
          .map(({ stops }) => ({ stops, lost: (leak.value * stops) / all }));
      });
      return {
        defence: id,
        title,
        opens,
        stops: met.reduce((sum, { stops }) => sum + stops, 0),
        lost: Math.min(
          1,
          met.reduce((sum, { lost }) => sum + lost, 0),
        ),
      };
    })
    .filter(({ stops }) => stops > 0)
    .sort((a, b) => b.lost - a.lost);

/** The rates of a reading: a fifth of its size. */
export function ratesOf(
  breakdown: Pick<Breakdown, 'defences'>,
  { squad, students, ...of }: SquadReading,
): SquadRates {
  const rates = ({ student, reps, finished, finishRate, checkpoints }: Reading): Rates => ({
    student,
    reps,
    finished,
    finishRate,
    checkpoints: checkpoints.map((at) => ({
      checkpoint: at.checkpoint,
      reached: at.reached,
      failed: at.failed,
      hazard: at.hazard,
      leak: at.leak,
      rootLeak: at.rootLeak,
      rootGain: at.rootGain,
      enough: at.enough,
      moreNeeded: at.moreNeeded,
      survivalBefore: at.survivalBefore,
      lost: lostAt(at),
    })),
  });
  return {
    ...of,
    squad: rates(squad),
    students: students.map(rates),
    defences: defenceCosts(breakdown, squad),
  };
}
