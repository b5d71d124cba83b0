import type { Breakdown, Technique } from '@ulkret/core/breakdown';
import type { CareNote, RuleSet } from '@ulkret/core/care';
import type { Student } from '@ulkret/core/people';
import type { Rung } from '@ulkret/core/rep';
import { pairByMass, type Pair } from '@ulkret/core/session';
import { useMemo, useState } from 'react';
import { Button } from '../ui/button';
import { Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { Sheet } from '../ui/dialog';
import { GuestField } from './GuestField';
import { PairEditor } from './PairEditor';
import { usePairPermit } from './pair-permit';

const nobody: string = '';

/** Pairs of a class that is running: somebody came late, somebody left, two change partners. */
export default function PairsPanel({
  pairs: before,
  students,
  technique,
  breakdown,
  rung,
  notes,
  rules,
  onGuest,
  onPairs,
  close,
}: {
  pairs: readonly Pair[];
  students: ReadonlyMap<string, Student>;
  technique: Technique;
  breakdown: Breakdown;
  rung: Rung;
  notes: readonly CareNote[];
  rules: RuleSet;
  /** Takes a guest in, and answers with their id. */
  onGuest: (name: string) => Promise<string | null>;
  onPairs: (pairs: string[][]) => void;
  close: () => void;
}) {
  const [pairs, setPairs] = useState(() => before.map((pair) => [...pair]));
  const [present, setPresent] = useState<readonly string[]>(() => before.flat());
  const kit = useMemo(() => ({ notes: [...notes], rules }), [notes, rules]);
  const permitOf = usePairPermit(kit, students, { technique, breakdown }, rung);
  const away = [...students.values()].filter(({ id, archived }) => !archived && !present.includes(id));
  const nameOf = (id: string) => students.get(id)?.name ?? id;
  return (
    <Sheet label="Change pairs" written width="60rem" close={close}>
      <h2>Who works with whom from now on</h2>
      <Select
        label="Came late"
        value={nobody}
        options={[
          { value: nobody, text: 'choose …' },
          ...away.map(({ id, name }) => ({ value: id, text: name })),
        ]}
        onChange={(id) => id !== nobody && setPresent([...present, id])}
      />
      <GuestField
        onAdd={(name) => void onGuest(name).then((id) => id !== null && setPresent((now) => [...now, id]))}
      />
      <PairEditor
        present={present}
        pairs={pairs}
        onPairs={setPairs}
        nameOf={nameOf}
        permitOf={permitOf}
        reasons={{}}
        onReason={() => undefined}
        onPairThem={(free) =>
          setPairs([
            ...pairs,
            ...pairByMass(
              free.map((id) => ({ id, massKg: students.get(id)?.massKg ?? null })),
              (a, b) => permitOf([a, b])?.verdict !== 'not allowed',
            ).pairs,
          ])
        }
      />
      <Quiet>Anyone unpaired has gone home. What was logged stays with whoever did it.</Quiet>
      <Row>
        <Button
          isDisabled={pairs.length === 0}
          onPress={() => {
            onPairs(pairs);
            close();
          }}
        >
          Work like this
        </Button>
        <Button $quiet onPress={close}>
          Cancel
        </Button>
      </Row>
    </Sheet>
  );
}
