import { endpoints, type OutputOf } from '@ulkret/contract';
import { factLists, kindOf } from '@ulkret/core/facts';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { addressOf, sendFile } from '../api/ask';
import { useApi } from '../api/use-api';
import { useSending } from '../api/use-sending';
import { FileButton } from '../ui/file-button';
import { Panel, Quiet, Row } from '../ui/frame';
import { Stoppable } from '../ui/progress';
import { Failed } from '../ui/states';
import { many } from '../ui/words';

type BroughtIn = OutputOf<typeof endpoints.importAcademy>;

/** What came in, as it is counted on the screen: the kinds of which there is something. */
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
        Everybody, the library, every class and every rep as one open archive that any program can read and
        another Ulkret brings in again. It holds bodies, injuries and notes: keep it as you would a register.
      </p>
      <Row>
        <a href={addressOf(endpoints.exportAcademy)} download="academy.zip">
          Download academy.zip
        </a>
        {empty && (
          <FileButton
            $quiet
            kinds={['.zip', 'application/zip']}
            isDisabled={busy !== null}
            onChoose={(file) => void bring(file)}
          >
            Bring an academy in
          </FileButton>
        )}
        {busy && <Stoppable {...busy} />}
      </Row>
      {empty && !told && (
        <Quiet>
          This works while nobody is on the roster. The archive comes in whole or not at all, and its library
          replaces the one here.
        </Quiet>
      )}
      {refusal && <Failed error={refusal} />}
      {told && (
        <div role="status">
          <p>
            <strong>{told.name} is here:</strong> {countsOf(told.items)}.
          </p>
          <Quiet>
            You stay head coach. The other coaches keep their names on what they noted. To let one in again,
            invite them under “Who may sign in” and have them use the same email as before.
          </Quiet>
          {told.withoutEmail.length > 0 && (
            <Quiet>
              {many(told.withoutEmail.length, 'coach', 'coaches')} sign in elsewhere on this server by the
              same email, and would need another one here: {told.withoutEmail.join(', ')}.
            </Quiet>
          )}
        </div>
      )}
    </Panel>
  );
}
