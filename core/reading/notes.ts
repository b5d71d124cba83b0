import { type Breakdown, otherSide, type Side, checkpointWords } from '../breakdown';
import { percent, sure } from '../words';
import { sideGapAbove } from './sight';
import type { CheckpointReading, Partner, Reading } from './reading';

/** A difference in hold rates that one would notice on the mat. */
const worthSaying = 0.1;

/** Something about a student that a coach would say, and the checkpoint it is about. */
export interface ReadingNote {
  checkpoint: string;
  text: string;
}

/**
 * Findings of a reading, as a coach would say them: a leak that hides a later one, a side, a rung or a partner that
 * makes the difference. Silent on too little evidence.
 */
export function notesOf(breakdown: Breakdown, reading: Reading, name: string, mainSide: Side): ReadingNote[] {
  const named = ({ checkpoint }: CheckpointReading) => checkpointWords(breakdown, checkpoint, mainSide);
  const notes: ReadingNote[] = [];
  const note = (at: CheckpointReading, text: string) => notes.push({ checkpoint: at.checkpoint, text });

  const most = reading.checkpoints.reduce((a, b) => (b.failed > a.failed ? b : a));
  const hidden = reading.checkpoints
    .slice(reading.checkpoints.indexOf(most) + 1)
    .filter(
      ({ enough, hazard, failed }) => enough && failed < most.failed && hazard.value > most.hazard.value,
    )
    .sort((a, b) => b.hazard.value - a.hazard.value)[0];
  if (most.failed > 0 && hidden)
    note(
      hidden,
      `By count, most of ${name}’s reps end at ${named(most)} (${most.failed}). But of the ${hidden.reached} that got as far as ${named(hidden)}, ${percent(hidden.hazard.value)} end there: the early leak hides the late one.`,
    );
  for (const at of reading.checkpoints) {
    const off = otherSide(mainSide);
    const held = (side: Side) => at.bySide.find((one) => one.side === side)?.held.value ?? 0;
    if (at.sideGap !== null && at.sideGap > sideGapAbove && held(mainSide) - held(off) > worthSaying) {
      note(
        at,
        `${named(at)} breaks more often with the ${off} lead: it holds ${percent(held(off))} there and ${percent(held(mainSide))} with the ${mainSide} (chance ${sure(at.sideGap)}).`,
      );
    }
    const heldWith = (partner: Partner) =>
      at.byPartner.find((one) => one.partner === partner)?.held.value ?? 0;
    const lost = heldWith('lighter') - heldWith('heavier');
    if (at.massGap !== null && at.massGap > sideGapAbove && lost > worthSaying) {
      note(
        at,
        `${named(at)} breaks under a heavier partner: it holds ${percent(heldWith('heavier'))} against ${percent(heldWith('lighter'))} with a lighter one (chance ${sure(at.massGap)}).`,
      );
    }
    const above = at.byRung.find(({ rung }) => at.holdsUpTo !== null && rung > at.holdsUpTo);
    const below = at.byRung.find(({ rung }) => rung === at.holdsUpTo);
    if (above && below && at.enough && above.held.high < below.held.low)
      note(
        at,
        `${named(at)} holds up to rung ${below.rung} (${percent(below.held.value)}) and breaks at rung ${above.rung} (${percent(above.held.value)}).`,
      );
  }
  return notes;
}
