import { endpoints } from '@ulkret/contract';
import { type Breakdown, numberOf } from '@ulkret/core/breakdown';
import { prescriptionWords } from '@ulkret/core/prescription';
import { Link } from 'react-router';
import styled from 'styled-components';
import { useApi } from '../api/use-api';
import { useDecisions, useFreshReadings, useOwnRates } from '../reader/use-reading';
import { RopeThumb } from '../strand/RopeThumb';
import { Panel, Quiet } from '../ui/frame';
import { Loaded } from '../ui/states';
import { many } from '../ui/words';

/** Of the technique that was drilled most, and of each other one. */
const shownFirst = 4;
const shownOfOthers = 2;

const List = styled.ol`
  display: grid;
  gap: 0.4rem;
  margin-top: 0.7rem;
`;

/** The height of a thumbnail of the strand, in pixels. */
const thumbHeight = 44;

const Due = styled(Link)`
  display: grid;
  grid-template-columns: minmax(0, 17.5rem) minmax(0, 1fr);
  align-items: center;
  gap: 0 1.2rem;
  min-height: 48px;
  padding: 0.5rem 0.6rem;
  border-radius: 8px;
  color: var(--ink);
  text-decoration: none;
  line-height: 1.25;
  &:hover {
    background: var(--wash);
  }
  > :first-child {
    grid-row: 1 / 3;
  }
  strong {
    align-self: end;
    font-weight: 650;
  }
  > :last-child {
    align-self: start;
  }
  @media (max-width: 640px) {
    grid-template-columns: minmax(0, 1fr);
    > :first-child {
      grid-row: auto;
    }
  }
`;

/** What to correct first in every technique of the last weeks, the one that was drilled most first. */
export function Corrections({ techniques }: { techniques: readonly string[] }) {
  // What to correct first does not change with every rep.
  useFreshReadings(false);
  return (
    <div>
      {techniques.map((id, i) => (
        <OfTechnique key={id} technique={id} shown={i === 0 ? shownFirst : shownOfOthers} />
      ))}
    </div>
  );
}

/** The corrections of one technique that would gain most, each in its sentence. */
function OfTechnique({ technique: id, shown }: { technique: string; shown: number }) {
  const technique = useApi(endpoints.technique, { params: { id } });
  const decisions = useDecisions(id);
  const students = useApi(endpoints.students);
  const breakdown = technique.data?.editions.at(-1);
  const names = new Map(students.data?.students.map((student) => [student.id, student]));
  return (
    <Panel>
      <h2>Correct first{technique.data && `: ${technique.data.technique.name}`}</h2>
      <Quiet>One checkpoint each: the biggest likely gain.</Quiet>
      <Loaded of={decisions} what="what to correct">
        {(decided) => {
          const due = [...decided]
            .flatMap(([student, prescription]) =>
              prescription.kind === 'correct' ? [{ student, prescription }] : [],
            )
            .sort((a, b) => b.prescription.gain.value - a.prescription.gain.value);
          const watch = [...decided.values()].filter(({ kind }) => kind === 'watch').length;
          return (
            <>
              <List>
                {breakdown &&
                  due.slice(0, shown).map(({ student: who, prescription }) => {
                    const student = names.get(who);
                    const words = prescriptionWords(
                      breakdown,
                      prescription,
                      student?.name ?? who,
                      student?.mainSide ?? 'right',
                    );
                    return (
                      <li key={who}>
                        <Due to={`/readings/${id}/${who}`}>
                          <span style={{ minHeight: thumbHeight }}>
                            <OwnRope breakdown={breakdown} student={who} marked={prescription.checkpoint} />
                          </span>
                          <strong>{words.what}</strong>
                          <Quiet as="span">
                            Lost because of {numberOf(breakdown, prescription.checkpoint)}:{' '}
                            {prescription.failed} of {many(prescription.reached, 'rep')}
                          </Quiet>
                        </Due>
                      </li>
                    );
                  })}
              </List>
              {due.length === 0 && <Quiet>Nobody has enough reps yet.</Quiet>}
              <p style={{ marginTop: '0.9rem' }}>
                <Link to={`/correct?technique=${id}`}>
                  Decide for tonight
                  {due.length > shown && ` (${many(due.length, 'correction')})`}
                </Link>
                , <Link to={`/readings/${id}`}>Whole squad</Link>
                {watch > 0 &&
                  `. ${many(watch, 'student')} ${watch === 1 ? 'needs' : 'need'} more reps first.`}
              </p>
            </>
          );
        }}
      </Loaded>
    </Panel>
  );
}

/** A student's strand, small; empty until the rates are known. */
function OwnRope({
  breakdown: { technique, checkpoints },
  student,
  marked,
}: {
  breakdown: Breakdown;
  student: string;
  marked: string;
}) {
  const own = useOwnRates(technique, student);
  return own && <RopeThumb knots={checkpoints} checkpoints={own.checkpoints} marked={marked} />;
}
