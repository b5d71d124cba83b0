import { dequal } from 'dequal';
import { memo, type ReactNode, type RefObject, useEffect, useMemo, useRef, useState } from 'react';
import styled from 'styled-components';
import { Button } from '../../ui/button';
import { Checkbox } from '../../ui/checkbox';
import { type Option, Select } from '../../ui/select';
import type { Typing } from './typing';
import { type Path, type Set, useAt, useWriting } from './writing';

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

/** After this long the page has caught up: it then shows the current state. */
const settleMs = 1500;

/** How a value is written as a text, and read from one. */
export interface AsText {
  text: (value: unknown) => string;
  value: (text: string) => unknown;
  /** Only a number can be typed. */
  number?: boolean;
  /** A field that is left empty gets back what it had. */
  needed?: boolean;
}
const plainText: AsText = { text: (value) => (value ?? '') as string, value: (text) => text };
/** A text that may be missing. */
const optionalText: AsText = { ...plainText, value: (text) => (text === '' ? undefined : text) };
const separated = (by: RegExp, joint: string): AsText => ({
  text: (value) => (value as readonly string[]).join(joint),
  value: (text) =>
    text
      .split(by)
      .map((one) => one.trim())
      .filter(Boolean),
});
/** A list, one item a line. */
export const lines = separated(/\n/, '\n');
/** A list with commas. */
export const commas = separated(/,/, ', ');
const numberText: AsText = {
  text: (value) => (Number.isFinite(value) ? String(value) : ''),
  value: Number,
  number: true,
  needed: true,
};
/** A number that may be left empty, which is `empty`. */
const openNumber = (empty: null | undefined | number): AsText => ({
  text: (value) => (value === null || value === undefined ? '' : String(value as number)),
  value: (text) => (text.trim() === '' ? empty : Number(text)),
  number: true,
});

/** A function as of the latest drawing, in a box that stays the same. */
function useLatest<F>(now: F): RefObject<F> {
  const latest = useRef(now);
  useEffect(() => {
    latest.current = now;
  });
  return latest;
}

interface TextProps {
  label: string;
  path: Path;
  long?: boolean;
  /** The id of a list of suggestions. */
  list?: string;
  /** Left empty, it is written as no field at all. */
  optional?: boolean;
  as?: AsText;
  /** Sets it otherwise than at its path alone. */
  set?: Set;
}

/** A text of what is written. Alt+R and Alt+L write the side tokens. */
export function TextInput({ path, optional = false, as, set, ...field }: TextProps) {
  const writing = useWriting();
  const how = as ?? (optional ? optionalText : plainText);
  const tell = useLatest((text: string) => (set ?? writing.set)(path, how.value(text)));
  return (
    <TypedText
      {...field}
      path={path.join('.')}
      text={how.text(useAt(path))}
      as={how}
      typing={writing.typing}
      tell={tell}
    />
  );
}

interface TypedProps {
  label: string;
  path: string;
  text: string;
  long?: boolean;
  list?: string;
  as: AsText;
  typing: Typing;
  /** Hands a text to the page, as of the latest drawing. */
  tell: RefObject<(text: string) => void>;
}

/**
 * A text while it is typed. Keys are the field's own business, and React has no part in them; the rest of the page is told
 * after a pause, or when one leaves it.
 */
const TypedText = memo(
  function TypedText({ label, path, text, long = false, list, as, typing, tell }: TypedProps) {
    const field = useRef<HTMLTextAreaElement & HTMLInputElement>(null);
    const told = useRef(text);
    const [initial] = useState(text);
    const latest = useRef(text);
    useEffect(() => {
      latest.current = text;
    });
    /** What was told and has not come back yet: on a slow device the page may come to an earlier one of it first. */
    const onItsWay = useRef(new Set<string>());
    // A value from elsewhere (undo, a merge) replaces what is typed; our own comes back as it was told.
    useEffect(() => {
      const take = () => {
        onItsWay.current.clear();
        const now = latest.current;
        if (now === told.current) return;
        told.current = now;
        field.current!.value = now;
      };
      if (text === told.current || !onItsWay.current.has(text)) {
        take();
        return;
      }
      const later = setTimeout(take, settleMs);
      return () => clearTimeout(later);
    }, [text]);
    const { number = false, needed = false } = as;
    useEffect(() => {
      const at = field.current!;
      const send = () => {
        if (at.value === told.current || (needed && at.value === '')) return;
        told.current = at.value;
        onItsWay.current.add(at.value);
        tell.current(at.value);
      };
      const { typed, stop } = typing.watch(at, send);
      const leave = () => {
        if (needed && at.value === '') at.value = told.current;
        send();
      };
      const key = (event: KeyboardEvent) => {
        if (number) return;
        const side = event.altKey && { KeyR: 'right', KeyL: 'left' }[event.code];
        // One press is one token, however long it is held.
        if (!side || event.defaultPrevented) return;
        event.preventDefault();
        if (event.repeat) return;
        at.setRangeText(`{${side}}`, at.selectionStart ?? 0, at.selectionEnd ?? 0, 'end');
        typed();
      };
      at.addEventListener('keydown', key);
      at.addEventListener('blur', leave);
      return () => {
        stop();
        at.removeEventListener('keydown', key);
        at.removeEventListener('blur', leave);
      };
    }, [number, needed, typing, tell]);
    const shared = { ref: field, defaultValue: initial, 'data-path': path };
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
  (a, b) => a.text === b.text && a.label === b.label && a.path === b.path && a.as === b.as,
);

interface NumberProps {
  label: string;
  path: Path;
  set?: Set;
}

export const NumberInput = (field: NumberProps) => <TextInput {...field} as={numberText} />;

/** A number that may be left empty. */
export const OpenNumberInput = ({ empty = null, ...field }: NumberProps & { empty?: null | number }) => {
  const as = useMemo(() => openNumber(empty), [empty]);
  return <TextInput {...field} as={as} />;
};

const missingNumber = openNumber(undefined);
/** A number that may be missing. */
export const OptionalNumberInput = (field: NumberProps) => <TextInput {...field} as={missingNumber} />;

/** One of several. `none` is the option that is written as no field at all. */
export function SelectInput<T extends string>({
  path,
  none,
  value,
  onChange,
  ...select
}: {
  label: string;
  path: Path;
  options: readonly Option<T>[];
  none?: T;
  /** Which option is chosen, if it is not the one at the path. */
  value?: NoInfer<T>;
  /** What a choice does, if it does not set its path. */
  onChange?: (value: NoInfer<T>) => void;
}) {
  const { set } = useWriting();
  const at = useAt(path) as T | undefined;
  return (
    <Select<T>
      above="small"
      path={path.join('.')}
      {...select}
      value={value ?? at ?? none ?? ('' as T)}
      onChange={onChange ?? ((chosen) => set(path, chosen === none ? undefined : chosen))}
    />
  );
}

/** A value that stays the same object while it says the same, so that what is drawn from it is not drawn again. */
export function useSame<T>(value: T): T {
  const text = JSON.stringify(value);
  return useMemo(() => JSON.parse(text) as T, [text]);
}

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

/** Any of several. If `optional`, none of them is written as no field at all. */
export function ManyInput<T extends string>({
  label,
  path,
  options,
  optional = false,
}: {
  label: string;
  path: Path;
  options: readonly Option<NoInfer<T>>[];
  optional?: boolean;
}) {
  const { set } = useWriting();
  const value = useAt(path) as readonly string[] | undefined;
  const put = useLatest((next: readonly string[]) =>
    set(path, optional && next.length === 0 ? undefined : next),
  );
  return <ManyBoxes {...{ label, options, value, put }} path={path.join('.')} />;
}

/** Drawn again only when what is chosen changes. */
const ManyBoxes = memo(
  function ManyBoxes({
    label,
    path,
    options,
    value = [],
    put,
  }: {
    label: string;
    path: string;
    options: readonly Option<string>[];
    value: readonly string[] | undefined;
    put: RefObject<(next: readonly string[]) => void>;
  }) {
    return (
      <Boxes data-path={path} tabIndex={-1}>
        <legend>{label}</legend>
        {options.map((option) => (
          <Checkbox
            key={option.value}
            isSelected={value.includes(option.value)}
            onChange={(on) =>
              put.current(on ? [...value, option.value] : value.filter((one) => one !== option.value))
            }
          >
            {option.text}
          </Checkbox>
        ))}
      </Boxes>
    );
  },
  (a, b) => a.value === b.value && a.path === b.path && dequal(a.options, b.options),
);

/** Yes or no. An `optional` no is written as no field at all. */
export function CheckInput({
  label,
  path,
  optional = false,
}: {
  label: string;
  path: Path;
  optional?: boolean;
}) {
  const { set } = useWriting();
  return (
    <Checkbox
      isSelected={Boolean(useAt(path))}
      onChange={(on) => set(path, optional && !on ? undefined : on)}
    >
      {label}
    </Checkbox>
  );
}

/** Whether a part is there at all. */
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
