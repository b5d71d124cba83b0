import { endpoints, type OutputOf } from '@ulkret/contract';
import { useState } from 'react';
import { ask } from '../api/ask';
import { useHere } from '../api/signed-in';
import { useApi } from '../api/use-api';
import { useAsking } from '../api/use-asking';
import { rulesOf, useKit } from '../device/kit';
import { Button } from '../ui/button';
import { DataTable } from '../ui/data-table';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { Empty, Loaded, Refused } from '../ui/states';
import { Title } from '../ui/title';
import { dayOf, many, timeOf } from '../ui/words';

import { accessWords } from '../api/access-words';

type Accesses = OutputOf<typeof endpoints.accesses>;

/** Views, changes and exports of personal data, for the head coach. */
export default function AccessLog() {
  const { coach } = useHere();
  if (coach.role !== 'head')
    return (
      <Page>
        <Title>Access log</Title>
        <Empty title="Head coach only.">
          <p>Ask them who looked at what.</p>
        </Empty>
      </Page>
    );
  return <ForHead />;
}

function ForHead() {
  // As it was when it was opened: what is asked for further back goes on from there.
  const first = useApi(endpoints.accesses, {}, { revalidateOnFocus: false, revalidateOnReconnect: false });
  const kit = useKit();
  const [older, setOlder] = useState<Accesses | null>(null);
  const { asking, refusal, busy } = useAsking();
  const { accessMonths } = rulesOf(kit.data).keep;
  const further = (before: string) =>
    asking(async () => {
      const next = await ask(endpoints.accesses, { query: { before } });
      setOlder({ ...next, accesses: [...(older?.accesses ?? []), ...next.accesses] });
    }, 'No more entries.');
  return (
    <Page>
      <Head>
        <div>
          <Title>Access log</Title>
          <Quiet>
            Pages of people, changes to them, exports, sign-ins, and who may sign in. Kept for{' '}
            {many(accessMonths, 'month')}; change it in the rules.
          </Quiet>
        </div>
      </Head>
      <Loaded of={first} what="the access log">
        {(told) => {
          const list = [...told.accesses, ...(older?.accesses ?? [])];
          const last = list.at(-1);
          if (!last)
            return (
              <Empty title="No views yet.">
                <p>It starts when somebody opens a person’s page.</p>
              </Empty>
            );
          return (
            <Panel>
              {!told.whole && (
                <p role="alert" style={{ color: 'var(--stop)' }}>
                  Entries were changed or taken away on the server itself. Compare with a backup.
                </p>
              )}
              <DataTable
                label="the access log"
                rows={list}
                keyOf={({ id }) => id}
                wordsOf={(one) => `${one.by} ${accessWords(one)}`}
                columns={[
                  { head: 'When', cell: ({ at }) => `${dayOf(at)}, ${timeOf(at)}`, by: ({ at }) => at },
                  { head: 'Who', cell: ({ by }) => by, by: ({ by }) => by },
                  {
                    head: 'What',
                    cell: accessWords,
                    by: ({ what }) => what,
                  },
                ]}
              />
              {(older ?? told).more && (
                <Row style={{ marginTop: '0.8rem' }}>
                  <Button $quiet isDisabled={busy} onPress={() => void further(last.id)}>
                    Older
                  </Button>
                </Row>
              )}
              <Refused by={refusal} />
            </Panel>
          );
        }}
      </Loaded>
    </Page>
  );
}
