import {
  type Breakdown,
  type Id,
  placeOf,
  readFor,
  type Technique,
  checkpointWords,
} from '@ulkret/core/breakdown';
import type { Drill } from '@ulkret/core/drills';
import type { Student } from '@ulkret/core/people';
import { goesOn, type Life, type Prescription } from '@ulkret/core/prescription';
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
  const tonight = useTonight(technique, breakdown, students);
  const { of, lives } = tonight;
  const decides = useMay('coach');
  const [changed, setChanged] = useState<Row | null>(null);
  const [declined, setDeclined] = useState<Row | null>(null);
  return (
    <Loaded of={decisions} what="what to correct">
      {(told) => {
        const { here, rows, groups, watched, alone } = sorted(students, told, (id) => of(id).life);
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
            <Intro corrections={rows.length} watched={watched} decides={decides} />
            {rows.length > 0 && <Caution note={technique.safetyNote} />}
            {[...groups].map(([checkpoint, list]) => (
              <Shared
                key={checkpoint}
                {...{ breakdown, drills, checkpoint, list, tonight, decides, setChanged, setDeclined }}
              />
            ))}
            <Rechecks lives={lives} breakdown={breakdown} students={students} />
            <NoPriority of={alone} breakdown={breakdown} />
            {rows.length === 0 && (
              <Empty title="No correction is clear yet.">
                <p>
                  Log more reps, starting at the checkpoints that{' '}
                  <Link to={`/readings/${technique.id}`}>the squad</Link> reaches least.
                </p>
              </Empty>
            )}
            <Sheets
              {...{ breakdown, drills, tonight, changed, declined }}
              close={() => (setChanged(null), setDeclined(null))}
            />
          </>
        );
      }}
    </Loaded>
  );
}

type Evening = ReturnType<typeof useTonight>;

/** Who is here, their corrections by checkpoint (the biggest gain first), and the corrections that are no priority any more. */
function sorted(
  students: readonly Student[],
  decisions: ReadonlyMap<Id, Prescription>,
  lifeOf: (student: Id) => Life | null,
) {
  const here = students.flatMap((student) => {
    const now = decisions.get(student.id);
    return now ? [{ student, now }] : [];
  });
  const rows: Row[] = here
    .flatMap(({ student, now }) => (now.kind === 'correct' ? [{ student, now }] : []))
    .sort((a, b) => worthOf(b.now) - worthOf(a.now));
  const groups = new Map<Id, Row[]>();
  for (const row of rows) groups.set(row.now.checkpoint, [...(groups.get(row.now.checkpoint) ?? []), row]);
  return {
    here,
    rows,
    groups,
    watched: here.filter(({ now }) => now.kind === 'watch').length,
    alone: here.flatMap(({ student, now }) => {
      const life = lifeOf(student.id);
      return life && now.kind !== 'correct' ? [{ student, life }] : [];
    }),
  };
}

function Intro({
  corrections,
  watched,
  decides,
}: {
  corrections: number;
  watched: number;
  decides: boolean;
}) {
  return (
    <Quiet>
      {many(corrections, 'correction')}, biggest gain first.
      {watched > 0 && ` ${many(watched, 'student needs', 'students need')} more reps first.`}{' '}
      {decides ? (
        <>
          On a card: <kbd>a</kbd> accept, <kbd>c</kbd> change, <kbd>d</kbd> decline, <kbd>u</kbd> undo, arrows
          to the next.
        </>
      ) : (
        'A coach decides; decisions are on the Mat at once.'
      )}
    </Quiet>
  );
}

/** The students who share a correction: one demonstration serves them. */
function Shared({
  breakdown,
  drills,
  checkpoint,
  list,
  tonight,
  decides,
  setChanged,
  setDeclined,
}: {
  breakdown: Breakdown;
  drills: readonly Drill[];
  checkpoint: Id;
  list: readonly Row[];
  tonight: Evening;
  decides: boolean;
  setChanged: (row: Row) => void;
  setDeclined: (row: Row) => void;
}) {
  const { of, lapsedOf, proposed, conflictOf, accept, sign, undo } = tonight;
  const place = placeOf(breakdown, checkpoint);
  const open = list.filter(({ student }) => {
    const { life, declined: no } = of(student.id);
    return !life && no?.checkpoint !== checkpoint;
  });
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
    <Panel>
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
              sign={(words) => life && sign(row, life, words)}
              undo={step ? () => undo(step) : null}
            />
          );
        })}
      </Group>
    </Panel>
  );
}

/** Corrections still being drilled that are not the first thing any more. */
function NoPriority({
  of: alone,
  breakdown,
}: {
  of: readonly { student: Student; life: Life }[];
  breakdown: Breakdown;
}) {
  return (
    alone.length > 0 && (
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
    )
  );
}

/** The sheets over the cards: change one, or decline one. */
function Sheets({
  breakdown,
  drills,
  tonight: { load, of, proposed, mayAt, edit, decline },
  changed,
  declined,
  close,
}: {
  breakdown: Breakdown;
  drills: readonly Drill[];
  tonight: Evening;
  changed: Row | null;
  declined: Row | null;
  close: () => void;
}) {
  return (
    <>
      {changed && (
        <ChangeTerms
          name={changed.student.name}
          breakdown={breakdown}
          drills={drills}
          terms={of(changed.student.id).life?.terms ?? proposed(changed)}
          load={load}
          may={(rung) => mayAt(changed.student, rung)}
          close={close}
          keep={(terms) => {
            edit(changed, terms);
            close();
          }}
        />
      )}
      {declined && (
        <DeclineSheet
          name={declined.student.name}
          what={checkpointWords(breakdown, declined.now.checkpoint, declined.student.mainSide)}
          close={close}
          decline={(reason) => {
            decline(declined, reason);
            close();
          }}
        />
      )}
    </>
  );
}
