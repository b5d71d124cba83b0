import { useEffect, useEffectEvent } from 'react';

/** The keys of the Mat, in the order in which they are explained. Chosen for one hand on a laptop, or a clicker. */
export const matKeys = [
  ['1–9', 'the rep stopped at that knot'],
  ['Enter', 'the rep finished'],
  ['Shift + 1–9', 'mark that knot soft for the rep that is running'],
  ['[ and ]', 'the pair before, the next pair'],
  ['s', 'swap roles'],
  ['l', 'change the lead side'],
  ['- and =', 'one rung down, one rung up'],
  ['Space', 'start or pause the clock'],
  ['u', 'undo the last entry'],
  ['?', 'show these keys'],
] as const;

export interface MatActions {
  stopAt(place: number): void;
  soften(place: number): void;
  finish(): void;
  pair(step: 1 | -1): void;
  swap(): void;
  changeSide(): void;
  rung(step: 1 | -1): void;
  clock(): void;
  undo(): void;
  help(): void;
}

const inField = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.closest('input, textarea, select, [role="dialog"]') !== null;

/** Listens to the Mat's keys wherever the focus is, but in fields and dialogs. A focused button keeps Enter and Space for itself only when it was reached by Tab. */
export function useMatKeys(actions: MatActions): void {
  const press = useEffectEvent((event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || inField(event.target)) return;
    const digit = /^Digit([1-9])$/.exec(event.code)?.[1];
    const tabbedTo =
      event.target instanceof HTMLElement && event.target.matches('button:focus-visible, a:focus-visible');
    const simple: Record<string, (() => void) | undefined> = {
      '[': () => actions.pair(-1),
      ']': () => actions.pair(1),
      s: actions.swap,
      l: actions.changeSide,
      '-': () => actions.rung(-1),
      '=': () => actions.rung(1),
      u: actions.undo,
      '?': actions.help,
      Enter: tabbedTo ? undefined : actions.finish,
      ' ': tabbedTo ? undefined : actions.clock,
    };
    const action = digit
      ? () => (event.shiftKey ? actions.soften(Number(digit) - 1) : actions.stopAt(Number(digit) - 1))
      : simple[event.key];
    if (!action || event.repeat) return;
    event.preventDefault();
    action();
  });
  useEffect(() => {
    const listener = (event: KeyboardEvent) => press(event);
    window.addEventListener('keydown', listener);
    return () => window.removeEventListener('keydown', listener);
  }, []);
}
