import { endpoints } from '@ulkret/contract';
import { readFor } from '@ulkret/core/breakdown';
import { type Life, signOff, signOffWords } from '@ulkret/core/prescription';
import { rungNames } from '@ulkret/core/rep';
import { Link, useParams } from 'react-router';
import styled, { createGlobalStyle } from 'styled-components';
import { useApi } from '../api/use-api';
import { useKit } from '../device/kit';
import { useDeciding } from '../reader/use-deciding';
import { Button } from '../ui/button';
import { Head, Page, Quiet, Row } from '../ui/frame';
import { Empty, Loaded } from '../ui/states';
import { Title } from '../ui/title';
import { many } from '../ui/words';

const A5 = createGlobalStyle`
  @page {
    size: A5;
    margin: 12mm;
  }
`;

const Sheet = styled.article`
  display: grid;
  gap: 0.7rem;
  max-width: 34rem;
  padding: 1.2rem 1.3rem;
  background: var(--surface);
  border-radius: 8px;
  break-inside: avoid;
  @media print {
    padding: 0;
    border-bottom: 1px solid var(--line);
  }
  dl {
    display: grid;
    grid-template-columns: max-content minmax(0, 1fr);
    gap: 0.35rem 1rem;
  }
  dt {
    font-weight: 650;
  }
  dd {
    margin: 0;
  }
`;

const OnScreen = styled.div`
  @media print {
    display: none;
  }
`;

/** What one student works on, for that student: on a phone, or as a sheet of A5. Nothing of anybody else is on it. */
export default function Card() {
  const { student: id = '' } = useParams();
  const kit = useKit();
  const deciding = useDeciding();
  return (
    <Page>
      <A5 />
      <Loaded of={kit} what="the roster">
        {({ students }) => {
          const student = students.find((one) => one.id === id);
          if (!student)
            return (
              <Empty title="Nobody on the roster has this address.">
                <p>
                  Choose somebody under <Link to="/people">People</Link>.
                </p>
              </Empty>
            );
          const open = deciding.open(id);
          return (
            <>
              <Head>
                <div>
                  <Title>What {student.name} works on</Title>
                  {open.length > 0 && <Quiet>One thing at a time; the first comes first.</Quiet>}
                </div>
                <OnScreen>
                  <Row>
                    <Link to={`/people/${id}`}>{student.name}’s readings</Link>
                    <Button onPress={() => window.print()}>Print</Button>
                  </Row>
                </OnScreen>
              </Head>
              {open.length === 0 ? (
                <Empty title={`Nothing is agreed to for ${student.name}.`}>
                  <p>
                    <Link to="/correct">Decide what to correct</Link> first.
                  </p>
                </Empty>
              ) : (
                open.map((life) => <Work key={life.id} life={life} lead={student.mainSide} />)
              )}
            </>
          );
        }}
      </Loaded>
    </Page>
  );
}

function Work({ life, lead }: { life: Life; lead: 'right' | 'left' }) {
  const kit = useKit();
  const drills = useApi(endpoints.drills);
  const { terms, stood, held } = life;
  const of = kit.data?.techniques.find(({ technique }) => technique.id === life.technique);
  const place = of?.breakdown.checkpoints.findIndex(({ id }) => id === terms.checkpoint) ?? -1;
  const at = of?.breakdown.checkpoints[place];
  const drill = drills.data?.drills.find(({ id }) => id === terms.drill);
  if (!of || !at) return null;
  return (
    <Sheet>
      <h2>
        {of.technique.name}: {place + 1} {readFor(at.title, lead)}
      </h2>
      <p>{readFor(at.criterion, lead)}</p>
      <dl>
        {stood && (
          <>
            <dt>Why</dt>
            <dd>
              Lost by it in {many(stood.failed, 'rep')}, held in {stood.reached - stood.failed}.
            </dd>
          </>
        )}
        {terms.cue && (
          <>
            <dt>Cue</dt>
            <dd>{readFor(terms.cue, lead)}</dd>
          </>
        )}
        <dt>Drill</dt>
        <dd>
          {drill ? (
            <>
              <strong>{drill.title}.</strong> {drill.setUp} {drill.constraint}
            </>
          ) : (
            'The point by itself: make it true, hold it for a breath, go back.'
          )}
        </dd>
        {drill?.task && (
          <>
            <dt>Partner</dt>
            <dd>{drill.task}</dd>
          </>
        )}
        <dt>How many</dt>
        <dd>
          {terms.sets} × {terms.reps} {terms.sides === 'both' ? 'each side' : `on the ${terms.sides} side`},
          at rung {terms.rung} ({rungNames[terms.rung]}).
        </dd>
        <dt>So far</dt>
        <dd>
          {held.length === 0
            ? 'No rep yet. '
            : `Held ${held.filter(Boolean).length} of ${many(held.length, 'rep')}. `}
          {signOffWords(signOff(held))}
        </dd>
        {drill?.measure && (
          <>
            <dt>Count</dt>
            <dd>{drill.measure}</dd>
          </>
        )}
      </dl>
      <Quiet>{of.technique.safetyNote}</Quiet>
    </Sheet>
  );
}
