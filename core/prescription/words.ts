import { type Breakdown, type Id, readFor, type Side, checkpointWords, numberOf } from '../breakdown';
import { fewestReps } from '../reading';
import { many, percent, range } from '../words';
import { betweenOf, doseWords } from './card';
import { proofWords } from './proof-words';
import { answerOf } from './terms';
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
  const { inWork } = prescription;
  if (inWork?.stays) {
    const next =
      prescription.kind !== 'correct'
        ? ''
        : prescription.checkpoint === inWork.checkpoint
          ? ` ${whyWordsOf(breakdown, prescription, lead)}`
          : ` One thing at a time: ${point(prescription.checkpoint)} would not help clearly more.`;
    return {
      what: `${name}: go on with ${point(inWork.checkpoint)} at rung ${inWork.rung}.`,
      why: `It is ${inWork.state}, and stays first.${next}`,
      how: '',
    };
  }
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
  const { checkpoint, defence, answer, dose } = prescription;
  const blocked = breakdown.defences.find(({ id }) => id === defence);
  const teach = blocked && answer?.answer === null;
  return {
    what: teach
      ? `${name}: teach an answer to “${readFor(blocked.title, lead)}” first, at ${point(checkpoint)}.`
      : prescription.inWork?.state === 'stepped back' && prescription.inWork.checkpoint === checkpoint
        ? `${name}: step back to rung ${dose.rung} at ${point(checkpoint)}.`
        : `${name}: correct ${point(checkpoint)} first.`,
    why: whyWordsOf(breakdown, prescription, lead),
    how: [
      wayWords(breakdown, prescription, lead).trim(),
      causeWords(breakdown, prescription, lead),
      `${doseWords(dose, betweenOf(breakdown, dose))}${prescription.proof.by === 'dose' ? `; stop when it has held ${prescription.heldInARow} times in a row` : ''}.`,
      proofWords(breakdown, prescription, lead),
    ]
      .filter(Boolean)
      .join(' '),
  };
}

/** The counts, each as a share of what was counted; what the model makes of them is said as such. */
export function whyWordsOf(breakdown: Breakdown, prescription: Correction, lead: Side): string {
  const point = (id: Id) => checkpointWords(breakdown, id, lead);
  const { checkpoint, reached, failed, failedHere, open, here, leak, gain, finishRate } = prescription;
  const { insteadOf, symptom, toldBy, target } = prescription;
  const later = failed - failedHere;
  const lift = `from ${percent(finishRate)} to ${percent(finishRate + gain.value)}`;
  const share = reached > 0 ? ` (${percent(failed / reached)})` : '';
  return [
    later > 0 && symptom
      ? `It shows at ${point(symptom)}, it starts at ${numberOf(breakdown, checkpoint)}.`
      : '',
    later > 0
      ? `${failed} of ${many(reached, 'rep')} that show it were lost because of ${numberOf(breakdown, checkpoint)}${share}: ${failedHere} there and ${later} later.`
      : `${failed} of the ${many(reached, 'rep')} that reached it ended there${share}.`,
    open > 0
      ? `${many(open, 'later stop')} may belong here too: tag ${open === 1 ? 'its cause' : 'their causes'}.`
      : '',
    later > 0
      ? `By the model, the finish rate would rise ${lift} if it were fixed.`
      : `By the model, which weighs recent reps and the squad, ${percent(here.value)} are lost here (${range(here)}), ${percent(leak.value)} of all reps; at ${percent(target)} the finish rate would rise ${lift}.`,
    toldBy === 'others' ? 'No tags yet: based on the squad and the breakdown.' : '',
    insteadOf ? `${point(insteadOf)} would gain more, but it depends on this one.` : '',
  ]
    .filter(Boolean)
    .join(' ');
}

/** A sentence with its full stop. */
const closed = (text: string): string => text.replace(/\.?$/, '.');

/** The cue of the mistake, or the answer to the defence, that explains most of the losses; and its own drill and task. */
function causeWords(breakdown: Breakdown, prescription: Correction, lead: Side): string {
  const { mistake, defence, ownDrill } = prescription;
  const cue = breakdown.mistakes.find(({ id }) => id === mistake)?.cue;
  const blocked = breakdown.defences.find(({ id }) => id === defence);
  return [
    cue ? `Cue: ${readFor(cue, lead)}` : '',
    blocked ? `The partner usually ends it: ${closed(readFor(blocked.title, lead))}` : '',
    blocked ? answerWords(breakdown, prescription, lead) : '',
    blocked?.signal ? `Signal: ${closed(readFor(blocked.signal, lead))}` : '',
    blocked?.task ? `Partner: ${readFor(blocked.task, lead)}` : '',
    ownDrill === null ? '' : `Drill: ${closed(readFor(ownDrill, lead))}`,
  ]
    .filter(Boolean)
    .join(' ');
}

/** The answer that is named, and how much is known of it. */
export function answerWords(
  breakdown: Pick<Breakdown, 'defences'>,
  correction: Pick<Correction, 'answer'>,
  lead: Side,
): string {
  const named = answerOf(breakdown, correction);
  const { known } = correction.answer ?? { known: null };
  if (!named)
    return 'No answer is recorded yet: try some against a slow partner, and add the one that works in the Library.';
  const how = closed(readFor(named.how, lead));
  const others = breakdown.defences.find(({ id }) => id === correction.answer!.defence)!.answers.length > 1;
  if (known) return `Answer: ${how} It worked ${known.worked} of ${known.tried} times here.`;
  return `Answer: ${how}${others ? ' It is the first that is recorded: nobody knows yet which works best here.' : ''}`;
}
