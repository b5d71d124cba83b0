import { endpoints, type OutputOf } from '@ulkret/contract';
import { factLists, kindOf } from '@ulkret/core/facts';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { sendFile } from '../api/ask';
import { useApi } from '../api/use-api';
import { useSending } from '../api/use-sending';
import { FileButton } from '../ui/file-button';
import { Panel, Quiet, Row } from '../ui/frame';
import { Stoppable } from '../ui/progress';
import { Failed } from '../ui/states';
import { many } from '../ui/words';
import { Download } from './Download';

type BroughtIn = OutputOf<typeof endpoints.importAcademy>;

/** The imported items by kind; kinds without items are left out. */
const countsOf = (items: BroughtIn['items']): string =>
  Object.entries(items)
    .filter(([, n]) => n > 0)
    .map(([name, n]) => {
      const list = factLists().find((one) => one === name);
      return `${n.toLocaleString('en')} ${list ? `${kindOf(list).name.toLowerCase()}s` : name}`;
    })
    .join(', ');

/** The whole academy as one open archive: out at any time, and in where nobody is yet. */
export function WholeAcademy() {
  const { data: roster } = useApi(endpoints.students);
  const [told, setTold] = useState<BroughtIn | null>(null);
  const { busy, refusal, sending } = useSending();
  const { mutate } = useSWRConfig();
  const bring = async (file: File) => {
    const brought = await sending(`Bringing ${file.name} in, sent`, (ways) =>
      sendFile(endpoints.importAcademy, { body: file }, ways),
    );
    if (!brought) return;
    setTold(brought);
    await mutate(() => true);
  };
  const empty = roster?.students.length === 0;
  return (
    <Panel style={{ display: 'grid', gap: '0.7rem' }}>
      <h2>The whole academy</h2>
      <p>
        People, library, classes and reps as one open archive. Any program can read it, another Ulkret can
        import it. It holds bodies, injuries and notes: store it like a medical record.
      </p>
      <Row>
        <Download of={endpoints.exportAcademy} file="academy.zip">
          Download academy.zip
        </Download>
        <Download of={endpoints.exportFacts} file="facts.json">
          Every fact as JSON
        </Download>
        {empty && (
          <FileButton
            $quiet
            kinds={['.zip', 'application/zip']}
            isDisabled={busy !== null}
            onChoose={(file) => void bring(file)}
          >
            Import an academy
          </FileButton>
        )}
        {busy && <Stoppable {...busy} />}
      </Row>
      {empty && !told && (
        <Quiet>
          Only while the roster is empty. The archive comes in whole or not at all, and its library replaces
          this one.
        </Quiet>
      )}
      {refusal && <Failed error={refusal} />}
      {told && (
        <div role="status">
          <p>
            <strong>{told.name} is here:</strong> {countsOf(told.items)}.
          </p>
          <Quiet>
            You stay head coach. Other coaches keep their names on their entries. To let one in again, invite
            them under “Who may sign in” with the same email as before.
          </Quiet>
          {told.withoutEmail.length > 0 && (
            <Quiet>
              {many(told.withoutEmail.length, 'coach', 'coaches')} sign in elsewhere on this server with the
              same email, and need another one here: {told.withoutEmail.join(', ')}.
            </Quiet>
          )}
        </div>
      )}
    </Panel>
  );
}
