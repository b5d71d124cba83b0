import { endpoints, type InputOf } from '@ulkret/contract';
import { type Breakdown, placeOf, readFor, type Side } from '@ulkret/core/breakdown';
import { useState } from 'react';
import styled from 'styled-components';
import { RepMark } from '../mat/RepMark';
import { useApi } from '../shell/api';
import { Loaded } from '../shell/states';
import { Button, Panel, Quiet } from '../shell/ui';
import { dayOf, many, timeOf } from '../shell/words';

const atFirst = 12;

const List = styled.ol`
  margin: 0.6rem 0;
  li {
    display: grid;
    grid-template-columns: 2rem 4rem 9.5rem minmax(0, 1fr);
    gap: 0.5rem;
    align-items: center;
    padding: 0.3rem 0;
    border-bottom: 1px solid var(--line);
    font-size: 0.94rem;
  }
  b {
    font-weight: 600;
  }
  b[data-failed] {
    color: var(--stop);
  }
  b[data-soft] {
    color: var(--soft);
  }
`;

interface EvidenceProps {
  query: InputOf<typeof endpoints.evidence>['query'];
  breakdown: Breakdown;
  lead: Side;
  /** The n that the reading gave; what is listed must be as many. */
  expected: number;
}

/** The reps that a number is made of, latest first. */
export function Evidence({ query, breakdown, lead, expected }: EvidenceProps) {
  const evidence = useApi(endpoints.evidence, { query });
  const students = useApi(endpoints.students);
  const [all, setAll] = useState(false);
  const nameOf = (id: string) => students.data?.students.find((one) => one.id === id)?.name ?? id;
  const causeOf = (id: string) =>
    readFor([...breakdown.mistakes, ...breakdown.defences].find((one) => one.id === id)?.title ?? id, lead);
  return (
    <Panel>
      <h2>The reps behind it</h2>
      <Loaded of={evidence} what="the reps">
        {({ reps }) => {
          const failed = reps.filter(({ observation }) => observation === 'failed').length;
          return (
            <>
              <p data-testid="evidence">
                {many(reps.length, 'rep')} reached it: {failed} ended there, {reps.length - failed} went on.
                {reps.length !== expected && (
                  <Quiet as="span"> New reps have come in since the reading was made.</Quiet>
                )}
              </p>
              <List>
                {(all ? reps : reps.slice(0, atFirst)).map(({ rep, observation }) => (
                  <li key={rep.id}>
                    <RepMark rep={rep} numberOf={(id) => placeOf(breakdown, id) + 1} />
                    <b {...(observation !== 'held' && { [`data-${observation}`]: true })}>{observation}</b>
                    <span>
                      {dayOf(rep.at)}, {timeOf(rep.at)}
                    </span>
                    <Quiet as="span">
                      {query.student ? '' : `${nameOf(rep.student)} `}
                      {rep.partner && `on ${nameOf(rep.partner)}, `}
                      {rep.side}, rung {rep.rung}
                      {rep.cause && observation === 'failed' && `: ${causeOf(rep.cause)}`}
                      {rep.note && ` “${rep.note}”`}
                    </Quiet>
                  </li>
                ))}
              </List>
              {reps.length > atFirst && !all && (
                <Button $quiet onPress={() => setAll(true)}>
                  Show all {reps.length}
                </Button>
              )}
            </>
          );
        }}
      </Loaded>
    </Panel>
  );
}
