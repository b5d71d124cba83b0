import { endpoints } from '@ulkret/contract';
import type { Student } from '@ulkret/core/people';
import { useState } from 'react';
import { mutate } from 'swr';
import { addressOf, ask } from '../api/ask';
import { useMay } from '../api/may';
import { useAsking } from '../api/use-asking';
import { Button } from '../ui/button';
import { Quiet, Row } from '../ui/frame';
import { Refused } from '../ui/states';
import { TextField } from '../ui/text-field';
import { toast } from '../ui/toast';
import { many } from '../ui/words';

/** Requests under data protection: a copy of everything stored, and erasure. */
export default function Privacy({ student, done }: { student: Student; done: () => void }) {
  const may = useMay('head');
  const [typed, setTyped] = useState('');
  const { asking, refusal, busy } = useAsking();
  const erase = () =>
    asking(async () => {
      const { reps, backups } = await ask(endpoints.erase, { params: { id: student.id } });
      await Promise.all([mutate(addressOf(endpoints.kit)), mutate(addressOf(endpoints.students))]);
      toast(
        `${student.name} is erased; ${many(reps, 'rep')} stay without a name` +
          (backups === 'not remade' ? '. The backups of before are still there: see Keeping' : ''),
      );
      done();
    }, 'Nobody was erased.');
  return (
    <>
      <p>
        <a
          href={addressOf(endpoints.everything, { params: { id: student.id } })}
          download={`${student.id}.json`}
        >
          Everything about {student.name}, as a file
        </a>
        , or{' '}
        <a
          href={addressOf(endpoints.everythingToRead, { params: { id: student.id } })}
          download={`${student.id}.html`}
        >
          as a page to read
        </a>
      </p>
      {may && (
        <>
          <Quiet>
            Erasing removes {student.name} everywhere, including backups: body, injuries, notes, links and
            free text. Reps stay, without a name, with mass and main side only. It cannot be undone.
          </Quiet>
          <Row>
            <TextField label={`Type ${student.name} to erase them`} value={typed} onChange={setTyped} />
            <Button $quiet isDisabled={busy || typed.trim() !== student.name} onPress={() => void erase()}>
              Erase for good
            </Button>
          </Row>
          <Refused by={refusal} />
        </>
      )}
    </>
  );
}
