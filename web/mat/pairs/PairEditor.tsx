import type { Permit } from '@ulkret/core/care';
import type { GroupChange, Groups } from '@ulkret/core/session';
import { useRef, useState } from 'react';
import { mergeProps } from 'react-aria';
import styled from 'styled-components';
import { useMay } from '../../api/may';
import { Button } from '../../ui/button';
import { useCarry, useReceive } from '../../ui/carry';
import { Quiet, Row } from '../../ui/frame';
import { TextField } from '../../ui/text-field';

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

/**
 * Who works with whom, in the order in which the coach walks; the first of a pair attacks first. Each press is one
 * change of it.
 */
export function PairEditor({
  groups: { pairs, waiting },
  onChange,
  nameOf,
  permitOf,
  reasons,
  onReason,
  onPairThem,
  onHome,
}: {
  /** Who works with whom, and who is here without a partner. */
  groups: Groups;
  onChange: (change: GroupChange) => void;
  nameOf: (id: string) => string;
  permitOf: (pair: readonly string[]) => Permit | null;
  /** Written reasons to let refused pairs drill, by their members. */
  reasons: Readonly<Record<string, string>>;
  onReason: (pair: readonly string[], reason: string) => void;
  onPairThem: (free: readonly string[]) => void;
  /** Somebody went home; where nobody can, it is not offered. */
  onHome?: (id: string) => void;
}) {
  const list = useRef<HTMLOListElement>(null);
  const [picked, setPicked] = useState<string | null>(null);
  const decides = useMay('coach');
  const free = waiting;
  const isAnybody = pairs.length + waiting.length > 0;
  const together = (pair: readonly string[]) => onChange({ is: 'together', pair: [...pair] });

  /** Two who are to work together: a new pair, or the one joins the other's as a third. */
  const meet = (one: string, other: string) => {
    setPicked(null);
    if (one === other) return;
    const theirs = pairs.find((pair) => pair.includes(other) && !pair.includes(one) && pair.length < 3);
    together(theirs ? [...theirs, one] : [other, one]);
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
        {free.length === 0 && isAnybody && <Quiet>Everybody is in a pair.</Quiet>}
        {!isAnybody && <Quiet>Nobody is marked as here yet.</Quiet>}
        {free.length > 1 && (
          <Button
            onPress={() => {
              onPairThem(free);
              // This button goes: a keyboard goes on at the pairs.
              list.current?.focus();
            }}
          >
            Pair them
          </Button>
        )}
        {picked !== null && (
          <Picked
            name={nameOf(picked)}
            alone={() => (together([picked]), setPicked(null))}
            home={onHome ? () => (onHome(picked), setPicked(null)) : null}
          />
        )}
      </Row>
      {free.length > 1 && (
        <Quiet style={{ fontSize: '0.92rem' }}>Tap two who work together, or drag one onto the other.</Quiet>
      )}
      <Pairs ref={list} tabIndex={-1} aria-label="Pairs">
        {pairs.map((pair, at) => {
          const permit = permitOf(pair);
          const names = pair.map(nameOf).join(' and ');
          const key = pair.join(' ');
          return (
            <Place key={key} data-grave={permit?.verdict} aria-label={names}>
              <span aria-hidden>{at + 1}</span>
              <div>{pair.map(person)}</div>
              <PairButtons {...{ pair, names, onChange }} before={pairs[at - 1]} />
              {permit && (
                <Reasons
                  permit={permit}
                  reason={reasons[key] ?? ''}
                  onReason={decides ? (words) => onReason(pair, words) : null}
                />
              )}
            </Place>
          );
        })}
      </Pairs>
    </>
  );
}

/** Change who attacks first, move the pair up, split it. */
function PairButtons({
  pair,
  names,
  before,
  onChange,
}: {
  pair: readonly string[];
  names: string;
  before: readonly string[] | undefined;
  onChange: (change: GroupChange) => void;
}) {
  return (
    <div>
      {pair.length > 1 && (
        <button
          type="button"
          className="plain"
          aria-label={`Change who attacks first: ${names}`}
          title="Change who attacks first"
          onClick={() => onChange({ is: 'together', pair: [...pair.slice(1), pair[0]!] })}
        >
          ⇄
        </button>
      )}
      {before && (
        <button
          type="button"
          className="plain"
          aria-label={`Move up: ${names}`}
          title="Move up"
          onClick={() => onChange({ is: 'order', pairs: [[...pair], [...before]] })}
        >
          ↑
        </button>
      )}
      <button
        type="button"
        className="plain"
        aria-label={`Split ${names}`}
        title="Split"
        onClick={() => onChange({ is: 'apart', pair: [...pair] })}
      >
        ✕
      </button>
    </div>
  );
}

/** What a pair may not do, and the reason that overrides it. */
function Reasons({
  permit,
  reason,
  onReason,
}: {
  permit: Permit;
  reason: string;
  onReason: ((words: string) => void) | null;
}) {
  return (
    permit.reasons.length > 0 && (
      <ul>
        {permit.reasons.map(({ words, verdict }) => (
          <li key={words}>
            {verdict === 'not allowed' && <strong>Not allowed. </strong>}
            {words}
          </li>
        ))}
        {onReason && permit.verdict === 'not allowed' && permit.overridable && (
          <li>
            <TextField label="To override, write why" value={reason} maxLength={500} onChange={onReason} />
          </li>
        )}
      </ul>
    )
  );
}

/** What somebody who was tapped can do without a partner. */
function Picked({ name, alone, home }: { name: string; alone: () => void; home: (() => void) | null }) {
  return (
    <>
      <Button $quiet onPress={alone}>
        {name} works alone
      </Button>
      {home && (
        <Button $quiet onPress={home}>
          {name} went home
        </Button>
      )}
    </>
  );
}
