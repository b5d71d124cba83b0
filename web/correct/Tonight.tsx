import { type Breakdown, placeOf, readFor, type Technique } from '@ulkret/core/breakdown';
import type { Drill } from '@ulkret/core/drills';
import type { Student } from '@ulkret/core/people';
import { goesOn } from '@ulkret/core/prescription';
import { type KeyboardEvent, useState } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { useMay } from '../api/may';
import { worthOf } from '../reader/use-deciding';
import { useDecisions } from '../reader/use-reading';
import { Button } from '../ui/button';
import { Caution } from '../ui/caution';
import { Panel, Quiet } from '../ui/frame';
import { Empty, Loaded } from '../ui/states';
import { toast } from '../ui/toast';
import { many } from '../ui/words';
import { ChangeTerms } from './ChangeTerms';
import { DeclineSheet } from './DeclineSheet';
import { Rechecks } from './Rechecks';
import { One } from './One';
import { type Row, useTonight } from './use-tonight';

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

/** The corrections on one technique for those who are here, the most valuable first; several who share one stand together. */
export function Tonight({
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
  const { of, lapsedOf, proposed, conflictOf, mayAt, accept, edit, decline, undo, lives } = useTonight(
    technique,
    breakdown,
    students,
  );
  const decides = useMay('coach');
  const [changed, setChanged] = useState<Row | null>(null);
  const [declined, setDeclined] = useState<Row | null>(null);
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
      else if (event.key === 'u' && step) undo(step);
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
            <Empty title={`None of these students drilled ${technique.name} recently.`}>
              <p>
                <Link to="/mat/new">Start a class</Link>: corrections appear after a few reps.
              </p>
            </Empty>
          );
        return (
          <>
            <Quiet>
              {many(rows.length, 'correction')}, biggest gain per minute first.
              {watched > 0 && ` ${many(watched, 'student needs', 'students need')} more reps first.`}{' '}
              {decides ? (
                <>
                  On a card: <kbd>a</kbd> accept, <kbd>c</kbd> change, <kbd>d</kbd> decline, <kbd>u</kbd>{' '}
                  undo, arrows to the next.
                </>
              ) : (
                'You decide; a decision is on the Mat at once.'
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
                        {list.length > 1 && <Quiet>{list.length} students share this: show it once.</Quiet>}
                      </div>
                      {decides && open.length > 1 && (
                        <Button
                          $quiet
                          onPress={() => {
                            const made = open.map(accept);
                            toast(`Accepted for ${many(made.length, 'student')}.`, () => made.forEach(undo));
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
                          undo={step ? () => undo(step) : null}
                        />
                      );
                    })}
                  </Group>
                </Panel>
              );
            })}
            <Rechecks lives={lives} breakdown={breakdown} students={students} />
            {alone.length > 0 && (
              <Panel>
                <h2>Still being drilled, no longer the priority</h2>
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
              <Empty title="No correction is clear yet.">
                <p>
                  Log more reps, starting at the checkpoints that{' '}
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
                may={(rung) => mayAt(changed.student, rung)}
                close={() => setChanged(null)}
                keep={(terms) => {
                  edit(changed, terms);
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
                  decline(declined, reason);
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
