import { endpoints, type OutputOf } from '@ulkret/contract';
import { writeFaultsCsv } from '@ulkret/core/formats';
import { useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import styled from 'styled-components';
import { useSWRConfig } from 'swr';
import { ApiRefusal, addressOf, ask } from '../api/ask';
import { saveFile } from '../ui/save-file';
import { Failed } from '../ui/states';
import { Button } from '../ui/button';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { many } from '../ui/words';
import { Title } from '../ui/title';

const Faults = styled.table`
  margin-top: 0.8rem;
  th,
  td {
    text-align: left;
    padding: 0.3rem 1.2rem 0.3rem 0;
    border-bottom: 1px solid var(--line);
  }
`;

const shown = 200;

type Answer = OutputOf<typeof endpoints.importReps> & { file: string };

export default function Data() {
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const [reading, setReading] = useState<string | null>(null);
  const { mutate } = useSWRConfig();

  const read = async (files: FileList | null) => {
    const file = files?.[0];
    if (!file) return;
    setReading(file.name);
    setAnswer(null);
    setRefusal(null);
    try {
      setAnswer({
        ...(await ask(endpoints.importReps, {
          query: { zone: Intl.DateTimeFormat().resolvedOptions().timeZone },
          body: await file.text(),
        })),
        file: file.name,
      });
      await mutate(() => true);
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(error);
    } finally {
      setReading(null);
    }
  };

  return (
    <Page>
      <Head>
        <Title>Data</Title>
      </Head>
      <Panel>
        <h2>Reps out</h2>
        <p>
          All reps that stand, as CSV, in the columns that an import reads back. It names people: keep it as
          you would a register.
        </p>
        <Row style={{ marginTop: '0.7rem' }}>
          <a href={addressOf(endpoints.exportReps)} download="reps.csv">
            Download reps.csv
          </a>
        </Row>
      </Panel>
      <Panel>
        <h2>Reps in</h2>
        <p>
          A CSV with at least the columns at, technique, student, side, rung and outcome. Good rows are kept,
          each bad one is listed with its reason. Reading the same file again changes nothing.
        </p>
        <Row style={{ marginTop: '0.7rem' }}>
          <FileTrigger acceptedFileTypes={['.csv', 'text/csv']} onSelect={(files) => void read(files)}>
            <Button isDisabled={reading !== null}>Choose a file</Button>
          </FileTrigger>
          {reading && <span role="status">Reading {reading} …</span>}
        </Row>
      </Panel>
      {refusal && <Failed error={refusal} />}
      {answer && <Report answer={answer} />}
    </Page>
  );
}

function Report({ answer: { accepted, known, refused, file } }: { answer: Answer }) {
  const report = () => {
    saveFile(file.replace(/\.csv$/i, '') + '-faults.csv', writeFaultsCsv(refused), 'text/csv');
  };
  const badRows = new Set(refused.map(({ line }) => line)).size;
  return (
    <Panel role="status">
      <h2>
        {file}: {many(accepted, 'rep')} kept
        {known > 0 && `, ${known} known already`}
        {badRows > 0 && `, ${many(badRows, 'row')} refused`}
      </h2>
      {refused.length > 0 && (
        <>
          <Row style={{ marginTop: '0.7rem' }}>
            <Button $quiet onPress={report}>
              Download the report
            </Button>
            <Quiet>Fix these rows and read the file again: what is known is not doubled.</Quiet>
          </Row>
          <Faults>
            <thead>
              <tr>
                <th>Line</th>
                <th>Column</th>
                <th>Reason</th>
              </tr>
            </thead>
            <tbody>
              {refused.slice(0, shown).map(({ line, column, reason }) => (
                <tr key={`${line} ${column} ${reason}`}>
                  <td>{line}</td>
                  <td>{column || 'row'}</td>
                  <td>{reason}</td>
                </tr>
              ))}
            </tbody>
          </Faults>
          {refused.length > shown && <Quiet>and {refused.length - shown} more in the report.</Quiet>}
        </>
      )}
    </Panel>
  );
}
