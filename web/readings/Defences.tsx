import { readFor } from '@ulkret/core/breakdown';
import type { DefenceCost } from '@ulkret/core/reading';
import { Link } from 'react-router';
import { DataTable } from '../ui/data-table';
import { Panel, Quiet } from '../ui/frame';
import { many, percent } from '../ui/words';

export interface Met extends DefenceCost {
  /** Where it is met, in a coach's words. */
  at: string;
  technique: { id: string; name: string };
  /** To the checkpoint from which it is open. */
  to: string;
}

/** The defences that cost the squad most, the dearest first. */
export const Defences = ({ met, alone = false }: { met: readonly Met[]; alone?: boolean }) =>
  met.length > 0 && (
    <Panel>
      <h2>Which defences cost most?</h2>
      <Quiet>
        Stops that were tagged with a defence, and what share of all reps{alone ? '' : ' on its technique'}{' '}
        they are. Untagged stops are not included.
      </Quiet>
      <DataTable
        label="the defences"
        rows={met}
        keyOf={({ technique, defence }) => `${technique.id} ${defence}`}
        wordsOf={({ title, technique }) => `${readFor(title, 'right')} ${technique.name}`}
        columns={[
          {
            head: 'Defence',
            cell: ({ title, to }) => <Link to={to}>{readFor(title, 'right')}</Link>,
            by: ({ title }) => title,
          },
          ...(alone
            ? []
            : [
                {
                  head: 'Against',
                  cell: ({ technique }: Met) => technique.name,
                  by: ({ technique }: Met) => technique.name,
                },
              ]),
          { head: 'Open from', cell: ({ at }) => at },
          { head: 'Stopped', cell: ({ stops }) => many(stops, 'rep'), by: ({ stops }) => stops },
          { head: 'Lost', cell: ({ lost }) => `${percent(lost)} of all`, by: ({ lost }) => lost },
        ]}
      />
    </Panel>
  );
