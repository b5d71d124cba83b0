import { type Breakdown, causesAt, placeOf, readFor } from '@ulkret/core/breakdown';
import { type CauseTag, notSeen } from '@ulkret/core/facts';
import type { Rep } from '@ulkret/core/rep';
import { useState } from 'react';
import styled from 'styled-components';
import { Button } from '../../ui/button';
import { Panel, Quiet, Row } from '../../ui/frame';
import { TextField } from '../../ui/text-field';
import { toast } from '../../ui/toast';
import { many, timeOf } from '../../ui/words';

const Untagged = styled.ol`
  display: grid;
  gap: 0.7rem;
  margin: 0.6rem 0;
  li > div {
    margin-top: 0.25rem;
    gap: 0.35rem;
  }
`;

/** The cause given for a stop after class. */
type CauseGiven = Pick<CauseTag, 'cause' | 'words'>;
const nothing: CauseGiven = { cause: null, words: null };

/** How many open questions are shown at once, until all are wanted. */
const atOnce = 8;

/** Asks for the cause of each untagged stop after class, and lists the free text. */
export function Questions({
  untagged,
  reps,
  breakdownOf,
  wordsOf,
  nameOf,
  onTell,
}: {
  untagged: readonly Rep[];
  reps: readonly Rep[];
  /** The edition of what a rep was of; what is not on this device cannot be asked about. */
  breakdownOf: (rep: Rep) => Breakdown | undefined;
  wordsOf: (rep: string) => string | null;
  nameOf: (id: string) => string;
  onTell: (rep: Rep, told: CauseGiven) => void;
}) {
  const [most, setMost] = useState(atOnce);
  const inWords = reps.flatMap((rep) => {
    const words = wordsOf(rep.id);
    return words === null ? [] : [{ rep, words }];
  });
  const tell = (rep: Rep, told: CauseGiven, words: string) => {
    onTell(rep, told);
    toast(`${nameOf(rep.student)}: ${words}`, () => onTell(rep, nothing));
  };
  return (
    <Panel>
      <h2>
        {untagged.length === 0
          ? 'No untagged stops'
          : `${many(untagged.length, 'stop')} without a cause: tag ${untagged.length === 1 ? 'it' : 'them'} now?`}
      </h2>
      <Untagged>
        {untagged.slice(0, most).map((rep) => (
          <Question
            key={rep.id}
            rep={rep}
            breakdown={breakdownOf(rep)}
            nameOf={nameOf}
            onTell={(told, words) => tell(rep, told, words)}
          />
        ))}
      </Untagged>
      {untagged.length > most && (
        <Button $quiet onPress={() => setMost(untagged.length)}>
          Show the {untagged.length - most} others
        </Button>
      )}
      {inWords.length > 0 && (
        <>
          <h3>Free text</h3>
          <Quiet>Not counted as causes. Add recurring ones to the breakdown.</Quiet>
          <ul>
            {inWords.map(({ rep, words }) => (
              <li key={rep.id}>
                <Row>
                  <span>
                    {timeOf(rep.at)} {nameOf(rep.student)}
                    {stopWords(rep, breakdownOf(rep))}: {words}
                  </span>
                  <Button $quiet onPress={() => onTell(rep, nothing)}>
                    Ask again
                  </Button>
                </Row>
              </li>
            ))}
          </ul>
        </>
      )}
    </Panel>
  );
}

const stopWords = (rep: Rep, breakdown: Breakdown | undefined): string =>
  rep.outcome === 'stopped' && breakdown ? ` at ${placeOf(breakdown, rep.stop) + 1}` : '';

function Question({
  rep,
  breakdown,
  nameOf,
  onTell,
}: {
  rep: Rep;
  breakdown: Breakdown | undefined;
  nameOf: (id: string) => string;
  onTell: (told: CauseGiven, words: string) => void;
}) {
  const [writes, setWrites] = useState(false);
  const [words, setWords] = useState('');
  if (rep.outcome !== 'stopped' || !breakdown) return null;
  const place = placeOf(breakdown, rep.stop);
  if (place < 0) return null;
  return (
    <li>
      {timeOf(rep.at)} {nameOf(rep.student)}
      {rep.partner && ` on ${nameOf(rep.partner)}`}, {rep.side}: stopped at {place + 1} “
      {readFor(breakdown.checkpoints[place]!.title, rep.side)}”
      <Row>
        {causesAt(breakdown, rep.stop).map(({ id, title }) => (
          <Button
            key={id}
            $quiet
            onPress={() => onTell({ cause: id, words: null }, readFor(title, rep.side))}
          >
            {readFor(title, rep.side)}
          </Button>
        ))}
        <Button $quiet onPress={() => onTell({ cause: null, words: notSeen }, notSeen)}>
          Not seen
        </Button>
        {!writes && (
          <Button $quiet onPress={() => setWrites(true)}>
            Something else …
          </Button>
        )}
      </Row>
      {writes && (
        <form
          style={{ display: 'flex', gap: '0.4rem', marginTop: '0.35rem' }}
          onSubmit={(event) => {
            event.preventDefault();
            if (words.trim() !== '') onTell({ cause: null, words: words.trim() }, words.trim());
          }}
        >
          <TextField
            aria-label={`What was seen: ${nameOf(rep.student)}, ${timeOf(rep.at)}`}
            placeholder="What was seen"
            value={words}
            maxLength={200}
            onChange={setWords}
            autoFocus
          />
          <Button type="submit" isDisabled={words.trim() === ''}>
            Keep
          </Button>
        </form>
      )}
    </li>
  );
}
