import { endpoints } from '@ulkret/contract';
import {
  type DateOrder,
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
import { rulesOf, today, useKit } from '../device/kit';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { DataTable } from '../ui/data-table';
import { Sheet } from '../ui/dialog';
import { FileButton } from '../ui/file-button';
import { Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { Refused } from '../ui/states';
import { TextArea, TextField } from '../ui/text-field';
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

/** The result of a row, in one line. */
const madeOf = ({ student, says }: RosterRow): string =>
  [
    ...(student?.born ? [`born ${dayOf(student.born)}`] : []),
    ...(student?.massKg ? [`${student.massKg} kg`] : []),
    ...(student?.statureCm ? [`${student.statureCm} cm`] : []),
    ...(student?.experienceMonths ? [many(student.experienceMonths, 'month')] : []),
    ...(student?.grade ? [`grade ${student.grade}`] : []),
    ...(student?.guardian ? [`guardian ${student.guardian.name}`] : []),
    ...says,
  ].join(', ');

/** A list as it was pasted, with what was said of its columns and written over its cells. */
function useList(known: readonly Student[]) {
  const { academy } = useHere();
  const { ladder } = rulesOf(useKit().data);
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState<Readonly<Record<number, RosterField | null>>>({});
  /** Corrected cells, by row and column. */
  const [cells, setCells] = useState<Readonly<Record<string, string>>>({});
  const [dates, setDates] = useState<DateOrder | null>(null);
  const [masses, setMasses] = useState<'kg' | 'lb' | null>(null);
  /** Rows that are on the roster by now. */
  const [taken, setTaken] = useState<ReadonlySet<number>>(new Set());
  // The same person has the same id, however often the list is looked at.
  const [ids] = useState(() => new Map<number, string>());
  const idFor = (line: number) => {
    const id = ids.get(line) ?? `s-${uuidv7()}`;
    ids.set(line, id);
    return id;
  };
  const plain = rosterTable(text);
  const table = {
    ...plain,
    rows: plain.rows.map((row, i) => row.map((cell, j) => cells[`${i + 1} ${j}`] ?? cell)),
    columns: plain.columns.map((column, i) => (i in chosen ? chosen[i]! : column)),
  };
  const { rows, asks } = readRoster(table, {
    units: academy.units,
    ladder,
    today: today(),
    known: known.filter(({ archived }) => !archived),
    dates,
    masses,
    idFor,
  });
  return {
    text,
    write: (next: string) => {
      setText(next);
      setChosen({});
      setCells({});
      setTaken(new Set());
    },
    table,
    rows: rows.filter(({ line }) => !taken.has(line)),
    asks: { dates: asks.has('dates') || dates !== null, masses: asks.has('masses') || masses !== null },
    dates,
    setDates,
    masses,
    setMasses,
    choose: (i: number, field: RosterField | null) => setChosen({ ...chosen, [i]: field }),
    mend: (line: number, column: number, cell: string) => setCells({ ...cells, [`${line} ${column}`]: cell }),
    take: (lines: readonly number[]) => setTaken(new Set([...taken, ...lines])),
  };
}

/** A roster from a spreadsheet: pasted or read from a file, previewed, then taken; and undone as a whole. */
export default function ReadList({ known, close }: { known: readonly Student[]; close: () => void }) {
  const list = useList(known);
  const { text, rows } = list;
  const [done, setDone] = useState<number | null>(null);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const fresh = rows.flatMap(({ student }) => student ?? []);
  const count = (is: RosterRow['is']) => rows.filter((row) => row.is === is).length;
  const take = async () => {
    setRefusal(null);
    const taken: Student[] = [];
    // Cells that were left out can still be mended: of those people only who they are is taken along.
    const whole = rows.filter(({ is }) => is === 'new');
    try {
      for (const { student } of whole) {
        setDone(taken.length);
        taken.push(await keep(student!));
      }
      toast(`${many(taken.length, 'student')} added`, () =>
        Promise.all(taken.map((student) => keep(student, true))).then(everywhere),
      );
      list.take(whole.map(({ line }) => line));
      // Refused rows stay, so that they can be fixed.
      if (count('refused') === 0) close();
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(
        new ApiRefusal(
          error.status,
          `${many(taken.length, 'student was', 'students were')} added, then: ${error.message}`,
          `${error.todo} Students already on the roster are not added again.`,
        ),
      );
    } finally {
      setDone(null);
      await everywhere();
    }
  };
  return (
    <Sheet label="Import a list" width="64rem" written={text !== ''} close={close}>
      <h2>Import a list of people</h2>
      <Quiet>
        Copy the rows of your spreadsheet, headers included, and paste them here; a name is enough. You see a
        preview first.
      </Quiet>
      <TextArea label="The list" value={text} onChange={list.write} />
      <Row>
        <FileButton
          $quiet
          kinds={['.csv', '.tsv', '.txt', 'text/csv']}
          onChoose={(file) => void file.text().then(list.write)}
        >
          Or choose a CSV file
        </FileButton>
      </Row>
      {rows.length > 0 && <Preview list={list} />}
      <Refused by={refusal} />
      <Row>
        <Button isDisabled={fresh.length === 0 || done !== null} onPress={() => void take()}>
          {done === null ? `Add ${many(fresh.length, 'student')}` : `Adding ${done + 1} of ${fresh.length} …`}
        </Button>
        <Button $quiet onPress={close}>
          {text !== '' && rows.length > 0 && fresh.length === 0 ? 'Close' : 'Cancel'}
        </Button>
      </Row>
    </Sheet>
  );
}

/** The fields taken from a row; an unreadable cell is fixed in place. */
function Made({
  row,
  headOf,
  mend,
}: {
  row: RosterRow;
  headOf: (column: number) => string;
  mend: (line: number, column: number, cell: string) => void;
}) {
  return (
    <>
      {madeOf(row)}
      {row.odd.map(({ column, cell, reason }) => (
        <TextField
          key={column}
          label={`${headOf(column)} of ${row.name}, left out: ${reason}.`}
          value={cell}
          onChange={(next) => mend(row.line, column, next)}
        />
      ))}
    </>
  );
}

/** What the columns say, and what each row becomes. */
function Preview({ list }: { list: ReturnType<typeof useList> }) {
  const { table, rows, asks } = list;
  const odd = rows.filter((row) => row.odd.length > 0).length;
  const count = (is: RosterRow['is']) => rows.filter((row) => row.is === is).length;
  const headOf = (i: number) =>
    (table.head === null ? undefined : table.rows[table.head]?.[i]) || `column ${i + 1}`;
  return (
    <>
      <Heads role="group" aria-label="What the columns say">
        {table.columns.map((column, i) => (
          <Select<string>
            key={i}
            above
            label={headOf(i)}
            options={fieldOptions}
            value={column ?? nothing}
            onChange={(value) => list.choose(i, rosterFields.find((field) => field === value) ?? null)}
          />
        ))}
      </Heads>
      {asks.dates && (
        <Choice<DateOrder>
          label="In dates such as 03/04/2001"
          value={list.dates}
          options={[
            { value: 'day first', text: 'day first' },
            { value: 'month first', text: 'month first' },
          ]}
          onChange={list.setDates}
        />
      )}
      {asks.masses && (
        <Choice<'kg' | 'lb'>
          label="Masses without a unit are in"
          value={list.masses}
          options={[
            { value: 'kg', text: 'kg' },
            { value: 'lb', text: 'lb' },
          ]}
          onChange={list.setMasses}
        />
      )}
      <p role="status">
        {count('new')} new, {count('there')} on the roster already, {count('refused')} cannot be read
        {odd > 0 && `, ${many(odd, 'row')} with a cell left out`}.
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
          {
            head: 'What is used',
            cell: (row) => <Made row={row} headOf={headOf} mend={list.mend} />,
          },
        ]}
      />
    </>
  );
}
