import { mayAsk } from '@ulkret/contract';
import { gradeWords } from '@ulkret/core/care';
import {
  estimated,
  isMinor,
  measuredFacts,
  type MeasuredFact,
  measuredWords,
  openInjuries,
  type Student,
} from '@ulkret/core/people';
import styled from 'styled-components';
import { useHere } from '../api/signed-in';
import { rulesOf, today, useKit } from '../device/kit';
import { Fold } from '../ui/fold';
import { Panel, Quiet } from '../ui/frame';
import { dayOf, many } from '../ui/words';

const Facts = styled.dl`
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 0.35rem 1.2rem;
  margin: 0;
  dt {
    color: var(--muted);
  }
  dd {
    margin: 0;
  }
  @media (max-width: 640px) {
    grid-template-columns: minmax(0, 1fr);
    gap: 0;
    dd {
      margin-bottom: 0.4rem;
    }
  }
`;

const factWords: Readonly<Record<MeasuredFact, string>> = {
  statureCm: 'Stature',
  massKg: 'Mass',
  armSpanCm: 'Arm span',
  neckGirthCm: 'Neck girth',
  chestGirthCm: 'Chest girth',
  armGirthCm: 'Upper arm girth',
  waistGirthCm: 'Waist girth',
  thighGirthCm: 'Thigh girth',
  legLengthCm: 'Leg, hip to heel',
  handLengthCm: 'Hand, wrist to fingertip',
  hipMobility: 'Hips',
  shoulderMobility: 'Shoulders',
  wristMobility: 'Wrists',
};

/** A student's body, experience and consents, with the coach and date of each measure; estimates are marked. */
export function WhoTheyAre({ student }: { student: Student }) {
  const { academy, coach } = useHere();
  const rules = rulesOf(useKit().data);
  const day = today();
  const valueOf = (fact: MeasuredFact, value: Student[MeasuredFact]): string =>
    typeof value === 'number'
      ? measuredWords(academy.units, fact === 'massKg' ? 'mass' : 'length', value)
      : String(value);
  const bodies = measuredFacts.flatMap((fact) => {
    const value = student[fact];
    const { on, by } = student.measured[fact] ?? {};
    if (value !== null)
      return [{ fact, words: valueOf(fact, value), how: on ? `measured ${dayOf(on)}, ${by}` : '' }];
    const guess =
      fact === 'armSpanCm' || fact === 'legLengthCm' || fact === 'handLengthCm'
        ? estimated(student, fact)
        : null;
    return guess === null
      ? []
      : [{ fact, words: `about ${valueOf(fact, guess)}`, how: 'estimated from stature' }];
  });
  const injuries = openInjuries(student, day);
  return (
    <Panel>
      <Fold says={`Who ${student.name} is: body, experience, injuries, consents`}>
        {() => (
          <Facts>
            <dt>Main side</dt>
            <dd>{student.mainSide}</dd>
            <dt>Experience</dt>
            <dd>
              {student.experienceMonths === null
                ? 'not known'
                : `${many(student.experienceMonths, 'month')} on the mat`}
              {student.grade !== null && `; ${gradeWords(rules, student.grade)}`}
            </dd>
            {isMinor(student, day) && mayAsk(coach.role, 'coach') && (
              <>
                <dt>Minor</dt>
                <dd>
                  {student.guardian
                    ? `ask ${student.guardian.name}${student.guardian.contact && `, ${student.guardian.contact}`}`
                    : 'no guardian recorded'}
                </dd>
              </>
            )}
            {bodies.map(({ fact, words, how }) => (
              <div key={fact} style={{ display: 'contents' }}>
                <dt>{factWords[fact]}</dt>
                <dd>
                  {words} {how && <Quiet as="span">({how})</Quiet>}
                </dd>
              </div>
            ))}
            <dt>Open injuries</dt>
            <dd>
              {injuries.length === 0
                ? 'none'
                : injuries
                    .map(
                      ({ region, side, until, note }) =>
                        `${side ?? ''} ${region} until ${dayOf(until)}${note && `: ${note}`}`,
                    )
                    .join('; ')
                    .trim()}
            </dd>
            <dt>Consents</dt>
            <dd>{student.consents.join(', ') || 'none needed'}</dd>
          </Facts>
        )}
      </Fold>
    </Panel>
  );
}
