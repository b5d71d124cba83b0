import { endpoints } from '@ulkret/contract';
import { Link, Navigate } from 'react-router';
import { useApi } from '../shell/api';
import { Empty, Loaded } from '../shell/states';
import { Head, Page, Panel } from '../shell/ui';
import { many } from '../shell/words';

/** Which technique is read. Where only one was drilled there is nothing to choose. */
export default function Readings() {
  const techniques = useApi(endpoints.techniques);
  return (
    <Page>
      <Head>
        <h1>Readings</h1>
      </Head>
      <Loaded of={techniques} what="the library">
        {({ techniques: rows }) => {
          const drilled = rows.filter(({ reps }) => reps > 0);
          if (drilled.length === 1) return <Navigate to={`/readings/${drilled[0]!.technique.id}`} replace />;
          return drilled.length === 0 ? (
            <Empty title="No rep has been logged yet.">
              <p>
                A reading is made of reps: <Link to="/mat/new">start a session</Link> and tap where each one
                ends.
              </p>
            </Empty>
          ) : (
            <Panel>
              <ul>
                {drilled.map(({ technique, reps }) => (
                  <li key={technique.id}>
                    <Link to={`/readings/${technique.id}`}>{technique.name}</Link> · {many(reps, 'rep')}
                  </li>
                ))}
              </ul>
            </Panel>
          );
        }}
      </Loaded>
    </Page>
  );
}
