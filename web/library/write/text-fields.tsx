import { memo, type RefObject, useEffect, useMemo, useRef, useState } from 'react';
import styled from 'styled-components';
import { useLatest } from './stable';
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
 * A text while it is typed. Keys are the field's own business, and React has no part in them; the page gets the text
 * after a pause, or when the field is left.
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
