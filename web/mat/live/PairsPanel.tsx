import {
  type GroupChange,
  groupChanges,
  pairable,
  pairByMass,
  regroup,
  type SessionChange,
} from '@ulkret/core/session';
import { useMemo, useState } from 'react';

import { Sheet, SheetActions } from '../../ui/dialog';
import { Quiet, Row } from '../../ui/frame';
import { Select } from '../../ui/select';
import { GuestField } from '../pairs/GuestField';
import { usePairPermit } from '../pairs/pair-permit';
import { PairEditor } from '../pairs/PairEditor';
import { guestNamed, useKeepGuest } from '../pairs/use-guest';
import { useAct, useMat, useMatStore } from './use-mat';

const nobody: string = '';
const isOfGroups = (set: SessionChange['set']): set is GroupChange =>
  groupChanges.some((one) => one.shape.is.value === set.is);

/** One change of the pairs, in words. */
function changeWords(set: GroupChange, nameOf: (id: string) => string): string {
  const names = (pair: readonly string[]) => pair.map(nameOf).join(' and ');
  switch (set.is) {
    case 'together':
      return set.pair.length === 1 ? `${names(set.pair)} works alone` : `${names(set.pair)} work together`;
    case 'apart':
      return `${names(set.pair)} are split`;
    case 'came':
      return `${nameOf(set.about)} came`;
    case 'went home':
      return `${nameOf(set.about)} went home`;
    case 'order':
      return `${names(set.pairs[0] ?? [])} come before ${names(set.pairs[1] ?? [])}`;
  }
}

/** What other devices have changed of the pairs since this sheet was opened. */
function useOthers(): string[] {
  const store = useMatStore();
  const changes = useMat(({ log }) => log.changes);
  const [before] = useState(() => new Set(changes.map(({ id }) => id)));
  const { nameOf, observerName } = store.knows();
  return changes.flatMap(({ id, observer, set }) =>
    !before.has(id) && isOfGroups(set) ? [`${observerName(observer)}: ${changeWords(set, nameOf)}.`] : [],
  );
}

/** Pairs of a class that is running: somebody came late, somebody left, two change partners. Only what is changed here is sent. */
export default function PairsPanel({ close }: { close: () => void }) {
  const store = useMatStore();
  const act = useAct();
  const now = useMat(({ common }) => common.now);
  const notes = useMat(({ log }) => log.notes);
  const everybody = useMat(({ common }) => common.now.everybody);
  const [steps, setSteps] = useState<readonly GroupChange[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const keepGuest = useKeepGuest();
  const others = useOthers();
  const { students, technique, breakdown, rules, earlierNotes, nameOf, today } = store.knows();
  const groups = useMemo(
    () => steps.reduce(regroup, { pairs: now.pairs, waiting: now.waiting }),
    [steps, now.pairs, now.waiting],
  );
  const kit = useMemo(() => ({ notes: [...earlierNotes, ...notes], rules }), [earlierNotes, notes, rules]);
  const permitOf = usePairPermit(kit, students, { technique, breakdown }, everybody.rung);
  const here = new Set([...groups.pairs.flat(), ...groups.waiting]);
  const away = [...students.values()].filter(({ id, archived }) => !archived && !here.has(id));
  const change = (...more: GroupChange[]) => setSteps((before) => [...before, ...more]);
  const addGuest = async (name: string) => {
    try {
      const guest = guestNamed(name);
      await keepGuest(guest);
      change({ is: 'came', about: guest.id });
      setTrouble(null);
    } catch {
      setTrouble('This device is full: the guest was not saved. Free some space, then add them again.');
    }
  };
  const pairThem = (free: readonly string[]) => {
    const people = free.flatMap((id) => students.get(id) ?? []);
    const { pairs } = pairByMass(
      people,
      (a, b) =>
        permitOf([a, b])?.verdict !== 'not allowed' && pairable(students.get(a), students.get(b), today),
    );
    change(...pairs.map((pair): GroupChange => ({ is: 'together', pair })));
  };
  return (
    <Sheet label="Change pairs" written={steps.length > 0} tall width="60rem" close={close}>
      <h2>Who works with whom from now on</h2>
      {others.length > 0 && (
        <p role="status">
          <strong>Changed elsewhere since you opened this:</strong> {others.join(' ')}
        </p>
      )}
      <Row>
        <Select
          label="Came late"
          value={nobody}
          options={[
            { value: nobody, text: 'choose …' },
            ...away.map(({ id, name }) => ({ value: id, text: name })),
          ]}
          onChange={(id) => id !== nobody && change({ is: 'came', about: id })}
        />
        <GuestField onAdd={(name) => void addGuest(name)} />
      </Row>
      {trouble && <p role="alert">{trouble}</p>}
      <PairEditor
        groups={groups}
        onChange={change}
        nameOf={nameOf}
        permitOf={permitOf}
        reasons={{}}
        onReason={() => undefined}
        onPairThem={pairThem}
        onHome={(id) => change({ is: 'went home', about: id })}
      />
      <Quiet>
        Tap somebody, then their partner, or “went home”. Reps stay with the students who did them.
      </Quiet>
      <SheetActions
        label="Apply pairs"
        tall
        isDisabled={groups.pairs.length === 0 || steps.length === 0}
        onPress={() => act({ do: 'regroup', changes: steps })}
        close={close}
      />
    </Sheet>
  );
}
