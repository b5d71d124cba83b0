import { useEffectEvent, useLayoutEffect, useRef } from 'react';

/**
 * The commands of the Mat with their usual keys, in the order in which they are explained. Chosen for one hand on a laptop;
 * a clicker sends PageDown and PageUp, and these two are all that a sign-off needs.
 */
export const commands = [
  { name: 'finish', keys: ['Enter', 'PageDown'], what: 'the rep finished' },
  { name: 'stopAtWork', keys: ['PageUp'], what: 'the rep stopped at what the attacker works on' },
  { name: 'pairBefore', keys: ['['], what: 'the pair before' },
  { name: 'nextPair', keys: [']'], what: 'the next pair' },
  { name: 'swap', keys: ['s'], what: 'swap roles' },
  { name: 'changeSide', keys: ['l'], what: 'change the lead side' },
  { name: 'everybodySwitches', keys: ['w'], what: 'everybody switches roles' },
  { name: 'rungDown', keys: ['-'], what: 'one rung down' },
  { name: 'rungUp', keys: ['='], what: 'one rung up' },
  { name: 'clock', keys: [' '], what: 'start or pause the clock' },
  { name: 'undo', keys: ['u'], what: 'undo the last entry of this device' },
  { name: 'forced', keys: ['f'], what: 'forced: mark what failed, then finish' },
  { name: 'notJudged', keys: ['n'], what: 'not judged: the last knot that held' },
  { name: 'safety', keys: ['x'], what: 'stop for safety' },
  { name: 'help', keys: ['?'], what: 'show these keys' },
] as const;

export type Command = (typeof commands)[number]['name'];
export type Keys = Readonly<Record<Command, readonly string[]>>;

/** Keys that are the same for everybody: digits are knots. */
export const fixedKeys = [
  ['1–9', 'the rep stopped at that knot'],
  ['Shift + 1–9', 'mark that knot soft for the rep that is running'],
] as const;

export type MatActions = Readonly<Record<Command, () => void>> & {
  stopAt(place: number): void;
  soften(place: number): void;
};

export const usualKeys = Object.fromEntries(
  commands.map(({ name, keys }) => [name, keys]),
) as unknown as Keys;

const storedAs = 'ulkret-mat-keys';

/** The keys as they were chosen on this device. What is stored and cannot be read counts as not chosen. */
export function chosenKeys(): Keys {
  try {
    const chosen = JSON.parse(localStorage.getItem(storedAs) ?? '{}') as Record<string, unknown>;
    return Object.fromEntries(
      commands.map(({ name, keys }) => {
        const own = chosen[name];
        return [name, Array.isArray(own) && own.every((key) => typeof key === 'string') ? own : keys];
      }),
    ) as unknown as Keys;
  } catch {
    return usualKeys;
  }
}

export const keepKeys = (keys: Keys): void => localStorage.setItem(storedAs, JSON.stringify(keys));

/** The keys after one was given to a command: it is taken from whichever had it. Digits, Tab and Escape are not given away. */
export function withKey(keys: Keys, command: Command, key: string): Keys {
  if (/^[0-9]$/.test(key) || ['Tab', 'Escape', 'Shift', 'Control', 'Alt', 'Meta'].includes(key)) return keys;
  return Object.fromEntries(
    commands.map(({ name }) => [
      name,
      name === command ? [key] : keys[name].filter((other) => other !== key),
    ]),
  ) as unknown as Keys;
}

export const keyName = (key: string): string =>
  key === ' ' ? 'Space' : key.length === 1 ? key : key.replace(/([a-z])([A-Z])/g, '$1 $2');

const inField = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.closest('input, textarea, select, [role="dialog"]') !== null;

/**
 * Listens to the Mat's keys wherever the focus is, but in fields and dialogs. A button keeps Enter and Space for itself
 * only where Tab led to it: after a tap on a knot, Enter is still a finish and not that knot once more.
 */
export function useMatKeys(actions: MatActions, keys: Keys): void {
  const tabbed = useRef(false);
  const press = useEffectEvent((event: KeyboardEvent) => {
    if (event.key === 'Tab') tabbed.current = true;
    if (event.ctrlKey || event.metaKey || event.altKey || inField(event.target)) return;
    const digit = /^Digit([1-9])$/.exec(event.code)?.[1];
    const ofButton = tabbed.current && (event.key === 'Enter' || event.key === ' ');
    const command = ofButton ? undefined : commands.find(({ name }) => keys[name].includes(event.key))?.name;
    const action = digit
      ? () => (event.shiftKey ? actions.soften(Number(digit) - 1) : actions.stopAt(Number(digit) - 1))
      : command && actions[command];
    if (!action) {
      // A button that was tapped keeps the focus; it is not tapped again by a key that means nothing here.
      if (!tabbed.current && (event.key === 'Enter' || event.key === ' ')) event.preventDefault();
      return;
    }
    event.preventDefault();
    event.stopPropagation();
    if (!event.repeat) action();
  });
  // From the moment that the Mat is seen: a key that comes before the first pause is a rep as well.
  useLayoutEffect(() => {
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
