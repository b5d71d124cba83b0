import { SheetActions } from '../ui/dialog';
import { endpoints } from '@ulkret/contract';
import { RuleTag } from '@ulkret/core/breakdown';
import { gradeWords } from '@ulkret/core/care';
import { entered, type Measured, newStudent, stored, Student, unitOf, type Units } from '@ulkret/core/people';
import { lazy, Suspense, useState } from 'react';
import { type Control, Controller } from 'react-hook-form';
import styled from 'styled-components';
import { mutate } from 'swr';
import { uuidv7 } from 'uuidv7';
import { addressOf, ask } from '../api/ask';
import { useAskingForm } from '../api/use-form';
import { useHere } from '../api/signed-in';
import { rulesOf, useKit } from '../device/kit';
import { Guardian, Injuries } from './care-fields';
import { Button } from '../ui/button';
import { Checkbox } from '../ui/checkbox';
import { Choice, rightOrLeft } from '../ui/choice';
import { DateField } from '../ui/date-field';
import { Fold } from '../ui/fold';
import { Row } from '../ui/frame';
import { NumberField } from '../ui/number-field';
import { Form, TextOf } from '../ui/form';
import { Select } from '../ui/select';
import { Refused } from '../ui/states';
import { toast } from '../ui/toast';

const Privacy = lazy(() => import('./Privacy'));
const MergeDouble = lazy(() => import('./MergeDouble'));

const Fields = styled(Form)`
  fieldset {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
    gap: 0.8rem;
  }
`;

const measures = [
  { name: 'statureCm', label: 'Stature', of: 'length' },
  { name: 'massKg', label: 'Mass', of: 'mass' },
  { name: 'armSpanCm', label: 'Arm span', of: 'length' },
  { name: 'neckGirthCm', label: 'Neck girth', of: 'length' },
  { name: 'chestGirthCm', label: 'Chest girth', of: 'length' },
  { name: 'armGirthCm', label: 'Upper arm girth', of: 'length' },
  { name: 'waistGirthCm', label: 'Waist girth', of: 'length' },
  { name: 'thighGirthCm', label: 'Thigh girth', of: 'length' },
  { name: 'legLengthCm', label: 'Leg, hip to heel', of: 'length' },
  { name: 'handLengthCm', label: 'Hand, wrist to fingertip', of: 'length' },
] as const;

/** Keeps what was changed of somebody since they were `base`. */
export const save = async (student: Student, base: Student | null, namesake = false): Promise<void> => {
  await ask(endpoints.saveStudent, {
    params: { id: student.id },
    body: { ...student, namesake, ...(base && { base }) },
  });
  await Promise.all([mutate(addressOf(endpoints.kit)), mutate(addressOf(endpoints.students))]);
};

/** Takes somebody off the roster, or brings them back: their reps stay, and so does what is known of them. */
const archive = async (student: Student, archived: boolean): Promise<void> => {
  await save({ ...student, archived }, student, true);
  toast(archived ? `${student.name} is archived: their reps stay` : `${student.name} restored`, () =>
    save(student, { ...student, archived }, true),
  );
};

const noGrade = 'none';

const mobilities = [
  { name: 'hipMobility', label: 'Hip mobility' },
  { name: 'shoulderMobility', label: 'Shoulder mobility' },
  { name: 'wristMobility', label: 'Wrist mobility' },
] as const;

export function StudentForm({
  student,
  done,
  cancel,
}: {
  student: Student | null;
  done: () => void;
  cancel: () => void;
}) {
  const [start] = useState(() => student ?? newStudent({ id: `s-${uuidv7()}` }));
  const [namesake, setNamesake] = useState(false);
  const { control, submit, refusal } = useAskingForm(Student, start, async (values) => {
    await save(values, student, namesake);
    done();
    if (student) toast(`${values.name} saved`, () => save(student, values));
    else toast(`${values.name} is on the roster`);
  });

  return (
    <Fields onSubmit={(event) => void submit(event)}>
      <h2>{student ? student.name : 'Add a student'}</h2>
      <fieldset>
        <TextOf control={control} name="name" label="Name" autoFocus />
        <Controller
          name="born"
          control={control}
          render={({ field: { value, onChange }, fieldState: { error } }) => (
            <DateField label="Born" value={value} onChange={onChange} error={error?.message} />
          )}
        />
      </fieldset>
      <SideAndMobility control={control} />
      <CareAndConsents control={control} />
      <ExperienceAndMeasures control={control} />
      <Refused by={refusal} />
      {refusal?.status === 409 && (
        <Checkbox isSelected={namesake} onChange={setNamesake}>
          Different person, same name
        </Checkbox>
      )}
      <SheetActions label={student ? 'Save' : 'Add to the roster'} close={cancel}>
        {student && (
          <Button
            $quiet
            onPress={() => {
              void archive(student, !student.archived).then(done);
            }}
          >
            {student.archived ? 'Restore' : 'Archive'}
          </Button>
        )}
      </SheetActions>
      {student && <ForTheirData student={student} done={done} />}
    </Fields>
  );
}

/** A measure of the body in the academy's units; what is kept is kilograms and centimetres. */
function Measure({
  control,
  units,
  name,
  label,
  of,
}: {
  control: Control<Student, unknown, Student>;
  units: Units;
  name: (typeof measures)[number]['name'];
  label: string;
  of: Measured;
}) {
  return (
    <Controller
      name={name}
      control={control}
      render={({ field: { value, onChange }, fieldState: { error } }) => (
        <NumberField
          label={`${label}, ${unitOf(units, of)}`}
          value={value === null ? null : entered(units, of, value)}
          onChange={(typed) => onChange(typed === null ? null : stored(units, of, typed))}
          error={error?.message}
        />
      )}
    />
  );
}

function SideAndMobility({ control }: { control: Control<Student> }) {
  return (
    <Row>
      <Controller
        name="mainSide"
        control={control}
        render={({ field: { value, onChange } }) => (
          <Choice label="Main side" value={value} options={rightOrLeft} onChange={onChange} />
        )}
      />
      {mobilities.map(({ name, label }) => (
        <Controller
          key={name}
          name={name}
          control={control}
          render={({ field: { value, onChange } }) => (
            <Choice
              label={label}
              value={value ?? ''}
              options={[
                { value: '', text: 'Not known' },
                { value: 'low', text: 'Low' },
                { value: 'middle', text: 'Middle' },
                { value: 'high', text: 'High' },
              ]}
              onChange={(chosen) => onChange(chosen || null)}
            />
          )}
        />
      ))}
    </Row>
  );
}

function CareAndConsents({ control }: { control: Control<Student> }) {
  return (
    <>
      <Controller
        name="injuries"
        control={control}
        render={({ field: { value, onChange }, fieldState: { error } }) => (
          <Injuries value={value} onChange={onChange} wrong={error !== undefined} />
        )}
      />
      <Controller
        name="guardian"
        control={control}
        render={({ field: { value, onChange }, fieldState: { error } }) => (
          <Guardian value={value} onChange={onChange} wrong={error !== undefined} />
        )}
      />
      <Controller
        name="consents"
        control={control}
        render={({ field: { value, onChange } }) => (
          <div role="group" aria-label="Consents to">
            <strong>Consents to</strong>
            <Row>
              {RuleTag.options.map((tag) => (
                <Checkbox
                  key={tag}
                  isSelected={value.includes(tag)}
                  onChange={(on) => onChange(on ? [...value, tag] : value.filter((one) => one !== tag))}
                >
                  {tag}
                </Checkbox>
              ))}
            </Row>
          </div>
        )}
      />
    </>
  );
}

function ExperienceAndMeasures({ control }: { control: Control<Student> }) {
  const { academy } = useHere();
  const rules = rulesOf(useKit().data);
  return (
    <fieldset>
      <Controller
        name="experienceMonths"
        control={control}
        render={({ field: { value, onChange }, fieldState: { error } }) => (
          <NumberField label="Experience, months" value={value} onChange={onChange} error={error?.message} />
        )}
      />
      <Controller
        name="grade"
        control={control}
        render={({ field: { value, onChange }, fieldState: { error } }) =>
          rules.ladder.length > 0 ? (
            <Select
              above
              label="Grade"
              options={[
                { value: noGrade, text: 'not known' },
                ...rules.ladder.map((text, grade) => ({ value: String(grade), text })),
                ...(value !== null && value >= rules.ladder.length
                  ? [{ value: String(value), text: gradeWords(rules, value) }]
                  : []),
              ]}
              value={value === null ? noGrade : String(value)}
              onChange={(chosen) => onChange(chosen === noGrade ? null : Number(chosen))}
            />
          ) : (
            <NumberField
              label="Grade, steps above beginner"
              value={value}
              onChange={onChange}
              error={error?.message}
            />
          )
        }
      />
      {measures.map(({ name, label, of }) => (
        <Measure key={name} control={control} units={academy.units} {...{ name, label, of }} />
      ))}
    </fieldset>
  );
}

function ForTheirData({ student, done }: { student: Student; done: () => void }) {
  return (
    <>
      <Fold says="On the roster twice?">
        {() => (
          <Suspense>
            <MergeDouble student={student} done={done} />
          </Suspense>
        )}
      </Fold>
      <Fold says="Export or erase data">
        {() => (
          <Suspense>
            <Privacy student={student} done={done} />
          </Suspense>
        )}
      </Fold>
    </>
  );
}
