import { dequal } from 'dequal';
import { memo, type RefObject } from 'react';
import styled from 'styled-components';
import { Checkbox } from '../../ui/checkbox';
import { type Option, Select } from '../../ui/select';
import { useLatest } from './stable';
import { type Path, useAt, useWriting } from './writing';

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
