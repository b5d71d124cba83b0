import { useEffect, useEffectEvent, useRef } from 'react';

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

/**
 * Listens to the Mat's keys wherever the focus is, but in fields and dialogs. A button keeps Enter and Space for itself
 * only where Tab led to it: after a tap on a knot, Enter is still a finish and not that knot once more.
 */
export function useMatKeys(actions: MatActions): void {
  const tabbed = useRef(false);
  const press = useEffectEvent((event: KeyboardEvent) => {
    if (event.key === 'Tab') tabbed.current = true;
    if (event.ctrlKey || event.metaKey || event.altKey || inField(event.target)) return;
    const digit = /^Digit([1-9])$/.exec(event.code)?.[1];
    const simple: Record<string, (() => void) | undefined> = {
      '[': () => actions.pair(-1),
      ']': () => actions.pair(1),
      s: actions.swap,
      l: actions.changeSide,
      '-': () => actions.rung(-1),
      '=': () => actions.rung(1),
      u: actions.undo,
      '?': actions.help,
      Enter: tabbed.current ? undefined : actions.finish,
      ' ': tabbed.current ? undefined : actions.clock,
    };
    const action = digit
      ? () => (event.shiftKey ? actions.soften(Number(digit) - 1) : actions.stopAt(Number(digit) - 1))
      : simple[event.key];
    if (!action) return;
    event.preventDefault();
    event.stopPropagation();
    if (!event.repeat) action();
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => press(event);
    const onPointer = () => (tabbed.current = false);
    // In the capture phase, before the button that happens to have the focus hears of it.
    window.addEventListener('keydown', onKey, true);
    window.addEventListener('pointerdown', onPointer, true);
    return () => {
      window.removeEventListener('keydown', onKey, true);
      window.removeEventListener('pointerdown', onPointer, true);
    };
  }, []);
}
