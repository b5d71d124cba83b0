import type { Permit } from '@ulkret/core/care';
import { useRef, useState } from 'react';
import { mergeProps } from 'react-aria';
import styled from 'styled-components';
import { useMay } from '../api/may';
import { Button } from '../ui/button';
import { useCarry, useReceive } from '../ui/carry';
import { Quiet, Row } from '../ui/frame';
import { TextField } from '../ui/text-field';

const Place = styled.li`
  display: grid;
  grid-template-columns: auto 1fr auto;
  align-items: center;
  gap: 0.2rem 0.6rem;
  background: var(--raised);
  border: 2px solid transparent;
  border-radius: 8px;
  padding: 0 0.2rem 0 0.7rem;
  min-height: 52px;
  &[data-over='true'] {
    border-color: var(--action);
  }
  &[data-grave='not allowed'] {
    border-left: 5px solid var(--stop);
  }
  &[data-grave='with care'] {
    border-left: 5px solid var(--soft);
  }
  > ul {
    grid-column: 1 / -1;
    padding-bottom: 0.4rem;
    font-size: 0.92rem;
    line-height: 1.2;
  }
  > div {
    display: flex;
    flex-wrap: wrap;
    gap: 0.3rem;
  }
  > div:last-of-type {
    gap: 0;
    flex-wrap: nowrap;
  }
  button.plain {
    min-width: 44px;
    min-height: 44px;
    border: 0;
    background: transparent;
    color: var(--action);
    font-weight: 600;
    cursor: pointer;
  }
`;

const Pairs = styled.ol`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 21.5rem), 1fr));
  gap: 0.5rem;
  align-items: start;
`;

const PersonFace = styled.button`
  min-height: 48px;
  padding: 0 0.7rem;
  border: 2px solid var(--line);
  border-radius: 8px;
  background: var(--surface);
  cursor: grab;
  touch-action: manipulation;
  &[aria-pressed='true'] {
    border-color: var(--action);
    background: var(--wash);
    font-weight: 650;
  }
  &[data-over] {
    border-style: dashed;
    border-color: var(--action);
  }
`;

/** Somebody who can be tapped, or taken and dropped on somebody else. */
function Person({
  id,
  name,
  picked,
  onTap,
  onMeet,
}: {
  id: string;
  name: string;
  picked: boolean;
  onTap: () => void;
  onMeet: (other: string) => void;
}) {
  const ref = useRef<HTMLButtonElement>(null);
  const { dragProps } = useCarry({ kind: 'person', id });
  const { dropProps, isDropTarget } = useReceive(ref, { kind: 'person', onDrop: onMeet });
  return (
    <PersonFace
      {...mergeProps(dragProps, dropProps, { onClick: onTap })}
      ref={ref}
      type="button"
      aria-pressed={picked}
      data-over={isDropTarget || undefined}
      data-testid="person"
    >
      {name}
    </PersonFace>
  );
}

/** Who works with whom, in the order in which the coach walks; who stands first attacks first. */
export function PairEditor({
  present,
  pairs,
  onPairs,
  nameOf,
  permitOf,
  reasons,
  onReason,
  onPairThem,
}: {
  /** Everybody who is here, in the order of the roster. */
  present: readonly string[];
  pairs: readonly (readonly string[])[];
  onPairs: (pairs: string[][]) => void;
  nameOf: (id: string) => string;
  permitOf: (pair: readonly string[]) => Permit | null;
  /** Written reasons to let refused pairs drill, by their members. */
  reasons: Readonly<Record<string, string>>;
  onReason: (pair: readonly string[], reason: string) => void;
  onPairThem: (free: readonly string[]) => void;
}) {
  const [picked, setPicked] = useState<string | null>(null);
  const decides = useMay('coach');
  const free = present.filter((id) => !pairs.some((pair) => pair.includes(id)));
  /** The pairs without these people; who is left behind by their partner is free again. */
  const without = (ids: readonly string[]) =>
    pairs
      .map((pair) => pair.filter((id) => !ids.includes(id)))
      .filter((pair, i) => pair.length > 1 || (pair.length === 1 && pairs[i]!.length === 1));

  /** Two who are to work together: a new pair, or the one joins the other's as a third. */
  const meet = (one: string, other: string) => {
    setPicked(null);
    if (one === other) return;
    const theirs = pairs.find((pair) => pair.includes(other) && !pair.includes(one) && pair.length < 3);
    onPairs(
      theirs
        ? without([one]).map((pair) => (pair.includes(other) ? [...pair, one] : [...pair]))
        : [...without([one, other]).map((pair) => [...pair]), [other, one]],
    );
  };
  const tap = (id: string) =>
    picked === null || picked === id ? setPicked(picked === id ? null : id) : meet(picked, id);
  const person = (id: string) => (
    <Person
      key={id}
      id={id}
      name={nameOf(id)}
      picked={picked === id}
      onTap={() => tap(id)}
      onMeet={(other) => meet(other, id)}
    />
  );
  return (
    <>
      <Row>
        {free.map(person)}
        {free.length === 0 && present.length > 0 && <Quiet>Everybody is in a pair.</Quiet>}
        {present.length === 0 && <Quiet>Nobody is marked as here yet.</Quiet>}
        {free.length > 1 && <Button onPress={() => onPairThem(free)}>Pair them</Button>}
        {picked !== null && (
          <Button
            $quiet
            onPress={() => {
              onPairs([...without([picked]).map((pair) => [...pair]), [picked]]);
              setPicked(null);
            }}
          >
            {nameOf(picked)} works alone
          </Button>
        )}
      </Row>
      {free.length > 1 && (
        <Quiet style={{ fontSize: '0.92rem' }}>Tap two who work together, or drag one onto the other.</Quiet>
      )}
      <Pairs aria-label="Pairs">
        {pairs.map((pair, at) => {
          const permit = permitOf(pair);
          const names = pair.map(nameOf).join(' and ');
          const key = pair.join(' ');
          return (
            <Place key={key} data-grave={permit?.verdict} aria-label={names}>
              <span aria-hidden>{at + 1}</span>
              <div>{pair.map(person)}</div>
              <div>
                {pair.length > 1 && (
                  <button
                    type="button"
                    className="plain"
                    aria-label={`Another attacks first: ${names}`}
                    title="Another attacks first"
                    onClick={() =>
                      onPairs(pairs.map((one) => (one === pair ? [...one.slice(1), one[0]!] : [...one])))
                    }
                  >
                    ⇄
                  </button>
                )}
                {at > 0 && (
                  <button
                    type="button"
                    className="plain"
                    aria-label={`Move up: ${names}`}
                    title="Move up"
                    onClick={() => {
                      const next = pairs.map((one) => [...one]);
                      [next[at - 1], next[at]] = [next[at]!, next[at - 1]!];
                      onPairs(next);
                    }}
                  >
                    ↑
                  </button>
                )}
                <button
                  type="button"
                  className="plain"
                  aria-label={`Undo the pair ${names}`}
                  title="Undo the pair"
                  onClick={() => onPairs(without(pair).map((one) => [...one]))}
                >
                  ✕
                </button>
              </div>
              {permit && permit.reasons.length > 0 && (
                <ul>
                  {permit.reasons.map(({ words, verdict }) => (
                    <li key={words}>
                      {verdict === 'not allowed' && <strong>Not allowed. </strong>}
                      {words}
                    </li>
                  ))}
                  {decides && permit.verdict === 'not allowed' && permit.overridable && (
                    <li>
                      <TextField
                        label="To let them drill it, write why"
                        value={reasons[key] ?? ''}
                        maxLength={500}
                        onChange={(words) => onReason(pair, words)}
                      />
                    </li>
                  )}
                </ul>
              )}
            </Place>
          );
        })}
      </Pairs>
    </>
  );
}
