import { kindOf } from '@ulkret/core/facts';
import type { Student } from '@ulkret/core/people';
import { useState } from 'react';
import { useKit } from '../device/kit';
import { saveFile } from '../ui/save-file';
import { useHere } from '../api/signed-in';
import { Button } from '../ui/button';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { dayOf, many, timeOf } from '../ui/words';
import { clock } from '../api/clock';
import type { KeptFact } from '../api/store';
import { factsInState } from '../device/entries';
import { syncWords } from '../device/sync-state';
import { useOutbox, useSyncState } from '../device/use-outbox';
import { Title } from '../ui/title';
import { toast } from '../ui/toast';

/** What this device still holds: what waits, and what the server did not take, each with its reason and a way to fix it. */
export default function Unsent() {
  const sync = useSyncState();
  const outbox = useOutbox();
  const { academy } = useHere();
  const kit = useKit();
  const students = kit.data?.students ?? [];
  const save = async () => {
    const rows = [
      ...(await factsInState(academy.id, 'waiting')),
      ...(await factsInState(academy.id, 'refused')),
    ];
    saveFile('not-sent.json', JSON.stringify(rows, null, 2), 'application/json');
  };
  return (
    <Page>
      <Head>
        <Title>Unsent entries</Title>
        <Row>
          {sync.waiting > 0 && <Button onPress={() => void outbox.flush()}>Send now</Button>}
          {(sync.waiting > 0 || sync.refused.length > 0) && (
            <Button $quiet onPress={() => void save()}>
              Save as a file
            </Button>
          )}
        </Row>
      </Head>
      <Panel>
        <p role="status">{syncWords(sync)}</p>
        {sync.trouble && <p>The server says: {sync.trouble}</p>}
        <Quiet>Entries send on their own. Nothing is deleted unless you delete it.</Quiet>
      </Panel>
      {sync.refused.map(({ id, reason, fact }) => (
        <Panel key={id} role="group" aria-label={`Refused: ${reason}`}>
          <h2>
            {fact
              ? `${kindOf(fact.is).name}, ${dayOf(fact.fact.at)} ${timeOf(fact.fact.at)}`
              : 'A class or a person'}
          </h2>
          <p style={{ color: 'var(--stop)' }}>The server did not take it: {reason}</p>
          {fact && <Fix fact={fact} students={students} />}
        </Panel>
      ))}
      {sync.refused.length === 0 && <Quiet>{many(0, 'entry', 'entries')} refused.</Quiet>}
    </Page>
  );
}

function Fix({ fact: kept, students }: { fact: KeptFact; students: readonly Student[] }) {
  const outbox = useOutbox();
  const { coach } = useHere();
  const [fact, setFact] = useState(kept.fact);
  const people = (none: string | null) => [
    ...(none === null ? [] : [{ value: '', text: none }]),
    ...students.map(({ id, name }) => ({ value: id, text: name })),
  ];
  const known = (id: string | null) => (students.some((one) => one.id === id) ? id! : '');
  return (
    <Row>
      {kept.is === 'reps' && 'student' in fact && 'side' in fact && (
        <>
          <Select
            label="Attacked"
            value={known(fact.student)}
            options={people('choose …')}
            onChange={(student) => student && setFact({ ...fact, student })}
          />
          <Select
            label="On"
            value={known(fact.partner)}
            options={people('nobody')}
            onChange={(partner) => setFact({ ...fact, partner: partner || null })}
          />
        </>
      )}
      {fact.observer !== coach.id && (
        <Button $quiet onPress={() => setFact({ ...fact, observer: coach.id })}>
          Log as me
        </Button>
      )}
      {Date.parse(fact.at) > clock.now() && (
        <Button $quiet onPress={() => setFact({ ...fact, at: clock.stamp() })}>
          Set time to now
        </Button>
      )}
      <Button onPress={() => void outbox.fix(kept, fact)}>Send again</Button>
      <Button
        $quiet
        onPress={() => {
          void outbox.letGo(kept);
          toast(`${kindOf(kept.is).name} deleted`, () => outbox.takeBack(kept));
        }}
      >
        Delete
      </Button>
    </Row>
  );
}
