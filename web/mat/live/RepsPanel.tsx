import type { Void } from '@ulkret/core/facts';
import type { Side } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { type Rep, stepsOf } from '@ulkret/core/rep';
import { type Pair, pairKey, partnerOf, repWords } from '@ulkret/core/session';
import { useState } from 'react';
import styled from 'styled-components';
import { RepMark } from '../../strand/RepMark';
import { Button } from '../../ui/button';
import { Choice, rightOrLeft } from '../../ui/choice';
import { Sheet } from '../../ui/dialog';
import { Quiet, Row } from '../../ui/frame';
import { Select } from '../../ui/select';
import { many, timeOf } from '../../ui/words';
import { useCauseOf } from './use-cause-of';
import { useAct, useMat, useMatStore } from './use-mat';
import { useNumberOf } from './use-number-of';

const List = styled.ol`
  display: grid;
  > li {
    display: grid;
    gap: 0.4rem;
    padding: 0.45rem 0;
    border-bottom: 1px solid var(--line);
  }
`;

const nobody = '';

/** Where a rep belongs: who did it, on whom, on which side. */
function Move({
  rep,
  pairs,
  people,
  onMove,
  close,
}: {
  rep: Rep;
  pairs: readonly Pair[];
  people: ReadonlyMap<string, Student>;
  onMove: (to: Pick<Rep, 'student' | 'partner' | 'side'>) => void;
  close: () => void;
}) {
  const [student, setStudent] = useState(rep.student);
  const [partner, setPartner] = useState(rep.partner);
  const [side, setSide] = useState<Side>(rep.side);
  const here = pairs.flat();
  const named = [...new Set([...here, rep.student, ...(rep.partner ? [rep.partner] : [])])].map((id) => ({
    value: id,
    text: people.get(id)?.name ?? id,
  }));
  const attack = (id: string) => {
    setStudent(id);
    // The new attacker most likely did it on their own partner.
    const pair = pairs.find((one) => one.includes(id));
    setPartner(id === partner ? student : pair ? partnerOf(pair, id) : partner);
  };
  return (
    <Row>
      <Select label="Attacked" value={student} options={named} onChange={attack} />
      <Select
        label="On"
        value={partner ?? nobody}
        options={[{ value: nobody, text: 'nobody' }, ...named.filter(({ value }) => value !== student)]}
        onChange={(id) => setPartner(id === nobody ? null : id)}
      />
      <Choice label="Lead side" value={side} options={rightOrLeft} onChange={setSide} />
      <Button
        isDisabled={student === rep.student && partner === rep.partner && side === rep.side}
        onPress={() => {
          onMove({ student, partner, side });
          close();
        }}
      >
        Move rep
      </Button>
      <Button $quiet onPress={close}>
        Cancel
      </Button>
    </Row>
  );
}

const everybody = '';

/** Every rep of the class, the latest first: each can be undone, or moved to whom and to which side it belongs; an undone one restored. */
export default function RepsPanel({ close }: { close: () => void }) {
  const act = useAct();
  const store = useMatStore();
  const now = useMat((one) => one);
  const numberOf = useNumberOf();
  const causeOf = useCauseOf();
  const [moving, setMoving] = useState<string | null>(null);
  const [pair, setPair] = useState(everybody);
  const [coach, setCoach] = useState(everybody);
  const { nameOf, observerName, students: people } = store.knows();
  const { pairs } = now.common.now;
  const all = now.log.all();
  const observers = [...new Set(all.map(({ observer }) => observer))];
  const members = pairs.find((one) => pairKey(one) === pair);
  const isShown = (rep: Rep) =>
    (!members || members.includes(rep.student)) && (coach === everybody || rep.observer === coach);
  const steps = stepsOf(all.filter(isShown)).reverse();
  const undone = now.log.undone().filter(({ rep }) => isShown(rep));
  const told = (rep: Rep) => `${nameOf(rep.student)} ${repWords(now, rep)}, ${timeOf(rep.at)}`;
  return (
    <Sheet label="All reps" width="46rem" close={close}>
      <h2>{many(all.length, 'rep')} of this class</h2>
      <Row>
        <Select
          label="Pair"
          value={pair}
          options={[
            { value: everybody, text: 'all pairs' },
            ...pairs.map((one) => ({ value: pairKey(one), text: one.map(nameOf).join(' and ') })),
          ]}
          onChange={setPair}
        />
        {observers.length > 1 && (
          <Select
            label="Logged by"
            value={coach}
            options={[
              { value: everybody, text: 'everybody' },
              ...observers.map((one) => ({ value: one, text: observerName(one) })),
            ]}
            onChange={setCoach}
          />
        )}
      </Row>
      {steps.length === 0 && <Quiet>No reps yet.</Quiet>}
      <List>
        {steps
          .map((step) => ({ step, rep: step.at(-1)! }))
          .map(({ step, rep }) => (
            <li key={rep.id}>
              <Row>
                {step.map((one) => (
                  <RepMark key={one.id} rep={one} numberOf={numberOf} />
                ))}
                <span style={{ flex: 1 }}>
                  {nameOf(rep.student)}
                  {rep.partner && ` on ${nameOf(rep.partner)}`}, {rep.side} side{' '}
                  <Quiet as="span">
                    {timeOf(rep.at)}
                    {observers.length > 1 && ` · ${observerName(rep.observer)}`}
                    {causeOf(rep) && ` · ${causeOf(rep)}`}
                  </Quiet>
                </span>
                <Button
                  $quiet
                  $tall
                  aria-label={`Move ${told(rep)}`}
                  onPress={() => setMoving(moving === rep.id ? null : rep.id)}
                >
                  Move …
                </Button>
                <Button
                  $quiet
                  $tall
                  aria-label={`Undo ${told(rep)}`}
                  onPress={() => act({ do: 'undo', rep })}
                >
                  Undo
                </Button>
              </Row>
              {moving === rep.id && (
                <Move
                  rep={rep}
                  pairs={pairs}
                  people={people}
                  onMove={(to) => act({ do: 'move', rep, to })}
                  close={() => setMoving(null)}
                />
              )}
            </li>
          ))}
      </List>
      {undone.length > 0 && <Undone of={undone} told={told} />}
    </Sheet>
  );
}

/** Undone reps, each with a way back. */
function Undone({ of: undone, told }: { of: readonly { rep: Rep; by: Void }[]; told: (rep: Rep) => string }) {
  const act = useAct();
  const numberOf = useNumberOf();
  const { nameOf, observerName } = useMatStore().knows();
  return (
    <>
      <h3>Undone</h3>
      <List>
        {undone.map(({ rep, by }) => (
          <li key={rep.id}>
            <Row>
              <RepMark rep={rep} numberOf={numberOf} />
              <span style={{ flex: 1 }}>
                {nameOf(rep.student)}
                {rep.partner && ` on ${nameOf(rep.partner)}`}, {rep.side} side{' '}
                <Quiet as="span">
                  {timeOf(rep.at)} · undone by {observerName(by.observer)} at {timeOf(by.at)}
                </Quiet>
              </span>
              <Button
                $quiet
                $tall
                aria-label={`Restore ${told(rep)}`}
                onPress={() => act({ do: 'restore', rep })}
              >
                Restore
              </Button>
            </Row>
          </li>
        ))}
      </List>
    </>
  );
}
