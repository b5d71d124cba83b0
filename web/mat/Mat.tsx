import { endpoints } from '@ulkret/contract';
import { rungNames } from '@ulkret/core/rep';
import type { Session } from '@ulkret/core/session';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { documentsInState } from '../device/entries';
import { OfflineNotice } from '../device/OfflineNotice';
import { useSyncState } from '../device/use-outbox';
import { useApi } from '../api/use-api';
import { useHere } from '../api/signed-in';
import { Empty, Loaded } from '../ui/states';
import { ButtonLink } from '../ui/button-link';
import { Head, Page, Panel } from '../ui/frame';
import { DataTable } from '../ui/data-table';
import { dayOf, many, timeOf } from '../ui/words';
import { Title } from '../ui/title';

/** Sessions that were made here and that the server does not have yet. */
function useOwnSessions(): readonly Session[] {
  const { academy } = useHere();
  const { waiting } = useSyncState();
  const [own, setOwn] = useState<readonly Session[]>([]);
  useEffect(() => {
    void documentsInState(academy.id, 'waiting')
      .then((rows) => setOwn(rows.flatMap((row) => (row.is === 'session' ? [row.body] : []))))
      .catch(() => setOwn([]));
  }, [academy.id, waiting]);
  return own;
}

export default function Mat() {
  const sessions = useApi(endpoints.sessions);
  const own = useOwnSessions();
  const techniques = useApi(endpoints.techniques);
  const nameOf = (id: string) =>
    techniques.data?.techniques.find(({ technique }) => technique.id === id)?.technique.name ?? id;
  return (
    <Page>
      <Head>
        <Title>Mat</Title>
        <ButtonLink to="/mat/new" $tall>
          Set up a class
        </ButtonLink>
      </Head>
      <OfflineNotice />
      <Loaded of={sessions} what="the classes">
        {({ sessions: saved }) => {
          const known = new Set(saved.map(({ session }) => session.id));
          const rows = [
            ...own
              .filter(({ id }) => !known.has(id))
              .map((session) => ({ session, reps: null as number | null }))
              .reverse(),
            ...saved,
          ];
          return rows.length === 0 ? (
            <Empty title="No classes yet.">
              <p>Set one up: choose a technique, mark who is here, and tap where each rep ends.</p>
            </Empty>
          ) : (
            <Panel>
              <DataTable
                label="the classes"
                rows={rows}
                keyOf={({ session }) => session.id}
                wordsOf={({ session }) => `${nameOf(session.technique)} ${dayOf(session.startedAt)}`}
                columns={[
                  {
                    head: 'When',
                    cell: ({ session }) => (
                      <span>
                        <Link
                          to={session.endedAt === null ? `/mat/${session.id}` : `/mat/${session.id}/after`}
                        >
                          {dayOf(session.startedAt)}, {timeOf(session.startedAt)}
                        </Link>
                        {session.endedAt === null && ' · not ended'}
                      </span>
                    ),
                    by: ({ session }) => session.startedAt,
                  },
                  {
                    head: 'Technique',
                    cell: ({ session }) => nameOf(session.technique),
                    by: ({ session }) => nameOf(session.technique),
                  },
                  {
                    head: 'Pairs',
                    cell: ({ session }) => session.pairs.length,
                    by: ({ session }) => session.pairs.length,
                  },
                  {
                    head: 'Rung',
                    cell: ({ session }) => `${session.rung} ${rungNames[session.rung]}`,
                    by: ({ session }) => session.rung,
                  },
                  {
                    head: 'Reps',
                    cell: ({ reps }) => (reps === null ? 'on this device' : many(reps, 'rep')),
                    by: ({ reps }) => reps,
                  },
                  {
                    head: 'After class',
                    cell: ({ session }) => <Link to={`/mat/${session.id}/after`}>Summary</Link>,
                  },
                ]}
              />
            </Panel>
          );
        }}
      </Loaded>
    </Page>
  );
}
