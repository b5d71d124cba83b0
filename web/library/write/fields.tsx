import { memo, type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import styled from 'styled-components';
import { Button } from '../../ui/button';
import { Checkbox } from '../../ui/checkbox';
import { type Option, Select } from '../../ui/select';

/** The way to a field of the work. */
export type Path = readonly (string | number)[];
/** Sets the value at a path of the work. */
export type Set = (path: Path, value: unknown) => void;

const Label = styled.label`
  /* Own stacking context, so typing repaints only this field. */
  isolation: isolate;
  display: grid;
  gap: 0.15rem;
  font-size: 0.9rem;
  color: var(--muted);
  textarea,
  input {
    color: var(--ink);
    font-size: 1rem;
    padding: 0.35rem 0.55rem;
    border: 1.5px solid var(--line);
    border-radius: 6px;
    background: var(--surface);
    width: 100%;
    min-height: 2.2rem;
  }
  textarea {
    resize: vertical;
  }
`;

/**
 * Browsers look through the whole form of a field, options and folded parts too, at every key, for what they could fill in;
 * what is in no form counts as one. A form of its own keeps that to the field.
 */
const Alone = styled.form`
  display: contents;
`;

/** How long a pause in typing is, after which the rest of the page is told. */
const pauseMs = 300;
/** After this long the page has caught up: it then shows the current state. */
const settleMs = 1500;

/** Tells the page what was typed and not told yet. */
let untold: (() => void) | null = null;
/** Before anything is pressed: on a tablet a field keeps the focus then, and it may be gone with the press. */
const tellFirst = () => untold?.();

/** What a field does when it is typed in. */
const typing = new WeakMap<EventTarget, () => void>();
const ofTyping = ['keydown', 'keypress', 'keyup', 'beforeinput', 'textInput', 'input', 'selectionchange'];

/**
 * While a text is typed, nobody else on the page hears of it: React listens to everything, and on a slow tablet each of
 * the seven events of a key costs a millisecond. Keys that are not letters, and those with Ctrl or Alt, are for everybody.
 */
function quietly(event: Event): void {
  const type = event.target && typing.get(event.target);
  if (!type) return;
  if (event instanceof KeyboardEvent)
    if (event.key.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return;
  event.stopPropagation();
  if (event.type === 'input') type();
}

interface TextProps {
  label: string;
  path: Path;
  value: string;
  set: Set;
  long?: boolean;
  /** Only a number is taken, and told as text; what is left empty is again what it was, or where it is open, empty. */
  number?: boolean | 'open';
  /** The id of a list of suggestions. */
  list?: string;
}

/**
 * A text of the breakdown. Keys are the field's own business, and React has no part in them; the rest of the page is told
 * after a pause, or when one leaves it. Alt+R and Alt+L write the side tokens.
 */
export const TextInput = memo(
  function TextInput({ label, path, value, set, long, number, list }: TextProps) {
    const field = useRef<HTMLTextAreaElement & HTMLInputElement>(null);
    const told = useRef(value);
    const [initial] = useState(value);
    const latest = useRef({ path, set, value });
    useEffect(() => {
      latest.current = { path, set, value };
    });
    /** What was told and has not come back yet: on a slow device the page may come to an earlier one of it first. */
    const onItsWay = useRef(new Set<string>());
    // A value from elsewhere (undo, a merge) replaces what is typed; our own comes back as it was told.
    useEffect(() => {
      const take = () => {
        onItsWay.current.clear();
        const { value: now } = latest.current;
        if (now === told.current) return;
        told.current = now;
        field.current!.value = now;
      };
      if (value === told.current || !onItsWay.current.has(value)) {
        take();
        return;
      }
      const later = setTimeout(take, settleMs);
      return () => clearTimeout(later);
    }, [value]);
    useEffect(() => {
      const at = field.current!;
      const needed = number === true;
      let timer: ReturnType<typeof setTimeout> | undefined;
      const tell = () => {
        clearTimeout(timer);
        if (untold === tell) untold = null;
        if (at.value === told.current || (needed && at.value === '')) return;
        told.current = at.value;
        onItsWay.current.add(at.value);
        latest.current.set(latest.current.path, at.value);
      };
      const type = () => {
        clearTimeout(timer);
        untold = tell;
        timer = setTimeout(tell, pauseMs);
      };
      const leave = () => {
        if (needed && at.value === '') at.value = told.current;
        tell();
      };
      const key = (event: KeyboardEvent) => {
        if (at.type === 'number') return;
        const side = event.altKey && { KeyR: 'right', KeyL: 'left' }[event.code];
        // One press is one token, however long it is held.
        if (!side || event.defaultPrevented) return;
        event.preventDefault();
        if (event.repeat) return;
        at.setRangeText(`{${side}}`, at.selectionStart ?? 0, at.selectionEnd ?? 0, 'end');
        type();
      };
      at.addEventListener('keydown', key);
      at.addEventListener('blur', leave);
      typing.set(at, type);
      // One listener serves all fields: to add it again does nothing.
      for (const name of ofTyping) window.addEventListener(name, quietly, true);
      window.addEventListener('pointerdown', tellFirst, true);
      return () => {
        clearTimeout(timer);
        if (untold === tell) untold = null;
        at.removeEventListener('keydown', key);
        at.removeEventListener('blur', leave);
      };
    }, [number]);
    const shared = { ref: field, defaultValue: initial, 'data-path': path.join('.') };
    return (
      <Alone onSubmit={(event) => event.preventDefault()}>
        <Label>
          {label}
          {long ? (
            <textarea rows={2} {...shared} />
          ) : (
            <input {...shared} {...(number ? { type: 'number', step: 'any' } : { maxLength: 60, list })} />
          )}
        </Label>
      </Alone>
    );
  },
  (a, b) =>
    a.value === b.value && a.label === b.label && a.set === b.set && a.path.join('.') === b.path.join('.'),
);

export const NumberInput = ({
  label,
  path,
  value,
  set,
}: {
  label: string;
  path: Path;
  value: number;
  set: Set;
}) => {
  const toldAsNumber: Set = useCallback((to, text) => set(to, Number(text)), [set]);
  return (
    <TextInput
      number
      label={label}
      path={path}
      value={Number.isFinite(value) ? String(value) : ''}
      set={toldAsNumber}
    />
  );
};

/** A number that may be left empty, which is null. */
export const OpenNumberInput = ({
  label,
  path,
  value,
  set,
}: {
  label: string;
  path: Path;
  value: number | null;
  set: Set;
}) => {
  const toldAsNumber: Set = useCallback(
    (to, text) => set(to, String(text).trim() === '' ? null : Number(text)),
    [set],
  );
  return (
    <TextInput
      number="open"
      label={label}
      path={path}
      value={value === null ? '' : String(value)}
      set={toldAsNumber}
    />
  );
};

/** A value that stays the same object while it says the same, so that what is drawn from it is not drawn again. */
export function useSame<T>(value: T): T {
  const text = JSON.stringify(value);
  return useMemo(() => JSON.parse(text) as T, [text]);
}

export const SelectInput = <T extends string>({
  path,
  ...select
}: {
  label: string;
  path: Path;
  value: T;
  options: readonly Option<NoInfer<T>>[];
  onChange: (value: NoInfer<T>) => void;
}) => <Select above="small" path={path.join('.')} {...select} />;

const plain = new WeakMap<readonly string[], readonly { value: string; text: string }[]>();

/** The choices of a select. */
export type Options = readonly { value: string; text: string }[];

/** Options that are called what they are; the same list for the same list. */
export function plainly<T extends string>(list: readonly T[]): readonly { value: T; text: string }[] {
  let options = plain.get(list);
  if (!options) plain.set(list, (options = list.map((value) => ({ value, text: value }))));
  return options as readonly { value: T; text: string }[];
}

const Boxes = styled.fieldset`
  isolation: isolate;
  border: 0;
  padding: 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.9rem;
  legend {
    font-size: 0.9rem;
    color: var(--muted);
    padding: 0;
  }
`;

/** Any of several. */
export function ManyInput<T extends string>({
  label,
  path,
  options,
  value,
  onChange,
}: {
  label: string;
  path: Path;
  options: readonly Option<NoInfer<T>>[];
  value: readonly T[];
  onChange: (value: T[]) => void;
}) {
  return (
    <Boxes data-path={path.join('.')} tabIndex={-1}>
      <legend>{label}</legend>
      {options.map((option) => (
        <Checkbox
          key={option.value}
          isSelected={value.includes(option.value)}
          onChange={(on) =>
            onChange(on ? [...value, option.value] : value.filter((one) => one !== option.value))
          }
        >
          {option.text}
        </Checkbox>
      ))}
    </Boxes>
  );
}

export const Check = ({
  label,
  value,
  onChange,
}: {
  label: string;
  value: boolean;
  onChange: (value: boolean) => void;
}) => (
  <Checkbox isSelected={value} onChange={onChange}>
    {label}
  </Checkbox>
);

export const Pane = styled.section`
  display: grid;
  gap: 0.7rem;
`;

const Folded = styled.details`
  isolation: isolate;
  border-top: 1px solid var(--line);
  padding-top: 0.5rem;
  > summary {
    cursor: pointer;
    font-weight: 650;
    min-height: 1.9rem;
  }
  > div {
    display: grid;
    gap: 0.6rem;
    padding: 0.4rem 0 0.6rem;
  }
`;

/** A part of the form that can be folded away; a finding in it opens it. */
export const Part = ({
  title,
  open = true,
  children,
}: {
  title: string;
  open?: boolean;
  children: ReactNode;
}) => (
  <Folded open={open}>
    <summary>{title}</summary>
    <div>{children}</div>
  </Folded>
);

const Fold = styled(Folded)`
  border-top: 0;
  border-left: 3px solid var(--line);
  padding: 0 0 0 0.7rem;
  > summary {
    font-weight: 400;
    min-height: 2.2rem;
    align-content: center;
  }
`;

/** One of several that are alike, by its name; drawn once it is opened. A new one is open, and stays so while it is given a name. */
export function Unfold({ name, path, children }: { name: string; path: Path; children: ReactNode }) {
  const [isNew] = useState(name === '');
  const [drawn, setDrawn] = useState(isNew);
  return (
    <Fold
      open={isNew}
      data-path={path.join('.')}
      onToggle={({ currentTarget }) => currentTarget.open && setDrawn(true)}
    >
      <summary>{name || <i>unnamed</i>}</summary>
      {drawn && <div>{children}</div>}
    </Fold>
  );
}

export const Two = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(9rem, 1fr));
  gap: 0.5rem;
`;

const Plain = styled(Button)`
  justify-self: start;
  min-height: 2.1rem;
  padding: 0 0.7rem;
  border-color: var(--line);
  font-weight: 400;
`;
export const Small = ({
  onClick,
  children,
  disabled = false,
  label,
}: {
  onClick: () => void;
  children: ReactNode;
  disabled?: boolean;
  label?: string;
}) => (
  <Plain $quiet onPress={onClick} isDisabled={disabled} aria-label={label}>
    {children}
  </Plain>
);
