import { endpoints, type HouseRules } from '@ulkret/contract';
import { useState } from 'react';
import styled from 'styled-components';
import { useMay } from '../api/may';
import { useApi } from '../api/use-api';
import { Button } from '../ui/button';
import { Fold } from '../ui/fold';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { Loaded } from '../ui/states';
import { Title } from '../ui/title';
import { dayOf, timeOf } from '../ui/words';
import { ChangeRules } from './ChangeRules';
import { RuleBook } from './RuleBook';

const OnScreen = styled.span`
  @media print {
    display: none;
  }
`;

/** The house's rules as a table that reads like a rule book; changed by the head coach, with who changed what. */
export default function Rules() {
  const rules = useApi(endpoints.rules);
  const may = useMay('head');
  const [changing, setChanging] = useState(false);
  return (
    <Page>
      <Loaded of={rules} what="the rules">
        {(told) => (
          <>
            <Head>
              <div>
                <Title>{told.rules.name}</Title>
                <Quiet>{told.rules.note}</Quiet>
              </div>
              <OnScreen>
                <Row>
                  <Button $quiet onPress={() => window.print()}>
                    Print
                  </Button>
                  {may && <Button onPress={() => setChanging(true)}>Change the rules</Button>}
                </Row>
              </OnScreen>
            </Head>
            <RuleBook rules={told.rules} />
            <History history={told.history} />
            {changing && (
              <ChangeRules
                told={told}
                close={() => setChanging(false)}
                kept={(next) => {
                  setChanging(false);
                  void rules.mutate(next, { revalidate: false });
                }}
              />
            )}
          </>
        )}
      </Loaded>
    </Page>
  );
}

function History({ history }: { history: HouseRules['history'] }) {
  if (history.length === 0) return null;
  return (
    <OnScreen>
      <Panel>
        <Fold says={`Rule changes (${history.length})`}>
          {() => (
            <ul>
              {history.map(({ revision, by, at, changes }) => (
                <li key={revision}>
                  {dayOf(at)} at {timeOf(at)}, {by}: {changes.join('; ') || 'no visible change'}
                </li>
              ))}
            </ul>
          )}
        </Fold>
      </Panel>
    </OnScreen>
  );
}
