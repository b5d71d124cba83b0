import { endpoints } from '@ulkret/contract';
import {
  readRoster,
  type RosterField,
  rosterFields,
  type RosterRow,
  rosterTable,
} from '@ulkret/core/formats';
import type { Student } from '@ulkret/core/people';
import { useState } from 'react';
import styled from 'styled-components';
import { mutate } from 'swr';
import { uuidv7 } from 'uuidv7';
import { addressOf, ApiRefusal, ask } from '../api/ask';
import { useHere } from '../api/signed-in';
import { Button } from '../ui/button';
import { FileButton } from '../ui/file-button';
import { DataTable } from '../ui/data-table';
import { Sheet } from '../ui/dialog';
import { Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { Refused } from '../ui/states';
import { TextArea } from '../ui/text-field';
import { toast } from '../ui/toast';
import { dayOf, many } from '../ui/words';

const nothing = 'nothing';
const fieldOptions = [
  { value: nothing, text: 'nothing of use' },
  ...rosterFields.map((field) => ({ value: field, text: field })),
];

const Heads = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem 0.8rem;
`;

const keep = (student: Student, archived = false) =>
  ask(endpoints.saveStudent, { params: { id: student.id }, body: { ...student, archived } });
const everywhere = () =>
  Promise.all([mutate(addressOf(endpoints.kit)), mutate(addressOf(endpoints.students))]);

/** What was made of a row, in one line. */
const madeOf = ({ student, says }: RosterRow): string =>
  [
    ...(student?.born ? [`born ${dayOf(student.born)}`] : []),
    ...(student?.massKg ? [`${student.massKg} kg`] : []),
    ...(student?.statureCm ? [`${student.statureCm} cm`] : []),
    ...(student?.experienceMonths ? [many(student.experienceMonths, 'month')] : []),
    ...(student?.guardian ? [`guardian ${student.guardian.name}`] : []),
    ...says,
  ].join(', ');

/** A roster as it stands in a spreadsheet: pasted or read from a file, looked at, then taken; and taken back as a whole. */
export default function ReadList({ known, close }: { known: readonly Student[]; close: () => void }) {
  const { academy } = useHere();
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState<Readonly<Record<number, RosterField | null>>>({});
  const [done, setDone] = useState<number | null>(null);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  // The same person has the same id, however often the list is looked at.
  const [ids] = useState(() => new Map<number, string>());
  const idFor = (line: number) => {
    const id = ids.get(line) ?? `s-${uuidv7()}`;
    ids.set(line, id);
    return id;
  };
  const read = rosterTable(text);
  const table = { ...read, columns: read.columns.map((column, i) => (i in chosen ? chosen[i]! : column)) };
  const rows = readRoster(table, {
    units: academy.units,
    known: known.filter(({ archived }) => !archived).map(({ name }) => name),
    idFor,
  });
  const fresh = rows.flatMap(({ student }) => student ?? []);
  const count = (is: RosterRow['is']) => rows.filter((row) => row.is === is).length;
  const take = async () => {
    setRefusal(null);
    const taken: Student[] = [];
    try {
      for (const student of fresh) {
        setDone(taken.length);
        taken.push(await keep(student));
      }
      toast(`${many(taken.length, 'student')} on the roster`, () =>
        Promise.all(taken.map((student) => keep(student, true))).then(everywhere),
      );
      close();
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(
        new ApiRefusal(
          error.status,
          `${many(taken.length, 'student was', 'students were')} taken, then: ${error.message}`,
          `${error.todo} Anyone on the roster already is not added again.`,
        ),
      );
    } finally {
      setDone(null);
      await everywhere();
    }
  };
  const headOf = (i: number) => (table.headed ? table.rows[0]?.[i] : undefined) || `column ${i + 1}`;
  return (
    <Sheet label="Read a list of people" width="60rem" written={text !== ''} close={close}>
      <h2>Read a list of people</h2>
      <Quiet>
        Copy the rows of your spreadsheet, heads and all, and paste them here; a name is enough. Nothing is
        kept before you say so.
      </Quiet>
      <TextArea
        label="The list"
        value={text}
        onChange={(value) => {
          setText(value);
          setChosen({});
        }}
      />
      <Row>
        <FileButton
          $quiet
          kinds={['.csv', '.tsv', '.txt', 'text/csv']}
          onChoose={(file) => void file.text().then(setText)}
        >
          Or choose a CSV file
        </FileButton>
      </Row>
      {rows.length > 0 && (
        <>
          <Heads role="group" aria-label="What the columns say">
            {table.columns.map((column, i) => (
              <Select<string>
                key={i}
                above
                label={headOf(i)}
                options={fieldOptions}
                value={column ?? nothing}
                onChange={(value) =>
                  setChosen({
                    ...chosen,
                    [i]: rosterFields.find((field) => field === value) ?? null,
                  })
                }
              />
            ))}
          </Heads>
          <p role="status">
            {count('new')} new, {count('there')} on the roster already, {count('refused')} cannot be read.
          </p>
          <DataTable
            label="the list"
            rows={rows}
            keyOf={({ line }) => String(line)}
            wordsOf={({ name, is }) => `${name} ${is}`}
            columns={[
              { head: 'Row', cell: ({ line }) => line, by: ({ line }) => line },
              { head: 'Name', cell: ({ name }) => name || '–', by: ({ name }) => name },
              {
                head: 'What it is',
                cell: ({ is }) => (is === 'refused' ? <strong>cannot be read</strong> : is),
                by: ({ is }) => is,
              },
              { head: 'What is taken', cell: madeOf },
            ]}
          />
        </>
      )}
      <Refused by={refusal} />
      <Row>
        <Button isDisabled={fresh.length === 0 || done !== null} onPress={() => void take()}>
          {done === null
            ? `Take ${many(fresh.length, 'student')}`
            : `Taking ${done + 1} of ${fresh.length} …`}
        </Button>
        <Button $quiet onPress={close}>
          Cancel
        </Button>
      </Row>
    </Sheet>
  );
}
