import { useState } from 'react';
import { TextField } from './text-field';

/** A number as it is typed: a comma is a point, whichever the reader writes; what is no number is NaN, to be refused. */
const read = (text: string): number | null =>
  text.trim() === '' ? null : Number(text.trim().replace(',', '.'));

const written = (value: number | null): string =>
  value === null || Number.isNaN(value) ? '' : value.toLocaleString(undefined, { useGrouping: false });

/** A number; empty is unknown. The unit is in the label. */
export function NumberField({
  label,
  error,
  value,
  onChange,
}: {
  label: string;
  error?: string | undefined;
  value: number | null;
  onChange: (value: number | null) => void;
}) {
  const [text, setText] = useState(() => written(value));
  return (
    <TextField
      label={label}
      inputMode="decimal"
      value={text}
      onChange={(typed) => {
        setText(typed);
        onChange(read(typed));
      }}
      error={error}
    />
  );
}
