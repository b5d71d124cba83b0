import { endpoints, type SetAside } from '@ulkret/contract';
import { uuidv7 } from 'uuidv7';
import { ask } from '../api/ask';
import { useHere } from '../api/signed-in';
import { useApi } from '../api/use-api';
import { useAsking } from '../api/use-asking';
import { stamp } from '../device/session-log';
import { Button } from '../ui/button';
import { DataTable } from '../ui/data-table';
import { Panel, Row } from '../ui/frame';
import { saveFile } from '../ui/save-file';
import { Failed } from '../ui/states';
import { many } from '../ui/words';

/** What is stored and cannot be read; nothing where all can. */
export function Aside() {
  const { data, mutate } = useApi(endpoints.setAside);
  const { coach } = useHere();
  const { busy, refusal, asking } = useAsking();
  if (!data || data.n === 0) return null;
  const takeBack = ({ id }: SetAside) =>
    asking(async () => {
      const taken = { id: uuidv7(), rep: id, at: stamp(), observer: coach.id };
      await ask(endpoints.sendReps, { body: { voids: [taken] } });
      await mutate();
    }, 'It was not deleted.');
  const save = () =>
    saveFile('set-aside.json', `${JSON.stringify(data.items, null, 2)}\n`, 'application/json');
  return (
    <Panel>
      <h2>{many(data.n, 'entry', 'entries')} set aside</h2>
      <p>
        Kept, but not readable and not counted. Nothing else is affected. Read the reason, log again what you
        need, then delete the old entry.
      </p>
      {refusal && <Failed error={refusal} />}
      <Row style={{ margin: '0.7rem 0' }}>
        <Button $quiet onPress={save}>
          Download what is stored
        </Button>
      </Row>
      <DataTable
        label="the unreadable entries"
        rows={data.items}
        keyOf={({ is, id }) => `${is} ${id}`}
        wordsOf={({ is, id, reason }) => `${is} ${id} ${reason}`}
        columns={[
          { head: 'What', cell: ({ is }) => is, by: ({ is }) => is },
          { head: 'Id', cell: ({ id }) => id, by: ({ id }) => id },
          { head: 'Its date', cell: ({ stored }) => String(stored['at'] ?? stored['startedAt'] ?? '') },
          { head: 'Reason', cell: ({ reason }) => reason },
          {
            head: 'Do',
            cell: (one) =>
              one.is === 'rep' && (
                <Button $quiet isDisabled={busy} onPress={() => void takeBack(one)}>
                  Delete
                </Button>
              ),
          },
        ]}
      />
    </Panel>
  );
}
