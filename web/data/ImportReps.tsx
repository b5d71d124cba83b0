import { mostFaults, endpoints, largestBatch, type OutputOf } from '@ulkret/contract';
import { type RowFault, writeFaultsCsv } from '@ulkret/core/formats';
import { useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import { useSWRConfig } from 'swr';
import { uuidv7 } from 'uuidv7';
import { ApiRefusal, ask } from '../api/ask';
import { useHere } from '../api/signed-in';
import { useApi } from '../api/use-api';
import { stamp } from '../device/session-log';
import { Button } from '../ui/button';
import { DataTable } from '../ui/data-table';
import { Panel, Quiet, Row } from '../ui/frame';
import { saveFile } from '../ui/save-file';
import { Failed } from '../ui/states';
import { dayOf, many } from '../ui/words';

const shown = 200;

type Told = OutputOf<typeof endpoints.importReps>;
/** Where the reading of one file stands. */
type At = { is: 'no file' } | { is: 'looked at' | 'kept' | 'taken back'; file: File; told: Told };

/** A file of reps: looked at before anything is kept, and taken back as a whole where it was the wrong one. */
export function ImportReps() {
  const [at, setAt] = useState<At>({ is: 'no file' });
  const [busy, setBusy] = useState<string | null>(null);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const { mutate } = useSWRConfig();
  const { coach, academy } = useHere();

  /** Does something that takes its time; where it cannot be done, says why and stays where it was, so that it can be tried again. */
  const doing = async (says: string, task: () => Promise<At>) => {
    setBusy(says);
    setRefusal(null);
    try {
      setAt(await task());
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(error);
    } finally {
      setBusy(null);
    }
  };
  const read = async (file: File, look: 'yes' | 'no') =>
    ask(endpoints.importReps, {
      query: { zone: academy.zone, look },
      body: await file.text(),
    });
  const lookAt = (file: File) =>
    doing(`Reading ${file.name} …`, async () => ({ is: 'looked at', file, told: await read(file, 'yes') }));
  const keep = (file: File) =>
    doing(`Keeping ${file.name} …`, async () => {
      const told = await read(file, 'no');
      await mutate(() => true);
      return { is: 'kept', file, told };
    });
  const takeBack = (file: File, told: Told) =>
    doing(`Taking ${file.name} back …`, async () => {
      const voids = told.accepted.map((rep) => ({
        id: uuidv7(),
        rep,
        at: stamp(),
        observer: coach.id,
        ofImport: true,
      }));
      for (let i = 0; i < voids.length; i += largestBatch)
        await ask(endpoints.sendReps, { body: { voids: voids.slice(i, i + largestBatch) } });
      await mutate(() => true);
      return { is: 'taken back', file, told };
    });

  return (
    <>
      <Panel>
        <h2>Reps in</h2>
        <p>
          A CSV with at least the columns at, technique, student, side, rung and outcome. You see what is in
          it before anything is kept. Good rows are kept, each bad one is listed with its reason; reading the
          same file again changes nothing.
        </p>
        <Row style={{ marginTop: '0.7rem' }}>
          <FileTrigger
            acceptedFileTypes={['.csv', 'text/csv']}
            onSelect={(files) => files?.[0] && void lookAt(files[0])}
          >
            <Button isDisabled={busy !== null}>Choose a file</Button>
          </FileTrigger>
          {busy && <span role="status">{busy}</span>}
        </Row>
      </Panel>
      {refusal && <Failed error={refusal} />}
      {at.is === 'looked at' && (
        <Report
          says={`${many(at.told.accepted.length, 'new rep')}`}
          {...at}
          more={
            <Row>
              {at.told.accepted.length > 0 && (
                <Button isDisabled={busy !== null} onPress={() => void keep(at.file)}>
                  Keep {many(at.told.accepted.length, 'rep')}
                </Button>
              )}
              <Button $quiet onPress={() => setAt({ is: 'no file' })}>
                Leave it
              </Button>
            </Row>
          }
        />
      )}
      {at.is === 'kept' && (
        <Report
          says={`${many(at.told.accepted.length, 'rep')} kept`}
          {...at}
          more={
            at.told.accepted.length > 0 && (
              <Row>
                <Button $quiet isDisabled={busy !== null} onPress={() => void takeBack(at.file, at.told)}>
                  Take {at.told.accepted.length === 1 ? 'it' : `all ${at.told.accepted.length}`} back
                </Button>
              </Row>
            )
          }
        />
      )}
      {at.is === 'taken back' && (
        <Panel role="status">
          <h2>
            {at.file.name}: {many(at.told.accepted.length, 'rep')} taken back
          </h2>
          <Row style={{ marginTop: '0.7rem' }}>
            <Button $quiet isDisabled={busy !== null} onPress={() => void keep(at.file)}>
              Keep them after all
            </Button>
          </Row>
        </Panel>
      )}
    </>
  );
}

function Report({
  says,
  file,
  told: { known, refused, refusedRows, brings },
  more,
}: {
  says: string;
  file: File;
  told: Told;
  more: React.ReactNode;
}) {
  return (
    <Panel role="status" style={{ display: 'grid', gap: '0.7rem' }}>
      <h2>
        {file.name}: {says}
        {known > 0 && `, ${known} known already`}
        {refusedRows > 0 && `, ${many(refusedRows, 'row')} refused`}
      </h2>
      {more}
      {brings && <Brought {...brings} />}
      {refused.length >= mostFaults && (
        <Quiet>
          The first {mostFaults} faults are told. Fix these, and read the file again for the rest.
        </Quiet>
      )}
      {refused.length > 0 && <Faults file={file.name} faults={refused} />}
    </Panel>
  );
}

/** Whose reps a file brings, so that a wrong file is seen before it is kept. */
function Brought({ of, from, until }: NonNullable<Told['brings']>) {
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
        <Quiet>Fix these rows and read the file again: what is known is not doubled.</Quiet>
      </Row>
      <DataTable
        label="the refused rows"
        rows={faults.slice(0, shown)}
        keyOf={({ line, column, reason }) => `${line} ${column} ${reason}`}
        wordsOf={({ line, column, reason }) => `${line} ${column} ${reason}`}
        columns={[
          { head: 'Line', cell: ({ line }) => line, by: ({ line }) => line },
          { head: 'Column', cell: ({ column }) => column || 'row', by: ({ column }) => column },
          { head: 'Reason', cell: ({ reason }) => reason },
        ]}
      />
      {faults.length > shown && <Quiet>and {faults.length - shown} more in the report.</Quiet>}
    </div>
  );
}
