import { zodResolver } from '@hookform/resolvers/zod';
import { faultWords } from '@ulkret/core/words';
import {
  type Control,
  type DefaultValues,
  type FieldValues,
  type Path,
  type PathValue,
  type Resolver,
  useController,
  useForm,
  useFormState,
  useWatch,
} from 'react-hook-form';
import styled from 'styled-components';
import type { z } from 'zod';
import { Checkbox } from './checkbox';
import { NumberField } from './number-field';
import { type Option, Select } from './select';
import { TextArea, TextField } from './text-field';

/** Fields below each other. */
export const Form = styled.form.attrs({ noValidate: true })`
  display: grid;
  gap: 1rem;
`;

/**
 * A form of a schema. `values` are as they are typed; `put` sets several at once; `submit` hands them on if the schema takes
 * them, and otherwise each faulty field says why.
 */
export function useSchemaForm<S extends z.ZodType<FieldValues, FieldValues>>(schema: S, start: z.output<S>) {
  type Values = z.output<S>;
  // A form begins whole, so what is in it has the schema’s output all along.
  const { control, handleSubmit, setValue, reset } = useForm<Values, unknown, Values>({
    defaultValues: start as DefaultValues<Values>,
    // The bundle drops what a module does when it is loaded: the words of faults are handed over.
    resolver: zodResolver(schema, { error: faultWords }) as unknown as Resolver<Values, unknown, Values>,
  });
  const values = useWatch({ control }) as Values;
  const { isDirty } = useFormState({ control });
  const put = (part: Partial<Values>) => {
    for (const [name, value] of Object.entries(part))
      setValue(name as Path<Values>, value as PathValue<Values, Path<Values>>, { shouldDirty: true });
  };
  const submit = (take: (values: Values) => unknown) => handleSubmit(take, showFault);
  return { control, values, put, reset, written: isDirty, submit };
}

/** The first faulty field may be out of sight: it gets the focus once its fault is drawn. */
const showFault = () =>
  void requestAnimationFrame(() => document.querySelector<HTMLElement>('[aria-invalid=true]')?.focus());

export type FormOf<T extends FieldValues> = Control<T, unknown, T>;

interface Bound<T extends FieldValues> {
  control: FormOf<T>;
  name: Path<T>;
}

/** A value of a form by its path, with what is wrong with it. */
function useField<T extends FieldValues>({ control, name }: Bound<T>) {
  const { field, fieldState } = useController({ control, name });
  const value: unknown = field.value;
  return { value, onChange: field.onChange, error: fieldState.error?.message };
}

type Text = { label: string } & Pick<
  Parameters<typeof TextField>[0],
  'type' | 'autoComplete' | 'autoFocus' | 'isRequired' | 'isReadOnly' | 'maxLength'
>;

/** A line of text. */
export function TextOf<T extends FieldValues>({ control, name, ...text }: Bound<T> & Text) {
  const { value, ...field } = useField({ control, name });
  return <TextField {...text} {...field} value={value as string} />;
}

/** More than a line. */
export function AreaOf<T extends FieldValues>({ control, name, ...text }: Bound<T> & Text) {
  const { value, ...field } = useField({ control, name });
  return <TextArea {...text} {...field} value={value as string} />;
}

/** A number; an empty field is null. */
export function NumberOf<T extends FieldValues>({ control, name, label }: Bound<T> & { label: string }) {
  const { value, ...field } = useField({ control, name });
  return <NumberField label={label} {...field} value={value as number | null} />;
}

/** One of several. A value that is not a text is found by what it is written as. */
export function PickOf<T extends FieldValues>({
  control,
  name,
  label,
  above = false,
  options,
}: Bound<T> & { label: string; above?: boolean; options: readonly (Option<string> & { is?: unknown })[] }) {
  const { value, onChange, error } = useField({ control, name });
  return (
    <span>
      <Select<string>
        label={label}
        above={above}
        options={options}
        value={options.find((one) => (one.is === undefined ? one.value : one.is) === value)?.value ?? ''}
        onChange={(chosen) => {
          const found = options.find((one) => one.value === chosen)!;
          onChange(found.is === undefined ? chosen : found.is);
        }}
      />
      <Fault>{error}</Fault>
    </span>
  );
}

/** Yes or no. */
export function TickOf<T extends FieldValues>({ control, name, label }: Bound<T> & { label: string }) {
  const { value, onChange } = useField({ control, name });
  return (
    <Checkbox isSelected={value as boolean} onChange={onChange}>
      {label}
    </Checkbox>
  );
}

const Said = styled.span`
  display: block;
  color: var(--stop);
`;

/** What is wrong with a value that has no field of its own, or whose field cannot say it. */
export const Fault = ({ children }: { children: string | undefined }) =>
  children === undefined ? null : <Said role="alert">{children}</Said>;

/** What is wrong with a part of a form as a whole. */
export function FaultOf<T extends FieldValues>({ control, name }: Bound<T>) {
  const { errors } = useFormState({ control, name });
  const at: unknown = name
    .split('.')
    .reduce<unknown>((of, key) => (of as Record<string, unknown> | undefined)?.[key], errors);
  const { message, root } = (at ?? {}) as { message?: string; root?: { message?: string } };
  return <Fault>{message ?? root?.message}</Fault>;
}
