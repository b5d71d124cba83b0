import type { Breakdown, Door, Id } from '../breakdown';
import type { CareNote } from '../care';
import type { Rep } from '../rep';
import type { GroupChange } from './groups';
import type { Setting } from './session';
import type { Begun, Tap } from './tapping';
import type { Pair } from './turn';

/** The panel over the Mat. */
export type Over =
  | {
      is:
        'about' | 'earlier day' | 'everybody' | 'keys' | 'let' | 'pairs' | 'play' | 'reps' | 'twice' | 'work';
    }
  | { is: 'care'; note: CareNote }
  | { is: 'undo'; rep: Rep };

/** Something that was said: about one pair, with which it leaves the screen, or about the class. */
export interface Notice {
  words: string;
  /** The key of the pair; null for the class. */
  about: string | null;
  /** It changes what the coach does next, so it takes the place of the advice for a moment if there is no other room. */
  loud: boolean;
  /** The how-manieth thing that was said: the same words twice are said twice. */
  nth: number;
}

/**
 * What one device holds of a running class. Everything that decides whose rep it is, is in the facts of the class, not
 * here.
 */
export interface MatState {
  /** The pair that is open, by its people. */
  open: Pair | null;
  /** What is begun on each pair and not logged yet, by the pair's key. */
  begun: ReadonlyMap<string, Begun>;
  over: Over | null;
  said: Notice | null;
  /** The last ending that was tapped here, if a finger tapped it. */
  ended: { pair: string; at: number } | null;
  /** Undos of this device's reps by others that this coach has read. */
  read: ReadonlySet<string>;
  /** The coach has said that a class of an earlier day goes on. */
  goesOn: boolean;
}

export const matAtRest: MatState = {
  open: null,
  begun: new Map(),
  over: null,
  said: null,
  ended: null,
  read: new Set(),
  goesOn: false,
};

/** What can be done on the Mat, from wherever it comes. */
export type MatAction =
  | { do: 'open'; pair: Pair }
  /** To the next or the previous pair in walking order. */
  | { do: 'walk'; by: 1 | -1 }
  /** `finger`: it came from a pointer, of which a second one at once is a slip. */
  | { do: 'tap'; tap: Tap; finger?: boolean }
  /** A tap on what the attacker works on. */
  | { do: 'stop at work' }
  | { do: 'go on'; door: Door }
  | { do: 'meet'; defence: Id; answer: Id | null }
  /** A defence is called to the partner; `draw` is a number in [0, 1). */
  | { do: 'call'; draw: number }
  | { do: 'come back' }
  | { do: 'change'; set: Setting; words?: string }
  | { do: 'rung'; step: 1 | -1 }
  /** Who works with whom, as one coach changed it. */
  | { do: 'regroup'; changes: readonly GroupChange[] }
  | { do: 'everybody switches' }
  | { do: 'partners rotate' }
  | { do: 'clock' }
  /** Asks first where another device logged it. */
  | { do: 'undo'; rep: Rep; sure?: boolean }
  | { do: 'undo last' }
  | { do: 'restore'; rep: Rep }
  | { do: 'move'; rep: Rep; to: Pick<Rep, 'student' | 'partner' | 'side'> }
  /** Two reps that look like one: one of them is kept, or both are reps, or one becomes a second opinion on the other. */
  | { do: 'twice'; two: readonly [Rep, Rep]; keep: Rep | 'both'; opinion?: boolean }
  | { do: 'read'; undo: string }
  /** The class began on an earlier day, and its reps of today belong to it. */
  | { do: 'class goes on' }
  | { do: 'safety' }
  | { do: 'over'; over: Over | null };

/** A fact to be entered, without what every fact has. */
export type Entered =
  | { is: 'rep'; rep: Rep }
  | { is: 'change'; set: Setting }
  | { is: 'void'; rep: string; restores?: true }
  | { is: 'look'; rep: string; stop: Id | null }
  | { is: 'note'; note: CareNote };

/** A stop that waits for its cause. */
export interface CauseAsked {
  rep: string;
  breakdown: Breakdown;
  place: number;
  side: Rep['side'];
}

/** The result of an action. */
export interface MatStep {
  state: MatState;
  enter: readonly Entered[];
  /** The stop whose cause is asked for now, null to ask no more; undefined leaves it as it is. */
  ask?: CauseAsked | null;
  /** The clock was started, or a defence called: it is heard as well. */
  signal?: true;
}
