import { type Conflict, setAt } from '@ulkret/core/breakdown';
import { useState } from 'react';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { Panel, Row } from '../../ui/frame';
import { DataTable } from '../../ui/data-table';
import type { Meeting, DraftWork } from './use-draft';

const told = (value: unknown): string =>
  value === undefined || value === null
    ? 'nothing'
    : typeof value === 'string'
      ? value || 'empty'
      : JSON.stringify(value);

const fieldOf = (whole: DraftWork, path: Conflict['path']): string => {
  const [, list, id, ...rest] = path.map(String);
  const lists = whole.draft as unknown as Record<string, { id: string; title?: string }[]>;
  const title = Array.isArray(lists[list ?? ''])
    ? lists[list!]!.find((one) => one.id === id)?.title
    : undefined;
  return title ? `“${title}”: ${rest.join(' ')}` : path.slice(1).join(' ');
};

/** Two people changed the same fields: each is shown both ways, and the coach chooses, field by field. */
export function MeetingPanel({ meeting, settle }: { meeting: Meeting; settle: (work: DraftWork) => void }) {
  const [theirs, setTheirs] = useState<ReadonlySet<number>>(new Set());
  const { conflicts, merged, by } = meeting;
  const choose = (i: number, other: boolean) => {
    const next = new Set(theirs);
    if (other) next.add(i);
    else next.delete(i);
    setTheirs(next);
  };
  const done = () =>
    settle(
      conflicts.reduce(
        (work, { path, theirs: value }, i) => (theirs.has(i) ? setAt(work, path, value) : work),
        merged,
      ),
    );
  return (
    <Panel role="alert" aria-label="Edit conflict">
      <h2>{by} edited the same fields. Choose which to keep; nothing is lost until you do.</h2>
      <DataTable
        label="the fields"
        rows={conflicts.map((conflict, place) => ({ ...conflict, place }))}
        keyOf={({ path }) => path.join('.')}
        wordsOf={({ path }) => fieldOf(merged, path)}
        columns={[
          { head: 'Field', cell: ({ path }) => fieldOf(merged, path) },
          { head: 'Yours', cell: ({ mine }) => told(mine) },
          { head: `${by}’s`, cell: ({ theirs: other }) => told(other) },
          {
            head: 'Keep',
            cell: ({ place, mine, theirs: other }) => (
              <Choice
                label="Keep"
                value={theirs.has(place) ? 'theirs' : 'mine'}
                options={[
                  { value: 'mine', text: 'yours', title: `Yours: ${told(mine)}` },
                  { value: 'theirs', text: `${by}’s`, title: `${by}’s: ${told(other)}` },
                ]}
                onChange={(side) => choose(place, side === 'theirs')}
              />
            ),
          },
        ]}
      />
      <Row>
        <Button onPress={done}>Save choices</Button>
      </Row>
    </Panel>
  );
}
