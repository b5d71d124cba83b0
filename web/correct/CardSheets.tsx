import type { ReactNode } from 'react';
import { type Card, doseWords, signOff, signOffWords, type CardWork } from '@ulkret/core/prescription';
import styled, { createGlobalStyle } from 'styled-components';
import { Caution } from '../ui/caution';
import { Empty } from '../ui/states';
import { Quiet } from '../ui/frame';
import { dayOf, many } from '../ui/words';

const A5 = createGlobalStyle`
  @page {
    size: A5;
    margin: 12mm;
  }
`;

/** One sheet of the card. */
export const Sheet = styled.article`
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

/** The parts that are not printed. */
export const OnScreen = styled.div`
  @media print {
    display: none;
  }
`;

/** A student's card: what they work on, a sheet each, and what is signed off; on a phone, or on A5. */
export function CardSheets({ card: { works, proven }, none }: { card: Card; none: ReactNode }) {
  return (
    <>
      <A5 />
      {works.length === 0 && <Empty title="No corrections right now.">{none}</Empty>}
      {works.map((work) => (
        <WorkSheet key={`${work.technique} ${work.place}`} work={work} />
      ))}
      {proven.length > 0 && (
        <Sheet>
          <h2>Signed off</h2>
          <ul>
            {proven.map(({ technique, place, title, due, isDue }) => (
              <li key={`${technique} ${place}`}>
                {technique}: {place} {title}. {isDue ? 'Recheck due.' : `Recheck from ${dayOf(due)}.`}
              </li>
            ))}
          </ul>
        </Sheet>
      )}
    </>
  );
}

function WorkSheet({ work }: { work: CardWork }) {
  const { drill, held, stood } = work;
  return (
    <Sheet>
      <h2>
        {work.technique}: {work.place} {work.title}
      </h2>
      <p>{work.criterion}</p>
      <dl>
        {stood && (
          <>
            <dt>Why</dt>
            <dd>
              Lost by it in {many(stood.lost, 'rep')}, held in {stood.held}.
            </dd>
          </>
        )}
        {work.defence && (
          <>
            <dt>Against</dt>
            <dd>
              {work.defence}
              {work.signal && `. Signal: ${work.signal}`}
            </dd>
          </>
        )}
        {work.cue && (
          <>
            <dt>{work.defence ? 'Answer' : 'Cue'}</dt>
            <dd>{work.cue}</dd>
          </>
        )}
        <dt>Drill</dt>
        <dd>
          {drill ? (
            <>
              <strong>{drill.title}.</strong> {drill.setUp} {drill.constraint}
            </>
          ) : (
            (work.ownDrill ?? 'Just this checkpoint: get it, hold one breath, reset.')
          )}
        </dd>
        {(work.task || drill?.task) && (
          <>
            <dt>Partner</dt>
            <dd>{work.task || drill?.task}</dd>
          </>
        )}
        <dt>How many</dt>
        <dd>
          {doseWords(work, work.between)}, about {many(work.minutes, 'minute')}.
        </dd>
        <dt>So far</dt>
        <dd>
          {held.length === 0
            ? 'No rep yet. '
            : `Held ${held.filter(Boolean).length} of ${many(held.length, 'rep')}. `}
          {work.proof || signOffWords(signOff(held))}
        </dd>
        {drill?.measure && (
          <>
            <dt>Count</dt>
            <dd>{drill.measure}</dd>
          </>
        )}
      </dl>
      {work.cautions.map((caution) => (
        <Caution key={caution} note={caution} />
      ))}
      <Quiet>{work.safetyNote}</Quiet>
    </Sheet>
  );
}
