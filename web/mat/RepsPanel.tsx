import type { Side } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import { type Rep, stepsOf } from '@ulkret/core/rep';
import { type Pair, partnerOf } from '@ulkret/core/session';
import { useState } from 'react';
import styled from 'styled-components';
import { RepMark } from '../strand/RepMark';
import { Button } from '../ui/button';
import { Choice, rightOrLeft } from '../ui/choice';
import { Sheet } from '../ui/dialog';
import { Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { many, timeOf } from '../ui/words';

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
    // Whoever attacks now most likely did it on their own partner.
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
        Move it
      </Button>
      <Button $quiet onPress={close}>
        Cancel
      </Button>
    </Row>
  );
}

/** Every rep of the class, the latest first: each can be undone, or moved to whom and to which side it belongs. */
export default function RepsPanel({
  reps,
  pairs,
  people,
  numberOf,
  causeOf,
  onUndo,
  onMove,
  close,
}: {
  reps: readonly Rep[];
  pairs: readonly Pair[];
  people: ReadonlyMap<string, Student>;
  numberOf: (checkpoint: string, technique: string) => number;
  causeOf: (rep: Rep) => string | null;
  onUndo: (rep: Rep) => void;
  onMove: (rep: Rep, to: Pick<Rep, 'student' | 'partner' | 'side'>) => void;
  close: () => void;
}) {
  const [moving, setMoving] = useState<string | null>(null);
  const nameOf = (id: string) => people.get(id)?.name ?? id;
  return (
    <Sheet label="All reps" width="46rem" close={close}>
      <h2>{many(reps.length, 'rep')} of this class</h2>
      {reps.length === 0 && <Quiet>Nothing is tapped yet.</Quiet>}
      <List>
        {stepsOf(reps)
          .reverse()
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
                    {causeOf(rep) && ` · ${causeOf(rep)}`}
                  </Quiet>
                </span>
                <Button $quiet onPress={() => setMoving(moving === rep.id ? null : rep.id)}>
                  Move …
                </Button>
                <Button $quiet onPress={() => onUndo(rep)}>
                  Undo
                </Button>
              </Row>
              {moving === rep.id && (
                <Move
                  rep={rep}
                  pairs={pairs}
                  people={people}
                  onMove={(to) => onMove(rep, to)}
                  close={() => setMoving(null)}
                />
              )}
            </li>
          ))}
      </List>
    </Sheet>
  );
}
