import { type Breakdown, readFor, type Side, checkpointWords } from '@ulkret/core/breakdown';
import type { Drill } from '@ulkret/core/drills';
import {
  cautionsOf,
  type Correction,
  betweenOf,
  doseWords,
  minutesOf,
  type Life,
  answerOf,
  answerWords,
  ownDrillOf,
  proofWords,
  signOff,
  signOffWords,
  type Terms,
  wayWords,
  whyWords,
  whyWordsOf,
} from '@ulkret/core/prescription';
import type { KeyboardEvent } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { Button } from '../ui/button';
import { Caution } from '../ui/caution';
import { Fold } from '../ui/fold';
import { Quiet, Row as Line } from '../ui/frame';
import { dayOf, many } from '../ui/words';
import type { Row } from './use-tonight';

const Card = styled.article`
  display: grid;
  gap: 0.45rem;
  padding: 0.8rem 0.9rem;
  border: 1.5px solid var(--line);
  border-left: 5px solid var(--line);
  border-radius: 8px;
  scroll-margin: 5rem;
  &[data-state='accepted'] {
    border-left-color: var(--action);
  }
  &[data-state='declined'] {
    border-left-color: var(--muted);
    color: var(--muted);
  }
  &:focus-visible {
    outline: 3px solid var(--action);
    outline-offset: 2px;
  }
  h3 {
    font-size: 1.1rem;
  }
`;

/** One student's correction: why, how, its state, and what to do with it. */
export function One({
  row: { student, now },
  breakdown,
  drills,
  life,
  proposed,
  before,
  refused,
  stays,
  conflict,
  decides,
  onKeyDown,
  accept,
  change,
  decline,
  sign,
  undo,
}: {
  row: Row;
  breakdown: Breakdown;
  drills: readonly Drill[];
  /** The accepted correction; null if there is none. */
  life: Life | null;
  /** The correction as it is accepted unchanged. */
  proposed: Terms;
  /** The same once before: it was signed off, and has not lasted. */
  before: Life | null;
  /** Why a coach has declined it; null where nobody has. */
  refused: string | null;
  /** Is what is agreed to still the one to drill? */
  stays: boolean;
  conflict: string | null;
  /** May this user decide? */
  decides: boolean;
  onKeyDown: (event: KeyboardEvent<HTMLElement>) => void;
  accept: () => void;
  change: () => void;
  decline: () => void;
  /** Signs it off by a sign that was seen or felt. */
  sign: (words: string) => void;
  undo: (() => void) | null;
}) {
  const lead = student.mainSide;
  const terms = life?.terms ?? proposed;
  const other = life !== null && terms.checkpoint !== now.checkpoint;
  const { proof } = terms;
  const felt = proof?.by === 'sign' && proof.sign && proof.sign.by !== 'measure' ? proof.sign.text : null;
  return (
    <Card
      tabIndex={0}
      data-row={student.id}
      data-state={life ? 'accepted' : refused === null ? undefined : 'declined'}
      aria-label={`${student.name}: ${life ? 'accepted' : refused === null ? 'open' : 'declined'}`}
      onKeyDown={onKeyDown}
    >
      <CardHead {...{ student, life, refused }} technique={breakdown.technique} />
      {other && (
        <p>
          Works on {checkpointWords(breakdown, terms.checkpoint, lead)}.{' '}
          {stays
            ? 'One thing at a time: that stays first.'
            : 'This would help clearly more now. Accept to switch.'}
        </p>
      )}
      {before && (
        <p>
          Signed off before; lapsed {dayOf(before.events.at(-1)!.at)}: {before.events.at(-1)!.words} then.
        </p>
      )}
      <p>{whyWordsOf(breakdown, now, lead)}</p>
      <What {...{ breakdown, terms, drills, lead }} now={other ? null : now} />
      {conflict && (
        <p role="note" style={{ color: 'var(--stop)' }}>
          {conflict}
        </p>
      )}
      <Decisions
        {...{ decides, life, accept, change, decline, undo }}
        isOpen={!life || (other && !stays)}
        isRefused={refused !== null}
        card={`/correct/card/${student.id}`}
        sign={felt === null ? null : () => sign(readFor(felt, lead))}
      />
      <Why {...{ breakdown, now, drills }} lead={student.mainSide} />
    </Card>
  );
}

/** What a coach may do with it. */
function Decisions({
  decides,
  life,
  isOpen,
  isRefused,
  card,
  accept,
  change,
  decline,
  sign,
  undo,
}: {
  decides: boolean;
  life: Life | null;
  /** Can it be accepted? */
  isOpen: boolean;
  isRefused: boolean;
  /** Where the student's card is. */
  card: string;
  accept: () => void;
  change: () => void;
  decline: () => void;
  /** Null where reps sign it off. */
  sign: (() => void) | null;
  undo: (() => void) | null;
}) {
  return (
    <Line>
      {decides && isOpen && <Button onPress={accept}>Accept</Button>}
      {decides && (
        <Button $quiet onPress={change}>
          Change
        </Button>
      )}
      {decides && !isRefused && (
        <Button $quiet onPress={decline}>
          Decline
        </Button>
      )}
      {decides && life && sign && (
        <Button $quiet onPress={sign}>
          Sign off by this sign
        </Button>
      )}
      {life && <Link to={card}>Card</Link>}
      {undo && (
        <Button $quiet onPress={undo}>
          Undo
        </Button>
      )}
    </Line>
  );
}

/** What is drilled, how much of it, and what ends it. */
function What({
  breakdown,
  terms,
  drills,
  lead,
  now,
}: {
  breakdown: Breakdown;
  terms: Terms;
  drills: readonly Drill[];
  lead: Side;
  /** Null if the accepted correction is another one. */
  now: Correction | null;
}) {
  const drill = drills.find(({ id }) => id === terms.drill);
  const defence = breakdown.defences.find(({ id }) => id === terms.defence);
  const own = drill ? null : ownDrillOf(breakdown, terms.mistake, drills);
  const variant = now && wayWords(breakdown, now, lead);
  const task = defence?.task || drill?.task;
  const toProve = proofWords(breakdown, terms, lead);
  const cautions = cautionsOf(breakdown, terms.checkpoint, { drill, ways: [now?.way ?? null] }).join(' ');
  return (
    <>
      {defence && (
        <p>
          The partner usually ends it: {readFor(defence.title, lead)}.{' '}
          {now?.answer?.defence === defence.id && answerWords(breakdown, now, lead)}{' '}
          {defence.answers.length === 0 && <Link to={`/library/${breakdown.technique}`}>The Library</Link>}
        </p>
      )}
      <p>
        <strong>{drill ? drill.title : own === null ? 'Just this checkpoint' : readFor(own, lead)}</strong>
        {drill && `: ${drill.setUp}`} {doseWords(terms, betweenOf(breakdown, terms))}, about{' '}
        {many(minutesOf(terms, drill), 'minute')}.
      </p>
      {toProve && <p>{toProve}</p>}
      {variant && <p>{variant}</p>}
      {terms.cue && terms.cue !== (now && answerOf(breakdown, now)?.how) && (
        <p>
          {defence && defence.answers.length > 0 ? 'Answer' : 'Cue'}: {readFor(terms.cue, lead)}
        </p>
      )}
      {defence?.signal && <Quiet>Signal: {readFor(defence.signal, lead)}</Quiet>}
      {task && <Quiet>Partner: {readFor(task, lead)}</Quiet>}
      {cautions && <Caution note={readFor(cautions, lead)} />}
    </>
  );
}

/** Why this correction, why not the others, and the rules that decided. */
function Why({
  breakdown,
  now,
  drills,
  lead,
}: {
  breakdown: Breakdown;
  now: Correction;
  drills: readonly Drill[];
  lead: Side;
}) {
  const why = whyWords(breakdown, now, lead, drills);
  return (
    <Fold says="Why this one?">
      {() => (
        <>
          <p>{why.chosen}</p>
          <ul>
            {why.others.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          {why.rules.map((line) => (
            <p key={line}>{line}</p>
          ))}
        </>
      )}
    </Fold>
  );
}

function CardHead({
  student,
  technique,
  life,
  refused,
}: {
  student: Row['student'];
  technique: string;
  life: Life | null;
  refused: string | null;
}) {
  return (
    <Line>
      <h3>
        <Link to={`/readings/${technique}/${student.id}`}>{student.name}</Link>
      </h3>
      {life && (
        <Quiet as="span">
          {life.state === 'accepted' ? 'accepted' : `${life.state}: ${signOffWords(signOff(life.held))}`}
        </Quiet>
      )}
      {refused !== null && !life && <Quiet as="span">declined for four weeks: {refused}</Quiet>}
    </Line>
  );
}
