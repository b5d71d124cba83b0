import { endpoints } from '@ulkret/contract';
import { rungNames } from '@ulkret/core/rep';
import { Link } from 'react-router';
import { useApi } from '../shell/api';
import { Empty, Loaded } from '../shell/states';
import { ButtonLink, Head, Page, Panel, Table } from '../shell/ui';
import { dayOf, many, timeOf } from '../shell/words';

export default function Mat() {
  const sessions = useApi(endpoints.sessions);
  const techniques = useApi(endpoints.techniques);
  const nameOf = (id: string) =>
    techniques.data?.techniques.find(({ technique }) => technique.id === id)?.technique.name ?? id;
  return (
    <Page>
      <Head>
        <h1>Mat</h1>
        <ButtonLink to="/mat/new" $tall>
          Start a session
        </ButtonLink>
      </Head>
      <Loaded of={sessions} what="the sessions">
        {({ sessions: rows }) =>
          rows.length === 0 ? (
            <Empty title="No session yet.">
              <p>Start one: choose a technique, say who is here, and tap where each rep ends.</p>
            </Empty>
          ) : (
            <Panel>
              <Table>
                <thead>
                  <tr>
                    <th>When</th>
                    <th>Technique</th>
                    <th>Pairs</th>
                    <th>Rung</th>
                    <th>Reps</th>
                  </tr>
                </thead>
                <tbody>
                  {rows.map(({ session, reps }) => (
                    <tr key={session.id}>
                      <td>
                        <Link to={`/mat/${session.id}`}>
                          {dayOf(session.startedAt)}, {timeOf(session.startedAt)}
                        </Link>
                      </td>
                      <td>{nameOf(session.technique)}</td>
                      <td>{session.pairs.length}</td>
                      <td>
                        {session.rung} {rungNames[session.rung]}
                      </td>
                      <td>{many(reps, 'rep')}</td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            </Panel>
          )
        }
      </Loaded>
    </Page>
  );
}
