import { type Breakdown, type Id, readFor, type Side, checkpointWords, numberOf } from '../breakdown';
import { fewestReps } from '../reading';
import { many, percent, range } from '../words';
import { betweenOf, doseWords } from './card';
import type { Correction, Prescription } from './prescription';

/** The way that a body calls for, in a sentence; empty where it calls for none. */
export function wayWords(
  breakdown: Breakdown,
  { checkpoint, way }: Pick<Correction, 'checkpoint' | 'way'>,
  lead: Side,
): string {
  const at = breakdown.checkpoints.find(({ id }) => id === checkpoint);
  const found = at?.variants.find(({ id }) => id === way);
  return found
    ? `This body calls for “${readFor(found.name, lead)}”${found.criterion ? `: ${readFor(found.criterion, lead)}` : ''} `
    : '';
}

/** The prescription as a coach would say it: what, why, and how much, each with its numbers. */
export interface PrescriptionWords {
  /** The instruction, in one sentence. */
  what: string;
  /** Why this comes first, in one sentence with its numbers. */
  why: string;
  /** Cue, dose and when to stop; empty where there is nothing to dose. */
  how: string;
}

export function prescriptionWords(
  breakdown: Breakdown,
  prescription: Prescription,
  name: string,
  lead: Side,
): PrescriptionWords {
  const point = (id: Id) => checkpointWords(breakdown, id, lead);
  switch (prescription.kind) {
    case 'none':
      return {
        what: `Nothing to correct first for ${name}.`,
        why: `In ${many(prescription.reps, 'rep')}, every checkpoint holds as well as the squad’s best quarter.`,
        how: 'Raise the resistance or move to the next technique.',
      };
    case 'watch':
      return watchWords(prescription, name, point);
    case 'correct':
      return correctionWords(breakdown, prescription, name, lead, point);
  }
}

type Point = (id: Id) => string;

function watchWords(
  prescription: Extract<Prescription, { kind: 'watch' }>,
  name: string,
  point: Point,
): PrescriptionWords {
  const { checkpoint, reached, failed, more, rung, startAt } = prescription;
  return {
    what: `Watch ${many(more, 'more rep')} of ${name} at rung ${rung}${startAt ? `, started at ${point(startAt)}` : ''}.`,
    why:
      reached >= fewestReps
        ? `Not clear yet: ${failed} of the ${many(reached, 'rep')} that reached ${point(checkpoint)}, the biggest likely gain, ${failed === 1 ? 'was' : 'were'} lost there.`
        : `Not enough reps yet: ${reached === 0 ? 'no rep has' : `only ${many(reached, 'rep has', 'reps have')}`} reached ${point(checkpoint)}, the biggest likely gain.`,
    how: '',
  };
}

function correctionWords(
  breakdown: Breakdown,
  prescription: Correction,
  name: string,
  lead: Side,
  point: Point,
): PrescriptionWords {
  const {
    checkpoint,
    reached,
    failed,
    failedHere,
    open,
    hazard,
    leak,
    gain,
    finishRate,
    insteadOf,
    symptom,
    mistake,
    toldBy,
    dose,
  } = prescription;
  const blocked = breakdown.defences.find(({ id }) => id === prescription.defence);
  const answer = blocked?.answers[0]?.how;
  const cue = breakdown.mistakes.find(({ id }) => id === mistake)?.cue;
  const instead = insteadOf ? ` ${point(insteadOf)} would gain more, but it depends on this one.` : '';
  const later = failed - failedHere;
  const untold =
    open > 0
      ? ` ${many(open, 'later stop')} may belong here too: tag ${open === 1 ? 'its cause' : 'their causes'}.`
      : '';
  const more = open > 0 ? `, plus up to ${open} untagged` : '';
  const guess = toldBy === 'others' ? ' No tags yet: based on the squad and the breakdown.' : '';
  const lift = `${percent(finishRate)} to ${percent(finishRate + gain.value)}`;
  return {
    what: `${name}: correct ${point(checkpoint)} first.`,
    why:
      (later > 0
        ? (symptom
            ? `It shows at ${point(symptom)}, it starts at ${numberOf(breakdown, checkpoint)}. `
            : '') +
          `${failed} of the ${many(reached + open, 'rep')} that got here were lost by it, ${failedHere} here and ${later} later${more} ` +
          `(now ${percent(hazard.value)}, ${range(hazard)}). Fixed there, the finish rate would rise from ${lift}.`
        : `${failed} of the ${many(reached, 'rep')} that reached it ended there (now ${percent(hazard.value)}, ${range(hazard)}): ` +
          `${percent(leak.value)} of all reps. Fixing it to ${percent(prescription.target)} would lift the finish rate from ${lift}.`) +
      guess +
      (later > 0 ? '' : untold) +
      instead,
    how:
      wayWords(breakdown, prescription, lead) +
      (cue ? `Cue: ${readFor(cue, lead)} ` : '') +
      (blocked
        ? `The partner usually ends it: ${readFor(blocked.title, lead)}. ` +
          (answer
            ? `Answer: ${readFor(answer, lead)} `
            : 'No answer is recorded yet: add one in the Library. ')
        : '') +
      doseWords(dose, betweenOf(breakdown, dose)) +
      `; stop when it has held ${prescription.heldInARow} times in a row.`,
  };
}
