import { type Breakdown, numberOf } from '../breakdown';
import type { Rep } from '../rep';

/** How a rep ended, without the circumstances of the rep. */
export type Ending =
  | { outcome: 'finished'; finish?: string }
  | { outcome: 'stopped'; stop: string }
  | { outcome: 'forced'; failed: string[]; finish?: string }
  | { outcome: 'not judged'; heldTo: string | null }
  | { outcome: 'left'; heldTo: string | null; by: string | null };

/** The marks for a rep on the sheet. */
export const paperMarks = [
  { mark: '4', means: 'stopped at checkpoint 4' },
  { mark: 'f', means: 'finished' },
  { mark: '4!', means: 'finished, although checkpoint 4 failed' },
  { mark: '4?', means: 'not judged: held up to checkpoint 4, then interrupted' },
  { mark: '4>', means: 'switched technique after checkpoint 4 held' },
  { mark: '?', means: 'not judged, nothing seen; leave a space before it' },
] as const;

/** What a line of the sheet says, and what in it cannot be read. */
export interface PaperLine {
  endings: readonly Ending[];
  faults: readonly { mark: string; reason: string }[];
}

/**
 * Reads the reps of one student on one side as written on paper, in order. Spaces and commas may separate the marks;
 * with nine checkpoints or fewer they may be left out, except before a lone `?`. `first` and `last` are the places of
 * the span, from 0.
 */
export function readPaper(
  text: string,
  breakdown: Breakdown,
  { first, last }: { first: number; last: number },
): PaperLine {
  const digits = breakdown.checkpoints.length > 9 ? '\\d+' : '\\d';
  const marks = text.match(new RegExp(`${digits}[!?>]?|[fF]|[?>]|[^\\s,;.]`, 'g')) ?? [];
  const endings: Ending[] = [];
  const faults: { mark: string; reason: string }[] = [];
  for (const mark of marks) {
    if (/^[fF]$/.test(mark)) endings.push({ outcome: 'finished' });
    else if (mark === '>') endings.push({ outcome: 'left', heldTo: null, by: null });
    else if (mark === '?') endings.push({ outcome: 'not judged', heldTo: null });
    else if (/^\d/.test(mark)) {
      const place = Number.parseInt(mark, 10) - 1;
      const checkpoint = breakdown.checkpoints[place]?.id;
      if (checkpoint === undefined) faults.push({ mark, reason: `there is no checkpoint ${place + 1}` });
      else if (place < first || place > last)
        faults.push({ mark, reason: `checkpoint ${place + 1} was not drilled` });
      else if (mark.endsWith('!')) endings.push({ outcome: 'forced', failed: [checkpoint] });
      else if (mark.endsWith('?')) endings.push({ outcome: 'not judged', heldTo: checkpoint });
      else if (mark.endsWith('>')) endings.push({ outcome: 'left', heldTo: checkpoint, by: null });
      else endings.push({ outcome: 'stopped', stop: checkpoint });
    } else faults.push({ mark, reason: 'not a mark of the sheet' });
  }
  return { endings, faults };
}

/** A rep as it is written on the sheet. */
export function paperMark(breakdown: Breakdown, rep: Rep): string {
  const number = (id: string) => numberOf(breakdown, id);
  switch (rep.outcome) {
    case 'finished':
      return 'f';
    case 'stopped':
      return `${number(rep.stop)}`;
    case 'forced':
      return rep.failed.map((id) => `${number(id)}!`).join('');
    case 'not judged':
      return rep.heldTo === null ? '?' : `${number(rep.heldTo)}?`;
    case 'left':
      return rep.heldTo === null ? '>' : `${number(rep.heldTo)}>`;
  }
}
