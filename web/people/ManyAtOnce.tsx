import { endpoints } from '@ulkret/contract';
import { RuleTag } from '@ulkret/core/breakdown';
import { gradeWords, type RuleSet } from '@ulkret/core/care';
import type { Student } from '@ulkret/core/people';
import { useState } from 'react';
import styled from 'styled-components';
import { mutate } from 'swr';
import { addressOf, ApiRefusal, ask } from '../api/ask';
import { useMay } from '../api/may';
import { Button } from '../ui/button';
import { Row } from '../ui/frame';
import { Select } from '../ui/select';
import { Refused } from '../ui/states';
import { TextField } from '../ui/text-field';
import { toast } from '../ui/toast';
import { many } from '../ui/words';
import { save } from './StudentForm';

const choose: string = '';
/** As many grades are counted where the house has no names for them. */
const countedGrades = 10;

/** In view wherever in the roster one is. */
const AtHand = styled.div`
  position: sticky;
  bottom: 0;
  z-index: 3;
  display: grid;
  gap: 0.6rem;
  margin: 0 -0.6rem;
  padding: 0.8rem 0.6rem;
  border-top: 2px solid var(--action);
  background: var(--surface);
  @media (max-width: 640px) {
    bottom: 4.2rem;
  }
`;

/** Actions on several people: each on its own, so that a refused one costs no other; and undone by one press. */
export default function ManyAtOnce({
  chosen,
  rules,
  leftLongAgo,
  done,
}: {
  chosen: readonly Student[];
  rules: RuleSet;
  /** All of them left longer ago than the rules keep leavers. */
  leftLongAgo: boolean;
  done: () => void;
}) {
  const heads = useMay('head');
  const [typed, setTyped] = useState('');
  const { at, refusal, change, erase } = useEach(chosen, done);
  const gone = chosen.every(({ archived }) => archived);
  const grades = Array.from({ length: rules.ladder.length || countedGrades }, (_, grade) => ({
    value: String(grade),
    text: gradeWords(rules, grade),
  }));
  const busy = at !== null;
  const sure = `erase ${chosen.length}`;
  return (
    <AtHand role="group" aria-label="Selected students">
      <strong>
        {busy ? `${at + 1} of ${chosen.length} …` : `${many(chosen.length, 'student')} selected`}
      </strong>
      <Row>
        <Select
          label="Grade"
          options={[{ value: choose, text: 'give them' }, ...grades]}
          value={choose}
          onChange={(value) =>
            value !== choose &&
            void change(
              (student) => ({ ...student, grade: Number(value) }),
              (n) => `${many(n, 'student')}: ${gradeWords(rules, Number(value))}`,
            )
          }
        />
        <Select
          label="Consents to"
          options={[
            { value: choose, text: 'add' },
            ...RuleTag.options.map((tag) => ({ value: tag as string, text: tag })),
          ]}
          value={choose}
          onChange={(value) => {
            const tag = RuleTag.safeParse(value).data;
            if (tag)
              void change(
                (student) => ({ ...student, consents: [...new Set([...student.consents, tag])] }),
                (n) => `${many(n, 'student')} consent to: ${tag}`,
              );
          }}
        />
        <Button
          $quiet
          isDisabled={busy}
          onPress={() =>
            void change(
              (student) => ({ ...student, archived: !gone }),
              (n) =>
                gone ? `${many(n, 'student')} restored` : `${many(n, 'student')} archived: their reps stay`,
            )
          }
        >
          {gone ? 'Restore' : 'Archive'}
        </Button>
        <Button $quiet isDisabled={busy} onPress={done}>
          Clear
        </Button>
      </Row>
      {heads && leftLongAgo && (
        <Row>
          <TextField label={`Type “${sure}” to erase them for good`} value={typed} onChange={setTyped} />
          <Button $quiet isDisabled={busy || typed.trim() !== sure} onPress={() => void erase()}>
            Erase for good
          </Button>
        </Row>
      )}
      <Refused by={refusal} />
    </AtHand>
  );
}

/** Changes several students one after the other, and tells of those it did not work for. */
function useEach(chosen: readonly Student[], done: () => void) {
  const [at, setAt] = useState<number | null>(null);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  /** One after the other; throws what is to be told of those with whom it did not work. */
  const each = async (
    people: readonly Student[],
    act: (student: Student) => Promise<void>,
    says: (n: number) => string,
    undo?: (kept: readonly Student[]) => Promise<void>,
  ): Promise<void> => {
    setRefusal(null);
    const kept: Student[] = [];
    const refused: { name: string; why: ApiRefusal }[] = [];
    for (const [i, student] of people.entries()) {
      setAt(i);
      try {
        await act(student);
        kept.push(student);
      } catch (error) {
        if (!(error instanceof ApiRefusal)) throw error;
        refused.push({ name: student.name, why: error });
        // Without a network the others would wait for nothing.
        if (error.status === 0) break;
      }
    }
    setAt(null);
    const [first] = refused;
    if (kept.length > 0) toast(says(kept.length), undo ? () => undo(kept) : null);
    if (!first) return done();
    throw new ApiRefusal(
      first.why.status,
      `${many(kept.length, 'student')} done, ${people.length - kept.length} not. ${refused
        .map(({ name, why }) => `${name}: ${why.message}`)
        .join(' ')}`,
      first.why.todo,
    );
  };
  const told = (error: unknown) => {
    if (!(error instanceof ApiRefusal)) throw error;
    setRefusal(error);
  };
  const change = (to: (student: Student) => Student, says: (n: number) => string) =>
    each(
      chosen,
      (student) => save(to(student), student, true),
      says,
      (kept) =>
        each(
          kept,
          (student) => save(student, to(student), true),
          (n) => `${many(n, 'student')} as before`,
        ),
    ).catch(told);
  const erase = () =>
    each(
      chosen,
      async ({ id }) => {
        await ask(endpoints.erase, { params: { id } });
        await Promise.all([mutate(addressOf(endpoints.kit)), mutate(addressOf(endpoints.students))]);
      },
      (n) => `${many(n, 'student')} erased; their reps stay without a name`,
    ).catch(told);
  return { at, refusal, change, erase };
}
