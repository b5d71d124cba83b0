import { endpoints, type TechniqueRow } from '@ulkret/contract';
import type { Student } from '@ulkret/core/people';
import { Link } from 'react-router';
import { clock } from '../api/clock';
import { useApi } from '../api/use-api';
import { DataTable } from '../ui/data-table';
import { Panel, Quiet } from '../ui/frame';
import { Loaded } from '../ui/states';
import { dayOf, many } from '../ui/words';

const weekMs = 7 * 86_400_000;

/** The classes that somebody was in, and how often of late. */
export function Attendance({ student, rows }: { student: Student; rows: readonly TechniqueRow[] }) {
  const attendance = useApi(endpoints.attendanceOf, { params: { id: student.id } });
  const nameOf = (id: string) => rows.find(({ technique }) => technique.id === id)?.technique.name ?? id;
  return (
    <Loaded of={attendance} what="the classes">
      {({ sessions: list, repsWithoutSession }) => {
        const within = (weeks: number) =>
          list.filter(({ startedAt }) => clock.now() - Date.parse(startedAt) < weeks * weekMs).length;
        return (
          <Panel>
            <h2>Classes</h2>
            <p>
              {list.length === 0
                ? `${student.name} has no classes yet.`
                : `${many(list.length, 'class', 'classes')}: ${within(4)} in the last four weeks, ${within(12)} in the last twelve.`}
              {repsWithoutSession > 0 && ` ${many(repsWithoutSession, 'rep')} came without a class.`}
            </p>
            {list.length > 0 && (
              <>
                <Quiet>A class counts if {student.name} was paired or has a rep in it.</Quiet>
                <DataTable
                  label="the classes"
                  rows={list}
                  keyOf={({ id }) => id}
                  wordsOf={({ startedAt, technique }) => `${dayOf(startedAt)} ${nameOf(technique)}`}
                  columns={[
                    {
                      head: 'When',
                      cell: ({ id, startedAt }) => <Link to={`/mat/${id}/after`}>{dayOf(startedAt)}</Link>,
                      by: ({ startedAt }) => startedAt,
                    },
                    {
                      head: 'Technique',
                      cell: ({ technique }) => nameOf(technique),
                      by: ({ technique }) => nameOf(technique),
                    },
                    { head: 'Attacked', cell: ({ attacked }) => attacked, by: ({ attacked }) => attacked },
                    {
                      head: 'Partnered',
                      cell: ({ partnered }) => partnered,
                      by: ({ partnered }) => partnered,
                    },
                  ]}
                />
              </>
            )}
          </Panel>
        );
      }}
    </Loaded>
  );
}
