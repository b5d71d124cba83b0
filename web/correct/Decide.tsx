import { endpoints } from '@ulkret/contract';
import { type Breakdown, placeOf, readFor, type Technique } from '@ulkret/core/breakdown';
import { activityAt, lastBeforeLoad, permit, spanSpares } from '@ulkret/core/care';
import type { Drill } from '@ulkret/core/drills';
import type { Student } from '@ulkret/core/people';
import {
  type Correction,
  goesOn,
  isOpen,
  type Life,
  stoodOn,
  type Terms,
  termsOf,
} from '@ulkret/core/prescription';
import { type KeyboardEvent, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import styled from 'styled-components';
import { useMay } from '../api/may';
import { useApi } from '../api/use-api';
import { rulesOf, today, useKit } from '../device/kit';
import { useDecisions, useFreshReadings } from '../reader/use-reading';
import { Button } from '../ui/button';
import { Caution } from '../ui/caution';
import { Head, Page, Panel, Quiet, Row } from '../ui/frame';
import { Select } from '../ui/select';
import { Empty, Loaded } from '../ui/states';
import { Title } from '../ui/title';
import { toast } from '../ui/toast';
import { many } from '../ui/words';
import { ChangeTerms } from './ChangeTerms';
import { DeclineSheet } from './DeclineSheet';
import { LookAgain } from './LookAgain';
import { One } from './One';
import { useDeciding, worthOf } from '../reader/use-deciding';

/** More than two corrections at once nobody can keep in mind (common practice). */
const mostAtOnce = 2;

const Group = styled.section`
  display: grid;
  gap: 0.6rem;
  > header {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    justify-content: space-between;
    gap: 0.4rem 1rem;
  }
`;

export interface Row {
  student: Student;
  now: Correction;
}

/** Tonight's corrections for those who are here, the most valuable first; several who share one stand together. */
export default function Decide() {
  const [query, setQuery] = useSearchParams();
  useFreshReadings(false);
  const kit = useKit();
  const drills = useApi(endpoints.drills);
  const sessions = kit.data?.sessions ?? [];
  const last = sessions[0];
  const technique = query.get('technique') ?? last?.technique ?? kit.data?.techniques[0]?.technique.id;
  const who = query.get('who') ?? 'everybody';
  const found = kit.data?.techniques.find((one) => one.technique.id === technique);
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(query);
    next.set(name, value);
    setQuery(next, { replace: true });
  };
  return (
    <Page>
      <Head>
        <div>
          <Title>What to correct tonight</Title>
          <Quiet>
            <Link to="/">Today</Link>,{' '}
            <Link to="/correct/followed">what was agreed to, and whether it worked</Link>
          </Quiet>
        </div>
      </Head>
      <Loaded of={kit} what="the room">
        {({ techniques, students }) => (
          <>
            <Row>
              <Select
                label="Technique"
                options={techniques.map((one) => ({ value: one.technique.id, text: one.technique.name }))}
                value={technique ?? ''}
                onChange={(value) => set('technique', value)}
              />
              <Select
                label="Who"
                options={[
                  { value: 'everybody', text: 'everybody' },
                  ...(last
                    ? [
                        {
                          value: 'class',
                          text:
                            last.endedAt === null
                              ? 'who is in the running class'
                              : 'who was in the last class',
                        },
                      ]
                    : []),
                ]}
                value={who}
                onChange={(value) => set('who', value)}
              />
            </Row>
            {found && technique ? (
              <Tonight
                key={technique}
                technique={found.technique}
                breakdown={found.breakdown}
                drills={drills.data?.drills ?? []}
                students={students.filter(
                  ({ id, archived }) => !archived && (who === 'everybody' || last?.pairs.flat().includes(id)),
                )}
              />
            ) : (
              <Empty title="There is no technique yet.">
                <p>
                  Take one from the <Link to="/library">Library</Link> first.
                </p>
              </Empty>
            )}
          </>
        )}
      </Loaded>
    </Page>
  );
}

function Tonight({
  technique,
  breakdown,
  drills,
  students,
}: {
  technique: Technique;
  breakdown: Breakdown;
  drills: readonly Drill[];
  students: readonly Student[];
}) {
  const decisions = useDecisions(technique.id);
  const deciding = useDeciding();
  const decides = useMay('coach');
  const rules = rulesOf(useKit().data);
  const [changed, setChanged] = useState<Row | null>(null);
  const [declined, setDeclined] = useState<Row | null>(null);
  const of = (student: string) => deciding.of(student, technique.id);
  const base = (student: string) => ({ student, technique: technique.id, edition: breakdown.edition });

  /** What was signed off there once and has not lasted. */
  const lapsedOf = (student: string, checkpoint: string): Life | null =>
    deciding.told.data?.prescriptions
      .map(({ life }) => life)
      .findLast(
        (life) =>
          life.student === student &&
          life.technique === technique.id &&
          life.terms.checkpoint === checkpoint &&
          life.state === 'lapsed',
      ) ?? null;
  /** Is there nobody here whom this student may load with it? */
  const nobodyFor = ({ student, now }: Row): boolean => {
    const activity = activityAt(now.dose.rung);
    const circumstances = { rules, today: today() };
    const partners = students.filter(({ id }) => id !== student.id);
    return (
      now.dose.rung > 0 &&
      partners.length > 0 &&
      partners.every(
        (partner) => permit(student, partner, technique, activity, circumstances).verdict === 'not allowed',
      )
    );
  };
  const spared = lastBeforeLoad(breakdown, technique);
  /** Where it stops because nobody here may be loaded with it; null where it need not, or what is corrected comes later. */
  const sparedAt = (row: Row): string | null =>
    spared !== null &&
    placeOf(breakdown, row.now.checkpoint) <= placeOf(breakdown, spared) &&
    !spanSpares(breakdown, technique, row.now.dose.endAt) &&
    nobodyFor(row)
      ? spared
      : null;
  /** What would be agreed to if nobody changed anything. */
  const proposed = (row: Row): Terms => {
    const terms = termsOf(breakdown, row.now);
    return { ...terms, endAt: sparedAt(row) ?? terms.endAt };
  };
  const accept = (row: Row) =>
    deciding.decide({
      ...base(row.student.id),
      does: { is: 'accepted', terms: proposed(row), stood: stoodOn(row.now) },
    });
  /** What stands in the way of it, and what would do; null where nothing does. */
  const conflictOf = (row: Row): string | null => {
    const { student, now } = row;
    const elsewhere = deciding
      .lives(student.id)
      .filter((life) => isOpen(life) && life.technique !== technique.id);
    if (elsewhere.length >= mostAtOnce)
      return `${student.name} works on ${many(elsewhere.length, 'other correction')} already: two at once are the most.`;
    const endAt = sparedAt(row);
    if (endAt !== null)
      return `Nobody here may be loaded with it: the reps stop at ${placeOf(breakdown, endAt) + 1}, before it loads.`;
    if (!spanSpares(breakdown, technique, now.dose.endAt) && nobodyFor(row))
      return 'Nobody here may be loaded with it: drill it alone, under “Change”.';
    return null;
  };
  const keys =
    (row: Row) =>
    (event: KeyboardEvent<HTMLElement>): void => {
      if (!decides || event.ctrlKey || event.metaKey || event.altKey) return;
      const { life, step } = of(row.student.id);
      const to = (by: 1 | -1) => {
        const all = [...document.querySelectorAll<HTMLElement>('[data-row]')];
        all[all.indexOf(event.currentTarget) + by]?.focus();
      };
      if (event.key === 'ArrowDown' || event.key === 'j') to(1);
      else if (event.key === 'ArrowUp' || event.key === 'k') to(-1);
      else if (event.target !== event.currentTarget) return;
      else if (event.key === 'a' && !life) accept(row);
      else if (event.key === 'c') setChanged(row);
      else if (event.key === 'd') setDeclined(row);
      else if (event.key === 'u' && step) deciding.undo(step);
      else return;
      event.preventDefault();
    };

  return (
    <Loaded of={decisions} what="what to correct">
      {(told) => {
        const here = students.flatMap((student) => {
          const now = told.get(student.id);
          return now ? [{ student, now }] : [];
        });
        const rows: Row[] = here
          .flatMap(({ student, now }) => (now.kind === 'correct' ? [{ student, now }] : []))
          .sort((a, b) => worthOf(b.now) - worthOf(a.now));
        const groups = new Map<string, Row[]>();
        for (const row of rows) {
          const { checkpoint } = row.now;
          groups.set(checkpoint, [...(groups.get(checkpoint) ?? []), row]);
        }
        const watched = here.filter(({ now }) => now.kind === 'watch').length;
        const alone = here.flatMap(({ student, now }) => {
          const { life } = of(student.id);
          return life && now.kind !== 'correct' ? [{ student, life }] : [];
        });
        if (here.length === 0)
          return (
            <Empty title={`Nobody of these has drilled ${technique.name} lately.`}>
              <p>
                <Link to="/mat/new">Start a class</Link>: after some reps it says here what to correct.
              </p>
            </Empty>
          );
        return (
          <>
            <Quiet>
              {many(rows.length, 'correction')}, the most valuable a minute first.
              {watched > 0 && ` Of ${many(watched, 'student')} more reps are needed first.`}{' '}
              {decides ? (
                <>
                  On a card: <kbd>a</kbd> accept, <kbd>c</kbd> change, <kbd>d</kbd> decline, <kbd>u</kbd>{' '}
                  undo, arrows to the next.
                </>
              ) : (
                'A coach decides; what is decided is on the Mat at once.'
              )}
            </Quiet>
            {rows.length > 0 && <Caution note={technique.safetyNote} />}
            {[...groups].map(([checkpoint, list]) => {
              const place = placeOf(breakdown, checkpoint);
              const open = list.filter(({ student }) => {
                const { life, declined: no } = of(student.id);
                return !life && no?.checkpoint !== checkpoint;
              });
              return (
                <Panel key={checkpoint}>
                  <Group aria-label={`${place + 1} ${readFor(breakdown.checkpoints[place]!.title, 'right')}`}>
                    <header>
                      <div>
                        <h2>
                          {place + 1} {readFor(breakdown.checkpoints[place]!.title, 'right')}
                        </h2>
                        {list.length > 1 && (
                          <Quiet>{list.length} share it: one demonstration serves them all.</Quiet>
                        )}
                      </div>
                      {decides && open.length > 1 && (
                        <Button
                          $quiet
                          onPress={() => {
                            const made = open.map(accept);
                            toast(`Agreed for ${many(made.length, 'student')}.`, () =>
                              made.forEach(deciding.undo),
                            );
                          }}
                        >
                          Accept all {open.length}
                        </Button>
                      )}
                    </header>
                    {list.map((row) => {
                      const { life, declined: no, step } = of(row.student.id);
                      return (
                        <One
                          key={row.student.id}
                          row={row}
                          breakdown={breakdown}
                          drills={drills}
                          life={life}
                          proposed={proposed(row)}
                          before={lapsedOf(row.student.id, checkpoint)}
                          refused={no?.checkpoint === checkpoint ? no.reason : null}
                          stays={life !== null && goesOn(life, row.now)}
                          conflict={life ? null : conflictOf(row)}
                          onKeyDown={keys(row)}
                          decides={decides}
                          accept={() => accept(row)}
                          change={() => setChanged(row)}
                          decline={() => setDeclined(row)}
                          undo={step ? () => deciding.undo(step) : null}
                        />
                      );
                    })}
                  </Group>
                </Panel>
              );
            })}
            <LookAgain
              lives={deciding.told.data?.prescriptions.map(({ life }) => life) ?? []}
              breakdown={breakdown}
              students={students}
            />
            {alone.length > 0 && (
              <Panel>
                <h2>In work, and not the first thing any more</h2>
                <ul>
                  {alone.map(({ student, life }) => (
                    <li key={student.id}>
                      {student.name}: {placeOf(breakdown, life.terms.checkpoint) + 1} “
                      {readFor(
                        breakdown.checkpoints[placeOf(breakdown, life.terms.checkpoint)]?.title ?? '',
                        student.mainSide,
                      )}
                      ”, {life.state}
                    </li>
                  ))}
                </ul>
              </Panel>
            )}
            {rows.length === 0 && (
              <Empty title="Nothing is clear enough to correct yet.">
                <p>
                  More reps tell: start them at the checkpoints that{' '}
                  <Link to={`/readings/${technique.id}`}>the squad</Link> reaches least.
                </p>
              </Empty>
            )}
            {changed && (
              <ChangeTerms
                name={changed.student.name}
                breakdown={breakdown}
                drills={drills}
                terms={of(changed.student.id).life?.terms ?? proposed(changed)}
                may={(rung) =>
                  permit(changed.student, null, technique, activityAt(rung), {
                    rules,
                    today: today(),
                  }).verdict !== 'not allowed'
                }
                close={() => setChanged(null)}
                keep={(terms) => {
                  const { life } = of(changed.student.id);
                  deciding.decide({
                    ...base(changed.student.id),
                    does: life
                      ? { is: 'edited', of: life.id, terms }
                      : { is: 'accepted', terms, stood: stoodOn(changed.now) },
                  });
                  setChanged(null);
                }}
              />
            )}
            {declined && (
              <DeclineSheet
                name={declined.student.name}
                what={`${placeOf(breakdown, declined.now.checkpoint) + 1} “${readFor(
                  breakdown.checkpoints[placeOf(breakdown, declined.now.checkpoint)]!.title,
                  declined.student.mainSide,
                )}”`}
                close={() => setDeclined(null)}
                decline={(reason) => {
                  deciding.decide({
                    ...base(declined.student.id),
                    does: { is: 'declined', checkpoint: declined.now.checkpoint, reason },
                  });
                  setDeclined(null);
                }}
              />
            )}
          </>
        );
      }}
    </Loaded>
  );
}
