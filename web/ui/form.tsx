import { type Control, Controller, type FieldValues, type Path } from 'react-hook-form';
import styled from 'styled-components';
import { TextField } from './text-field';

/** Fields below each other. */
export const Form = styled.form.attrs({ noValidate: true })`
  display: grid;
  gap: 1rem;
`;

type Text = { label: string } & Pick<
  Parameters<typeof TextField>[0],
  'type' | 'autoComplete' | 'autoFocus' | 'isRequired'
>;

/** A text of a form, with what is wrong with it. */
export const TextOf = <T extends FieldValues, O>({
  control,
  name,
  ...field
}: { control: Control<T, unknown, O>; name: Path<T> } & Text) => (
  <Controller
    name={name}
    control={control}
    render={({ field: { value, onChange }, fieldState: { error } }) => (
      <TextField {...field} value={value} onChange={onChange} error={error?.message} />
    )}
  />
);
