import { endpoints } from '@ulkret/contract';
import { RuleTag } from '@ulkret/core/breakdown';
import { Student } from '@ulkret/core/people';
import { useState } from 'react';
import { Controller, useForm } from 'react-hook-form';
import styled from 'styled-components';
import { mutate } from 'swr';
import { uuidv7 } from 'uuidv7';
import { addressOf, ApiRefusal, ask } from '../api/ask';
import { Button } from '../ui/button';
import { Checkbox } from '../ui/checkbox';
import { Choice } from '../ui/choice';
import { Row } from '../ui/frame';
import { TextField } from '../ui/text-field';

const Form = styled.form`
  display: grid;
  gap: 1rem;
  fieldset {
    border: 0;
    margin: 0;
    padding: 0;
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
    gap: 0.8rem;
  }
`;

const numbers = [
  { name: 'experienceMonths', label: 'Experience, months' },
  { name: 'statureCm', label: 'Stature, cm' },
  { name: 'massKg', label: 'Mass, kg' },
  { name: 'armSpanCm', label: 'Arm span, cm' },
  { name: 'neckGirthCm', label: 'Neck girth, cm' },
  { name: 'chestGirthCm', label: 'Chest girth, cm' },
] as const;

const newStudent = (): Student => ({
  id: `s-${uuidv7()}`,
  name: '',
  born: null,
  mainSide: 'right',
  experienceMonths: 0,
  statureCm: null,
  massKg: null,
  armSpanCm: null,
  neckGirthCm: null,
  chestGirthCm: null,
  hipMobility: null,
  injuries: [],
  consents: [],
  guest: false,
  archived: false,
});

/** A field as it is typed: empty is not measured; a comma is a point; what is no number stays as it is, to be refused by name. */
const typed = (text: string): number | string | null =>
  text.trim() === ''
    ? null
    : Number.isNaN(Number(text.replace(',', '.')))
      ? text
      : Number(text.replace(',', '.'));

export function StudentForm({
  student,
  done,
  cancel,
}: {
  student: Student | null;
  done: () => void;
  cancel: () => void;
}) {
  const [start] = useState(() => student ?? newStudent());
  const { control, handleSubmit } = useForm({
    defaultValues: {
      name: start.name,
      born: start.born ?? '',
      mainSide: start.mainSide,
      hipMobility: start.hipMobility ?? '',
      ...Object.fromEntries(
        numbers.map(({ name }) => [name, start[name] === null ? '' : String(start[name])]),
      ),
    } as Record<string, string>,
  });
  const [consents, setConsents] = useState(start.consents);
  const [faults, setFaults] = useState<Record<string, string>>({});
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);

  const save = handleSubmit(async (values) => {
    const read = Student.safeParse({
      ...start,
      name: values['name'],
      born: values['born'] || null,
      mainSide: values['mainSide'],
      hipMobility: values['hipMobility'] || null,
      ...Object.fromEntries(numbers.map(({ name }) => [name, typed(values[name] ?? '')])),
      experienceMonths: typed(values['experienceMonths'] ?? '') ?? 0,
      consents,
    });
    setFaults(
      Object.fromEntries((read.error?.issues ?? []).map(({ path, message }) => [String(path[0]), message])),
    );
    if (!read.success) return;
    try {
      await ask(endpoints.saveStudent, { params: { id: start.id }, body: read.data });
      void mutate(addressOf(endpoints.kit));
      done();
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(error);
    }
  });

  const text = (name: string, label: string, more: object = {}) => (
    <Controller
      key={name}
      name={name}
      control={control}
      render={({ field: { value, onChange } }) => (
        <TextField label={label} value={value ?? ''} onChange={onChange} error={faults[name]} {...more} />
      )}
    />
  );
  return (
    <Form onSubmit={(event) => void save(event)} noValidate>
      <h2>{student ? student.name : 'Add a student'}</h2>
      <fieldset>
        {text('name', 'Name', { autoFocus: true })}
        {text('born', 'Born', { type: 'date' })}
      </fieldset>
      <Row>
        <Controller
          name="mainSide"
          control={control}
          render={({ field: { value, onChange } }) => (
            <Choice
              label="Main side"
              value={value ?? 'right'}
              options={[
                { value: 'right', text: 'Right' },
                { value: 'left', text: 'Left' },
              ]}
              onChange={onChange}
            />
          )}
        />
        <Controller
          name="hipMobility"
          control={control}
          render={({ field: { value, onChange } }) => (
            <Choice
              label="Hip mobility"
              value={value ?? ''}
              options={[
                { value: '', text: 'Not known' },
                { value: 'low', text: 'Low' },
                { value: 'middle', text: 'Middle' },
                { value: 'high', text: 'High' },
              ]}
              onChange={onChange}
            />
          )}
        />
      </Row>
      <div role="group" aria-label="Has agreed to">
        <strong>Has agreed to</strong>
        <Row>
          {RuleTag.options.map((tag) => (
            <Checkbox
              key={tag}
              isSelected={consents.includes(tag)}
              onChange={(on) => setConsents(on ? [...consents, tag] : consents.filter((one) => one !== tag))}
            >
              {tag}
            </Checkbox>
          ))}
        </Row>
      </div>
      <fieldset>{numbers.map(({ name, label }) => text(name, label, { inputMode: 'decimal' }))}</fieldset>
      {refusal && (
        <p role="alert" style={{ color: 'var(--stop)' }}>
          {refusal.message} {refusal.todo}
        </p>
      )}
      <Row>
        <Button type="submit">{student ? 'Save' : 'Add to the roster'}</Button>
        <Button $quiet onPress={cancel}>
          Cancel
        </Button>
      </Row>
    </Form>
  );
}
