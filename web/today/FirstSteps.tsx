import { endpoints } from '@ulkret/contract';
import { Check } from 'lucide-react';
import styled from 'styled-components';
import { useHere } from '../api/signed-in';
import { useApi } from '../api/use-api';
import { ButtonLink } from '../ui/button-link';
import { Panel, Quiet } from '../ui/frame';
import { many } from '../ui/words';

const Steps = styled.ol`
  display: grid;
  gap: 0.8rem;
  margin-top: 0.8rem;
  li {
    display: grid;
    grid-template-columns: 2rem minmax(0, 1fr) auto;
    align-items: center;
    gap: 0.2rem 0.8rem;
    min-height: 3rem;
  }
  li > span:first-child {
    display: grid;
    place-items: center;
    width: 2rem;
    height: 2rem;
    border: 2px solid var(--action);
    border-radius: 50%;
    font-weight: 650;
  }
  li[data-done] > span:first-child {
    background: var(--action);
    color: var(--on-action);
  }
  @media (max-width: 640px) {
    li {
      grid-template-columns: 2rem minmax(0, 1fr);
    }
    li > a {
      grid-column: 2;
      justify-self: start;
    }
  }
`;

/** Enough people for a class. */
const fewest = 2;

/** What a new academy does first, each with where to do it: until the first class has been. */
export function FirstSteps() {
  const { academy } = useHere();
  const { data: roster } = useApi(endpoints.students);
  const { data: library } = useApi(endpoints.techniques);
  const people = roster?.students.length ?? 0;
  const published = library?.techniques.filter(({ edition }) => edition > 0).length ?? 0;
  const steps = [
    { what: `${academy.name} is open`, says: 'Share this page’s address with other coaches.', done: true },
    {
      what: 'Add your students',
      says: people === 0 ? 'A name is enough to start.' : `${many(people, 'student')} on the roster.`,
      done: people >= fewest,
      to: '/people',
      press: 'People',
    },
    {
      what: 'Add a technique',
      says:
        published === 0
          ? 'Write a breakdown, or add those that come with Ulkret.'
          : `${many(published, 'breakdown')} can be drilled.`,
      done: published > 0,
      to: '/library',
      press: 'Library',
    },
    {
      what: 'Run your first class',
      says: 'Mark who is here, pair them, and tap where each rep ends: one tap is one rep.',
      done: false,
      to: '/mat/new',
      press: 'Set up a class',
    },
  ];
  const next = steps.findIndex(({ done }) => !done);
  return (
    <Panel>
      <h2>Get to your first class</h2>
      <Steps>
        {steps.map(({ what, says, done, to, press }, i) => (
          <li key={what} data-done={done || undefined}>
            <span aria-hidden>{done ? <Check size={18} /> : i + 1}</span>
            <span>
              <strong>{what}</strong> <Quiet as="span">{says}</Quiet>
            </span>
            {to && (
              <ButtonLink to={to} $quiet={i !== next}>
                {press}
              </ButtonLink>
            )}
          </li>
        ))}
      </Steps>
    </Panel>
  );
}
