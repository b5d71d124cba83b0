import type { ClockAt, Session } from '@ulkret/core/session';

/** What the round clock has to say, in the order of a round. */
export type Signal = 'start' | 'half' | 'warning' | 'end';

/** Pitches in hertz and lengths in seconds: told apart with the back to the screen. */
const tunes: Readonly<Record<Signal, readonly [hertz: number, seconds: number][]>> = {
  start: [[880, 0.35]],
  half: [
    [660, 0.18],
    [660, 0.18],
  ],
  warning: [
    [990, 0.1],
    [990, 0.1],
    [990, 0.1],
  ],
  end: [
    [520, 0.45],
    [390, 0.7],
  ],
};

const gap = 0.09;
let context: AudioContext | null = null;

/** Plays a signal, made on the spot. A browser plays nothing before the first tap on the page; the screen shows it anyway. */
export function play(signal: Signal): void {
  if (typeof AudioContext === 'undefined') return;
  context ??= new AudioContext();
  void context.resume();
  let at = context.currentTime + 0.02;
  for (const [hertz, seconds] of tunes[signal]) {
    const tone = context.createOscillator();
    const volume = context.createGain();
    tone.type = 'square';
    tone.frequency.value = hertz;
    volume.gain.setValueAtTime(0.0001, at);
    volume.gain.exponentialRampToValueAtTime(0.4, at + 0.02);
    volume.gain.setValueAtTime(0.4, at + seconds - 0.04);
    volume.gain.exponentialRampToValueAtTime(0.0001, at + seconds);
    tone.connect(volume).connect(context.destination);
    tone.start(at);
    tone.stop(at + seconds);
    at += seconds + gap;
  }
}

/** Seconds before the end at which the round warns. */
const warnSeconds = 10;

/** The signal that is due between two looks at the clock, or null. */
export function signalAt(
  before: ClockAt,
  now: ClockAt,
  { roundSeconds, repsPerSide }: Pick<Session, 'roundSeconds' | 'repsPerSide'>,
): Signal | null {
  // A rest ends on its own.
  if (now.round > before.round) return 'start';
  const passed = (mark: number) => before.left > mark && now.left <= mark;
  if (passed(0)) return 'end';
  if (passed(warnSeconds) && roundSeconds > 3 * warnSeconds) return 'warning';
  if (repsPerSide === null && passed(roundSeconds / 2)) return 'half';
  return null;
}

export const signalWords: Readonly<Record<Signal, string>> = {
  start: 'Go',
  half: 'Change sides',
  warning: `${warnSeconds} seconds`,
  end: 'Stop: round over',
};
