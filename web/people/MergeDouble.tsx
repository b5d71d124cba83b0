import { endpoints } from '@ulkret/contract';
import type { Student } from '@ulkret/core/people';
import { useState } from 'react';
import { mutate } from 'swr';
import { addressOf, ask } from '../api/ask';
import { useApi } from '../api/use-api';
import { useAsking } from '../api/use-asking';
import { Button } from '../ui/button';
import { Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { Refused } from '../ui/states';
import { toast } from '../ui/toast';

/** Somebody who is on the roster twice becomes one: it is said which of the two stays. */
export default function MergeDouble({ student, done }: { student: Student; done: () => void }) {
  const { data } = useApi(endpoints.students);
  const [into, setInto] = useState('');
  const { asking, refusal, busy } = useAsking();
  const others = (data?.students ?? []).filter(({ id }) => id !== student.id);
  const other = others.find(({ id }) => id === into);
  const make = () =>
    asking(async () => {
      const one = await ask(endpoints.mergeStudents, { params: { id: student.id }, body: { into } });
      await Promise.all([mutate(addressOf(endpoints.kit)), mutate(addressOf(endpoints.students))]);
      toast(`${student.name} merged into ${one.name}, with all reps`);
      done();
    }, 'Nothing was changed.');
  return (
    <>
      <Select
        label={`${student.name} is the same person as`}
        above
        options={[
          { value: '', text: 'nobody else' },
          ...others.map(({ id, name, archived }) => ({
            value: id,
            text: archived ? `${name}, archived` : name,
          })),
        ]}
        value={into}
        onChange={setInto}
      />
      {other && (
        <>
          <Quiet>
            All reps, notes and classes of {student.name} become {other.name}’s; what is unknown about{' '}
            {other.name} is filled in. This cannot be undone. First send what other tablets have not sent of{' '}
            {student.name}.
          </Quiet>
          <Row>
            <Button $quiet isDisabled={busy} onPress={() => void make()}>
              Merge into {other.name}
            </Button>
          </Row>
        </>
      )}
      <Refused by={refusal} />
    </>
  );
}
