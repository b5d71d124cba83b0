import { endpoints } from '@ulkret/contract';
import { isMinor, openInjuries, type Student } from '@ulkret/core/people';
import { useState } from 'react';
import { Button as AriaButton } from 'react-aria-components';
import styled from 'styled-components';
import { useApi } from '../api/use-api';
import { Empty, Loaded } from '../ui/states';
import { Button } from '../ui/button';
import { Sheet } from '../ui/dialog';
import { Head, Page, Panel, Quiet } from '../ui/frame';
import { Table } from '../ui/table';
import { many } from '../ui/words';
import { StudentForm } from './StudentForm';
import { Title } from '../ui/title';

const Roster = styled(Table)`
  td button {
    border: 0;
    padding: 0.3rem 0;
    background: transparent;
    color: var(--action);
    font-weight: 600;
    text-decoration: underline;
    cursor: pointer;
  }
`;

const measured = (value: number | null, unit: string) => (value === null ? '–' : `${value} ${unit}`);

export default function People() {
  const students = useApi(endpoints.students);
  const [open, setOpen] = useState<Student | 'new' | null>(null);
  const today = new Date().toISOString();
  return (
    <Page>
      <Head>
        <Title>People</Title>
        <Button $tall onPress={() => setOpen('new')}>
          Add a student
        </Button>
      </Head>
      <Loaded of={students} what="the roster">
        {({ students: rows }) =>
          rows.length === 0 ? (
            <Empty title="Nobody is on the roster yet.">
              <p>A name is enough to start; body facts can follow when somebody has a tape at hand.</p>
            </Empty>
          ) : (
            <Panel>
              <Quiet>
                {many(rows.length, 'student')}. What is written here is personal: keep the device locked.
              </Quiet>
              <div style={{ overflowX: 'auto' }}>
                <Roster>
                  <thead>
                    <tr>
                      {['Name', 'Main side', 'Experience', 'Stature', 'Mass', 'Arm span', 'Hips', 'Care'].map(
                        (head) => (
                          <th key={head} scope="col">
                            {head}
                          </th>
                        ),
                      )}
                    </tr>
                  </thead>
                  <tbody>
                    {rows.map((student) => (
                      <tr key={student.id}>
                        <td>
                          <AriaButton onPress={() => setOpen(student)}>{student.name}</AriaButton>
                        </td>
                        <td>{student.mainSide}</td>
                        <td>{many(student.experienceMonths, 'month')}</td>
                        <td>{measured(student.statureCm, 'cm')}</td>
                        <td>{measured(student.massKg, 'kg')}</td>
                        <td>{measured(student.armSpanCm, 'cm')}</td>
                        <td>{student.hipMobility ?? '–'}</td>
                        <td>
                          {[
                            ...(isMinor(student, today) ? ['minor'] : []),
                            ...openInjuries(student, today).map(({ region, side }) =>
                              `${side ?? ''} ${region}`.trim(),
                            ),
                          ].join(', ')}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </Roster>
              </div>
            </Panel>
          )
        }
      </Loaded>
      <Sheet
        label={open === 'new' ? 'Add a student' : 'Change a student'}
        isOpen={open !== null}
        close={() => setOpen(null)}
      >
        {open !== null && (
          <StudentForm
            student={open === 'new' ? null : open}
            done={() => {
              setOpen(null);
              void students.mutate();
            }}
            cancel={() => setOpen(null)}
          />
        )}
      </Sheet>
    </Page>
  );
}
