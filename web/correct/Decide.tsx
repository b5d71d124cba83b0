import { endpoints } from '@ulkret/contract';
import { Link, useSearchParams } from 'react-router';
import { useApi } from '../api/use-api';
import { useKit } from '../device/kit';
import { useFreshReadings } from '../reader/use-reading';
import { Head, Page, Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { Empty, Loaded } from '../ui/states';
import { Title } from '../ui/title';
import { Tonight } from './Tonight';

/** What to correct tonight: on which technique, and for whom. */
export default function Decide() {
  const [query, setQuery] = useSearchParams();
  useFreshReadings(false);
  const kit = useKit();
  const drills = useApi(endpoints.drills);
  const sessions = kit.data?.sessions ?? [];
  const last = sessions[0];
  const technique = query.get('technique') ?? last?.technique ?? kit.data?.techniques[0]?.technique.id;
  const who = query.get('who') ?? 'everybody';
  const found = kit.data?.techniques.find((one) => one.technique.id === technique);
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(query);
    next.set(name, value);
    setQuery(next, { replace: true });
  };
  return (
    <Page>
      <Head>
        <div>
          <Title>What to correct tonight</Title>
          <Quiet>
            <Link to="/">Today</Link>, <Link to="/correct/followed">past corrections and results</Link>
          </Quiet>
        </div>
      </Head>
      <Loaded of={kit} what="the squad">
        {({ techniques, students }) => (
          <>
            <Row>
              <Select
                label="Technique"
                options={techniques.map((one) => ({ value: one.technique.id, text: one.technique.name }))}
                value={technique ?? ''}
                onChange={(value) => set('technique', value)}
              />
              <Select
                label="Who"
                options={[
                  { value: 'everybody', text: 'everybody' },
                  ...(last
                    ? [
                        {
                          value: 'class',
                          text: last.endedAt === null ? 'current class' : 'last class',
                        },
                      ]
                    : []),
                ]}
                value={who}
                onChange={(value) => set('who', value)}
              />
            </Row>
            {found && technique ? (
              <Tonight
                key={technique}
                technique={found.technique}
                breakdown={found.breakdown}
                drills={drills.data?.drills ?? []}
                students={students.filter(
                  ({ id, archived }) => !archived && (who === 'everybody' || last?.pairs.flat().includes(id)),
                )}
              />
            ) : (
              <Empty title="No techniques yet.">
                <p>
                  Add one from the <Link to="/library">Library</Link> first.
                </p>
              </Empty>
            )}
          </>
        )}
      </Loaded>
    </Page>
  );
}
