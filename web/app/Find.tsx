import { endpoints } from '@ulkret/contract';
import { readFor } from '@ulkret/core/breakdown';
import { type Findable, findIndex } from '@ulkret/core/find';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { useApi } from '../api/use-api';
import { useKit } from '../device/kit';
import { Sheet } from '../ui/dialog';
import { TypedList } from '../ui/typed-list';
import { dayOf } from '../ui/words';

const places: Findable[] = [
  { kind: 'page', name: 'Today', more: 'corrections, care', to: '/' },
  { kind: 'page', name: 'Library', more: 'techniques, breakdowns', to: '/library' },
  { kind: 'page', name: 'New technique', more: 'write a breakdown', to: '/library/new' },
  {
    kind: 'page',
    name: 'Shared pieces',
    more: 'grips and finishes that techniques share',
    to: '/library/pieces',
  },
  { kind: 'page', name: 'Positions', more: 'start, entry, retreat', to: '/library/positions' },
  { kind: 'page', name: 'Import breakdowns', more: 'import', to: '/library/import' },
  { kind: 'page', name: 'Mat', more: 'classes, sessions', to: '/mat' },
  { kind: 'page', name: 'Set up a class', more: 'class, pairs, set up', to: '/mat/new' },
  { kind: 'page', name: 'Readings', more: 'where reps end, the squad', to: '/readings' },
  { kind: 'page', name: 'People', more: 'roster, students', to: '/people' },
  { kind: 'page', name: 'Your account', more: 'password, devices', to: '/account' },
  { kind: 'page', name: 'Who may sign in', more: 'roles, invitations, access', to: '/access' },
  { kind: 'page', name: 'Academy rules', more: 'caps, restrictions, minors', to: '/rules' },
  { kind: 'page', name: 'Backups', more: 'restore, disk', to: '/backups' },
  { kind: 'page', name: 'Data', more: 'files in and out, export, import', to: '/data' },
  { kind: 'page', name: 'Unsent entries', more: 'waiting, refused, outbox', to: '/unsent' },
];

/** All that can be gone to, as far as this device knows it. */
function useFindables(): Findable[] {
  const { data: kit } = useKit();
  const { data: library } = useApi(endpoints.techniques);
  return useMemo(() => {
    const nameOf = new Map(kit?.techniques.map(({ technique }) => [technique.id, technique.name]));
    return [
      ...places,
      ...(library?.techniques ?? []).map(({ technique: { id, name, aliases, startPosition } }): Findable => ({
        kind: 'technique',
        name,
        more: [...aliases, startPosition].join(', '),
        to: `/library/${id}`,
      })),
      ...(library?.techniques ?? [])
        .filter(({ reps }) => reps > 0)
        .map(({ technique: { id, name } }): Findable => ({
          kind: 'page',
          name: `Readings of ${name}`,
          more: 'squad',
          to: `/readings/${id}`,
        })),
      ...(kit?.techniques ?? []).flatMap(({ technique, breakdown }) =>
        breakdown.checkpoints.map(({ id, title }, i): Findable => ({
          kind: 'checkpoint',
          name: readFor(title, 'right'),
          more: `${i + 1} of ${technique.name}`,
          to: `/readings/${technique.id}/at/${id}`,
        })),
      ),
      ...(kit?.students ?? []).map(({ id, name, guest }): Findable => ({
        kind: 'student',
        name,
        more: guest ? 'guest' : 'student',
        to: kit?.sessions[0] ? `/readings/${kit.sessions[0].technique}/${id}` : '/people',
      })),
      ...(kit?.sessions ?? []).map(({ id, technique, startedAt }): Findable => ({
        kind: 'class',
        name: nameOf.get(technique) ?? technique,
        more: `class of ${dayOf(startedAt)}`,
        to: `/mat/${id}/after`,
      })),
    ];
  }, [kit, library]);
}

/** Finds anything that has a name, and goes there. */
export default function Find({ close }: { close: () => void }) {
  const list = useFindables();
  const index = useMemo(() => findIndex(list), [list]);
  const [words, setWords] = useState('');
  const navigate = useNavigate();
  const found = words.trim() === '' ? places : index.find(words);
  return (
    <Sheet label="Find anything" width="38rem" close={close}>
      <TypedList
        label="What are you looking for?"
        placeholder="A technique, a checkpoint, a student, a class, a page …"
        words={words}
        setWords={setWords}
        items={found.map(({ name, more, kind, to }, i) => ({
          id: `${i} ${to}`,
          name,
          more: kind === 'page' ? '' : more,
        }))}
        none="No matches. Try fewer letters."
        onChoose={(id) => {
          close();
          void navigate(id.replace(/^\d+ /, ''));
        }}
      />
    </Sheet>
  );
}
