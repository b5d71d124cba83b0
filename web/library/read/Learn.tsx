import { endpoints } from '@ulkret/contract';
import {
  type Breakdown,
  type Id,
  misplaced,
  placeOf,
  readFor,
  selfCheck,
  Side,
  toleranceWords,
  whenWords,
} from '@ulkret/core/breakdown';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import styled from 'styled-components';
import { useApi } from '../../api/use-api';
import { Loaded } from '../../ui/states';
import { Select } from '../../ui/select';
import { Button } from '../../ui/button';
import { Caution } from '../../ui/caution';
import { Choice, rightOrLeft } from '../../ui/choice';
import { Page, Panel, Quiet, Row } from '../../ui/frame';
import { MarkIcon } from '../../strand/marks';
import { NotPublished } from '../../ui/not-published';
import { Title } from '../../ui/title';

const Screen = styled(Panel)`
  display: grid;
  gap: 0.9rem;
  align-content: start;
  min-height: 60vh;
  max-width: 34rem;
  blockquote {
    margin: 0;
    font-size: 1.5rem;
    line-height: 1.25;
    font-weight: 600;
  }
`;

const Thumb = styled.div`
  position: sticky;
  bottom: 4.6rem;
  display: grid;
  grid-template-columns: 1fr 2fr;
  gap: 0.6rem;
  max-width: 34rem;
  @media (min-width: 641px) {
    bottom: 1rem;
  }
`;

/** The student's view: cues first, one checkpoint a screen, worked by one thumb; then a check of oneself. */
export default function Learn() {
  const { technique: id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const technique = useApi(endpoints.technique, { params: { id } });
  const lead = Side.catch('right').parse(search.get('side'));
  const set = (name: string, value: string) =>
    setSearch((at) => (at.set(name, value), at), { replace: true });
  // From where the address is now: a thumb is faster than a slow phone draws, and no tap of it is lost.
  const step = (by: number) =>
    setSearch(
      () => {
        const now = new URLSearchParams(window.location.search);
        now.set('at', String(Number(now.get('at') ?? 0) + by));
        return now;
      },
      { replace: true },
    );
  return (
    <Page>
      <Loaded of={technique} what="the breakdown">
        {({ technique: one, editions }) => {
          const breakdown = editions.at(-1);
          if (!breakdown) return <NotPublished id={id} />;
          const last = breakdown.checkpoints.length;
          const at = Math.min(last, Math.max(0, Number(search.get('at') ?? 0)));
          return (
            <>
              <Row>
                <Title>{one.name}</Title>
                <Choice
                  label="Lead side"
                  value={lead}
                  options={rightOrLeft}
                  onChange={(side) => set('side', side)}
                />
              </Row>
              {at === 0 && <Caution note={one.safetyNote} />}
              {at < last ? (
                <>
                  <Point breakdown={breakdown} place={at} read={(text) => readFor(text, lead)} />
                  <Thumb>
                    <Button $quiet $tall isDisabled={at === 0} onPress={() => step(-1)}>
                      Back
                    </Button>
                    <Button $tall onPress={() => step(1)}>
                      {at + 1 < last ? `Next: ${at + 2} of ${last}` : 'Check yourself'}
                    </Button>
                  </Thumb>
                </>
              ) : (
                <Check
                  breakdown={breakdown}
                  read={(text) => readFor(text, lead)}
                  again={() => set('at', '0')}
                />
              )}
              <Link to={`/library/${id}`}>The whole breakdown</Link>
            </>
          );
        }}
      </Loaded>
    </Page>
  );
}

function Point({
  breakdown,
  place,
  read,
}: {
  breakdown: Breakdown;
  place: number;
  read: (text: string) => string;
}) {
  const { id, kind, title, criterion, proofs, tolerance, variants, caution } = breakdown.checkpoints[place]!;
  const cues = breakdown.mistakes.filter(({ root }) => root === id);
  return (
    <Screen>
      {cues.slice(0, 2).map(({ id: mistake, cue }) => (
        <blockquote key={mistake}>{read(cue)}</blockquote>
      ))}
      <Row>
        <MarkIcon kind={kind} size={30} />
        <h2>
          {place + 1} {read(title)}
        </h2>
      </Row>
      <p>{read(criterion)}</p>
      {caution && <Caution note={read(caution)} />}
      <ul>
        {proofs.map(({ by, text, shows }) => (
          <li key={text}>
            <Quiet as="span">
              {by}
              {shows === 'broken' && ', it fails where'}:
            </Quiet>{' '}
            {read(text)}
          </li>
        ))}
        {tolerance && (
          <li>
            <Quiet as="span">measure:</Quiet> {read(toleranceWords(tolerance))}
          </li>
        )}
      </ul>
      {variants.map((variant) => (
        <p key={variant.id}>
          <Quiet as="span">{read(whenWords(variant.when))}:</Quiet> {read(variant.criterion ?? variant.name)}
        </p>
      ))}
    </Screen>
  );
}

/** The order shuffled and one left out: put it right, name the missing one, and see what was misplaced. */
function Check({
  breakdown,
  read,
  again,
}: {
  breakdown: Breakdown;
  read: (text: string) => string;
  again: () => void;
}) {
  const [{ shown, missing }] = useState(() => selfCheck(breakdown, Math.random));
  const [order, setOrder] = useState<readonly Id[]>(shown);
  const [guess, setGuess] = useState('');
  const [wrong, setWrong] = useState<Id[] | null>(null);
  const title = (id: Id) => read(breakdown.checkpoints[placeOf(breakdown, id)]!.title);
  const move = (i: number, by: 1 | -1) => {
    const next = [...order];
    [next[i], next[i + by]] = [next[i + by]!, next[i]!];
    setOrder(next);
    setWrong(null);
  };
  return (
    <Screen>
      <h2>Put them in order. One is missing.</h2>
      <ol aria-label="Your order">
        {order.map((id, i) => (
          <li
            key={id}
            style={{
              display: 'grid',
              gridTemplateColumns: 'minmax(0,1fr) auto auto',
              gap: '0.3rem',
              alignItems: 'center',
              padding: '0.2rem 0',
            }}
          >
            <span style={wrong?.includes(id) ? { color: 'var(--stop)', fontWeight: 650 } : undefined}>
              {title(id)}
              {wrong?.includes(id) && ' – misplaced'}
            </span>
            <Button
              $quiet
              isDisabled={i === 0}
              aria-label={`${title(id)} earlier`}
              onPress={() => move(i, -1)}
            >
              ↑
            </Button>
            <Button
              $quiet
              isDisabled={i === order.length - 1}
              aria-label={`${title(id)} later`}
              onPress={() => move(i, 1)}
            >
              ↓
            </Button>
          </li>
        ))}
      </ol>
      <Select
        label="Which one is missing?"
        value={guess}
        // Two more kinds of the same technique's mistakes would give it away: the checkpoints themselves are offered.
        options={[
          { value: '', text: 'choose …' },
          ...breakdown.checkpoints.map(({ id }) => ({ value: id, text: title(id) })),
        ]}
        onChange={(chosen) => (setGuess(chosen), setWrong(null))}
      />
      <Row>
        <Button $tall onPress={() => setWrong(misplaced(breakdown, order))}>
          Check
        </Button>
        <Button $quiet $tall onPress={again}>
          From the beginning
        </Button>
      </Row>
      {wrong && (
        <p role="status">
          {wrong.length === 0
            ? 'The order is right. '
            : `${wrong.length} misplaced: ${wrong.map(title).join(', ')}. `}
          {guess === missing
            ? `And “${title(missing)}” is the one that was missing.`
            : guess === ''
              ? 'Choose the missing one.'
              : `“${title(guess)}” is not the missing one.`}
        </p>
      )}
    </Screen>
  );
}
