import { mostFaults, endpoints, largestBatch, type OutputOf } from '@ulkret/contract';
import { type RowFault, writeFaultsCsv } from '@ulkret/core/formats';
import { useRef, useState } from 'react';
import { useSWRConfig } from 'swr';
import { uuidv7 } from 'uuidv7';
import { ask, sendFile } from '../api/ask';
import { useHere } from '../api/signed-in';
import { useApi } from '../api/use-api';
import { useSending, type Ways } from '../api/use-sending';
import { stamp } from '../device/session-log';
import { Button } from '../ui/button';
import { FileButton } from '../ui/file-button';
import { DataTable } from '../ui/data-table';
import { Panel, Quiet, Row } from '../ui/frame';
import { Stoppable } from '../ui/progress';
import { saveFile } from '../ui/save-file';
import { Select } from '../ui/select';
import { Failed } from '../ui/states';
import { dayOf, many } from '../ui/words';

const shown = 200;
/** Most voids sent at once, so that nobody waits long behind them. */
const atOnce = largestBatch / 10;

type ImportResult = OutputOf<typeof endpoints.importReps>;
/** The state of one file's import; `looked` is its preview. */
type At =
  | { is: 'no file' }
  | { is: 'looked at' | 'stopped'; file: File; looked: ImportResult }
  | { is: 'taken back'; file: File; n: number }
  | { is: 'kept'; file: File; looked: ImportResult; told: ImportResult };

/** The steps of an import, each from where the one before has led. */
function useImport() {
  const [at, setAt] = useState<At>({ is: 'no file' });
  const { busy, refusal, sending } = useSending();
  const { mutate } = useSWRConfig();
  const { coach, academy } = useHere();
  const observers = useRef<ReadonlyMap<string, string>>(new Map());

  /** Goes on to where something leads; where it was stopped or refused, to `otherwise`, or nowhere. */
  const doing = async (says: string, task: (ways: Ways) => Promise<At>, otherwise: At = at) =>
    setAt((await sending(says, task)) ?? otherwise);
  const read = (file: File, look: 'yes' | 'no', ways: Ways) =>
    sendFile(
      endpoints.importReps,
      {
        query: {
          zone: academy.zone,
          look,
          ...(observers.current.size > 0 && {
            observers: JSON.stringify(Object.fromEntries(observers.current)),
          }),
        },
        body: file,
      },
      ways,
    );
  /** `as`: who the observers are whom the file names and nobody here knows. */
  const lookAt = (file: File, as: ReadonlyMap<string, string> = new Map()) => {
    observers.current = as;
    return doing(
      `Reading ${file.name}, sent`,
      async (ways) => ({ is: 'looked at', file, looked: await read(file, 'yes', ways) }),
      { is: 'no file' },
    );
  };
  const keep = (file: File, looked: ImportResult) =>
    doing(
      `Importing ${file.name}, sent`,
      async (ways) => {
        const told = await read(file, 'no', ways);
        await mutate(() => true);
        // Items saved before the stop are known by now and as new as the rest.
        const before = Math.max(0, looked.accepted.length - told.accepted.length);
        return { is: 'kept', file, looked, told: { ...told, ...looked, known: told.known - before } };
      },
      { is: 'stopped', file, looked },
    );
  /** Undone rows come back under new ids: they are previewed again. */
  const keepAgain = async (file: File) => {
    const looked = await sending(`Reading ${file.name}, sent`, (ways) => read(file, 'yes', ways));
    if (looked) await keep(file, looked);
  };
  const takeBack = (file: File, looked: ImportResult, all: boolean) =>
    doing(`Undoing ${file.name}, done`, async (ways) => {
      const left = all ? [] : (await read(file, 'yes', ways)).accepted;
      const absent = new Set(left);
      const voids = looked.accepted
        .filter((rep) => !absent.has(rep))
        .map((rep) => ({ id: uuidv7(), rep, at: stamp(), observer: coach.id, ofImport: true }));
      for (let i = 0; i < voids.length; i += atOnce) {
        if (ways.signal.aborted) break;
        await ask(endpoints.sendReps, { body: { voids: voids.slice(i, i + atOnce) } });
        ways.onProgress(Math.min(1, (i + atOnce) / voids.length));
      }
      await mutate(() => true);
      return ways.signal.aborted
        ? { is: 'stopped', file, looked }
        : { is: 'taken back', file, n: voids.length };
    });
  const cancel = () => setAt({ is: 'no file' });
  return { at, busy, refusal, lookAt, keep, keepAgain, takeBack, cancel };
}

/** A file of reps: a preview first; an import can be stopped at any time, and undone as a whole. */
export function ImportReps() {
  const { at, busy, refusal, lookAt, keep, keepAgain, takeBack, cancel } = useImport();
  return (
    <>
      <Panel>
        <h2>Import reps</h2>
        <p>
          A CSV with at least the columns at, technique, student, side, rung and outcome. You see a preview
          first. Good rows are saved, bad rows are listed with a reason; importing the same file again changes
          nothing.
        </p>
        <Row style={{ marginTop: '0.7rem' }}>
          <FileButton
            kinds={['.csv', 'text/csv']}
            isDisabled={busy !== null}
            onChoose={(file) => void lookAt(file)}
          >
            Choose a file
          </FileButton>
          {busy && <Stoppable {...busy} />}
        </Row>
      </Panel>
      {refusal && <Failed error={refusal} />}
      {at.is === 'looked at' && (
        <Report
          says={`${many(at.looked.accepted.length, 'new rep')}`}
          file={at.file}
          told={at.looked}
          more={
            <>
              {at.looked.strangers.length > 0 && (
                <Strangers
                  names={at.looked.strangers}
                  isDisabled={busy !== null}
                  onSay={(as) => void lookAt(at.file, as)}
                />
              )}
              <Row>
                {at.looked.accepted.length > 0 && (
                  <Button isDisabled={busy !== null} onPress={() => void keep(at.file, at.looked)}>
                    Import {many(at.looked.accepted.length, 'rep')}
                  </Button>
                )}
                <Button $quiet isDisabled={busy !== null} onPress={cancel}>
                  Cancel
                </Button>
              </Row>
            </>
          }
        />
      )}
      {at.is === 'stopped' && (
        <Stopped
          file={at.file.name}
          isDisabled={busy !== null}
          onContinue={() => void keep(at.file, at.looked)}
          onUndo={() => void takeBack(at.file, at.looked, false)}
        />
      )}
      {at.is === 'kept' && (
        <Report
          says={`${many(at.told.accepted.length, 'rep')} saved`}
          {...at}
          more={
            at.told.accepted.length > 0 && (
              <Row>
                <Button
                  $quiet
                  isDisabled={busy !== null}
                  onPress={() => void takeBack(at.file, at.looked, true)}
                >
                  Undo import
                </Button>
              </Row>
            )
          }
        />
      )}
      {at.is === 'taken back' && (
        <Panel role="status">
          <h2>
            {at.file.name}: {many(at.n, 'rep')} undone
          </h2>
          <Row style={{ marginTop: '0.7rem' }}>
            <Button $quiet isDisabled={busy !== null} onPress={() => void keepAgain(at.file)}>
              Restore
            </Button>
          </Row>
        </Panel>
      )}
    </>
  );
}

/** An import that was stopped halfway. */
const Stopped = ({
  file,
  isDisabled,
  onContinue,
  onUndo,
}: {
  file: string;
  isDisabled: boolean;
  onContinue: () => void;
  onUndo: () => void;
}) => (
  <Panel role="status" style={{ display: 'grid', gap: '0.7rem' }}>
    <h2>{file}: stopped halfway</h2>
    <p>What was read so far is saved. Continue, or undo it: nothing is counted twice.</p>
    <Row>
      <Button isDisabled={isDisabled} onPress={onContinue}>
        Continue
      </Button>
      <Button $quiet isDisabled={isDisabled} onPress={onUndo}>
        Undo what was saved
      </Button>
    </Row>
  </Panel>
);

function Report({
  says,
  file,
  told: { known, refused, refusedRows, odd, brings },
  more,
}: {
  says: string;
  file: File;
  told: ImportResult;
  more: React.ReactNode;
}) {
  return (
    <Panel role="status" style={{ display: 'grid', gap: '0.7rem' }}>
      <h2>
        {file.name}: {says}
        {known > 0 && `, ${known.toLocaleString('en')} already here`}
        {refusedRows > 0 && `, ${many(refusedRows, 'row')} refused`}
      </h2>
      {more}
      {brings && <Brought {...brings} />}
      {refused.length >= mostFaults && (
        <Quiet>The first {mostFaults} faults are listed. Fix these, then import again for the rest.</Quiet>
      )}
      {refused.length > 0 && <Faults file={file.name} faults={refused} />}
      {odd.length > 0 && (
        <div>
          <h3>Check these rows</h3>
          <Quiet>
            They are imported as they are. Undo the import if a value is wrong, fix it, and import again.
          </Quiet>
          <RowTable label="rows to check" rows={odd} />
        </div>
      )}
    </Panel>
  );
}

/** Whose reps a file brings, so that a wrong file is seen before it is imported. */
function Brought({ of, from, until }: NonNullable<ImportResult['brings']>) {
  const { data: roster } = useApi(endpoints.students);
  const { data: library } = useApi(endpoints.techniques);
  const nameOf = (id: string) => roster?.students.find((one) => one.id === id)?.name ?? id;
  const titleOf = (id: string) =>
    library?.techniques.find(({ technique }) => technique.id === id)?.technique.name ?? id;
  const [first, last] = [dayOf(from), dayOf(until)];
  return (
    <div>
      <Quiet>{first === last ? `All of ${first}.` : `From ${first} to ${last}.`}</Quiet>
      <DataTable
        label="what the file brings"
        rows={of}
        keyOf={({ student, technique }) => `${student} ${technique}`}
        wordsOf={({ student, technique }) => `${nameOf(student)} ${titleOf(technique)}`}
        columns={[
          {
            head: 'Student',
            cell: ({ student }) => nameOf(student),
            by: ({ student }) => nameOf(student),
          },
          {
            head: 'Technique',
            cell: ({ technique }) => titleOf(technique),
            by: ({ technique }) => titleOf(technique),
          },
          { head: 'New reps', cell: ({ reps }) => reps, by: ({ reps }) => reps },
        ]}
      />
    </div>
  );
}

function Faults({ file, faults }: { file: string; faults: readonly RowFault[] }) {
  const report = () =>
    saveFile(file.replace(/\.csv$/i, '') + '-faults.csv', writeFaultsCsv(faults), 'text/csv');
  return (
    <div>
      <Row>
        <Button $quiet onPress={report}>
          Download the report
        </Button>
        <Quiet>Fix these rows and import again; duplicates are skipped.</Quiet>
      </Row>
      <RowTable label="the refused rows" rows={faults} />
      {faults.length > shown && <Quiet>and {faults.length - shown} more in the report.</Quiet>}
    </div>
  );
}

/** Rows of a file by line, with what is to be said of each. */
const RowTable = ({ label, rows }: { label: string; rows: readonly RowFault[] }) => (
  <DataTable
    label={label}
    rows={rows.slice(0, shown)}
    keyOf={({ line, column, reason }) => `${line} ${column} ${reason}`}
    wordsOf={({ line, column, reason }) => `${line} ${column} ${reason}`}
    columns={[
      { head: 'Line', cell: ({ line }) => line, by: ({ line }) => line },
      { head: 'Column', cell: ({ column }) => column || 'row', by: ({ column }) => column },
      { head: 'Reason', cell: ({ reason }) => reason },
    ]}
  />
);

/** Asks who the observers are whom a file of another academy names. */
function Strangers({
  names,
  isDisabled,
  onSay,
}: {
  names: readonly string[];
  isDisabled: boolean;
  onSay: (as: ReadonlyMap<string, string>) => void;
}) {
  const { coach } = useHere();
  const { data: kit } = useApi(endpoints.kit);
  const coaches = kit?.coaches ?? [];
  const [as, setAs] = useState<ReadonlyMap<string, string>>(new Map());
  const whoIs = (name: string) => as.get(name) ?? coach.id;
  return (
    <div style={{ display: 'grid', gap: '0.5rem' }}>
      <h3>Who logged these reps?</h3>
      <Quiet>The file names observers who are no coaches here. Say whose reps they become.</Quiet>
      {names.map((name) => (
        <Select
          key={name}
          label={name}
          value={whoIs(name)}
          options={coaches.map(({ id, name: text }) => ({ value: id, text }))}
          onChange={(id) => setAs(new Map(as).set(name, id))}
        />
      ))}
      <Row>
        <Button
          isDisabled={isDisabled || coaches.length === 0}
          onPress={() => onSay(new Map(names.map((name) => [name, whoIs(name)])))}
        >
          Read the file again
        </Button>
      </Row>
    </div>
  );
}
