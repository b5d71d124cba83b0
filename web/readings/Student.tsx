import { endpoints } from '@ulkret/contract';
import { type Breakdown, readFor, type Side } from '@ulkret/core/breakdown';
import { type Prescription, prescriptionWords } from '@ulkret/core/prescription';
import type { CheckpointReading, Reading } from '@ulkret/core/reading';
import { rungNames } from '@ulkret/core/rep';
import { Link, useParams } from 'react-router';
import styled from 'styled-components';
import { useApi } from '../shell/api';
import { Empty, Loaded } from '../shell/states';
import { Caution, Head, Page, Panel, Quiet } from '../shell/ui';
import { many, percent, range } from '../shell/words';
import { Strand } from '../strand/Strand';
import { Evidence } from './Evidence';
import { SliceControls, useSlice } from './slice';

const Columns = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 6fr) minmax(0, 5fr);
  gap: 1.1rem;
  align-items: start;
  @media (max-width: 1000px) {
    grid-template-columns: minmax(0, 1fr);
  }
  > div {
    display: grid;
    gap: 1.1rem;
  }
`;

const KnotLink = styled(Link)`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 1rem;
  padding: 0.4rem 0.7rem;
  border-radius: 8px;
  color: var(--ink);
  text-decoration: none;
  line-height: 1.25;
  strong {
    font-weight: 600;
  }
  em {
    font-style: normal;
    font-weight: 650;
    text-align: right;
  }
  small {
    color: var(--muted);
    font-size: 0.88rem;
  }
  small {
    grid-column: 1 / -1;
  }
  &[aria-current] {
    background: var(--wash);
  }
`;

const Told = styled(Panel)`
  display: grid;
  gap: 0.6rem;
  border-top: 4px solid var(--action);
  h2 {
    font-size: 1.25rem;
  }
`;

/** The squad as a whole has its own row and its own strand; this is its name in the address. */
const squad = 'squad';

export default function StudentPage() {
  const { technique: id = '', student = '' } = useParams();
  const slice = useSlice();
  const technique = useApi(endpoints.technique, { params: { id } });
  const students = useApi(endpoints.students);
  const readings = useApi(endpoints.readings, {
    query: { technique: id, ...(student !== squad && { student }), ...slice.query },
  });
  const person = students.data?.students.find((one) => one.id === student);
  const whose = student === squad ? 'the squad’s' : `${person?.name ?? student}’s`;
  return (
    <Page>
      <Loaded of={technique} what="the breakdown">
        {({ technique: one, editions }) => {
          const breakdown = editions.at(-1)!;
          const lead: Side = slice.query.side ?? person?.mainSide ?? 'right';
          return (
            <>
              <Head>
                <div>
                  <h1>Where do {whose} reps end?</h1>
                  <Quiet>
                    <Link to={`/readings/${id}?${slice.kept}`}>{one.name}, the squad</Link>
                  </Quiet>
                </div>
                <SliceControls slice={slice} />
              </Head>
              <Loaded of={readings} what="the reading">
                {(read) => {
                  const found =
                    student === squad ? { reading: read.squad, prescription: null } : read.students[0];
                  if (!found || found.reading.reps === 0)
                    return (
                      <Empty title="No rep fits these settings.">
                        <p>Choose another rung, side or date, or drill some.</p>
                      </Empty>
                    );
                  return (
                    <Found
                      {...found}
                      caution={one.safetyNote}
                      name={person?.name ?? 'The squad'}
                      breakdown={breakdown}
                      lead={lead}
                      technique={id}
                      student={student === squad ? undefined : student}
                      slice={slice}
                    />
                  );
                }}
              </Loaded>
            </>
          );
        }}
      </Loaded>
    </Page>
  );
}

interface FoundProps {
  reading: Reading;
  prescription: Prescription | null;
  caution: string;
  name: string;
  breakdown: Breakdown;
  lead: Side;
  technique: string;
  student: string | undefined;
  slice: ReturnType<typeof useSlice>;
}

function Found({
  reading,
  prescription,
  caution,
  name,
  breakdown,
  lead,
  technique,
  student,
  slice,
}: FoundProps) {
  const worst = reading.checkpoints.reduce((a, b) => (b.leak.value > a.leak.value ? b : a));
  const chosen =
    slice.search.get('checkpoint') ??
    (prescription && prescription.kind !== 'none' ? prescription.checkpoint : worst.checkpoint);
  const at = reading.checkpoints.find(({ checkpoint }) => checkpoint === chosen) ?? worst;
  const linkTo = (checkpoint: string) => {
    const search = new URLSearchParams(slice.kept);
    search.set('checkpoint', checkpoint);
    return `?${search}`;
  };
  return (
    <Columns>
      <Panel>
        <p style={{ marginBottom: '0.8rem' }}>
          Of 100 reps now, about <strong>{Math.round(reading.finishOdds.value * 100)}</strong> finish (
          {range(reading.finishOdds)}). Counted: {reading.finished} finishes in {many(reading.reps, 'rep')}.
        </p>
        <Strand
          label={`${name}: where the reps end`}
          knots={breakdown.checkpoints}
          reading={reading}
          selected={at.checkpoint}
          rowHeight={78}
          width={184}
          row={({ id }, place) => {
            const one = reading.checkpoints[place]!;
            return (
              <KnotLink
                to={linkTo(id)}
                replace

                aria-current={id === at.checkpoint ? 'true' : undefined}
              >
                <strong>
                  {place + 1} {readFor(breakdown.checkpoints[place]!.title, lead)}
                </strong>
                <em>{percent(one.leak.value)} lost</em>
                <small>
                  {one.failed} of the {one.reached} that got here: {percent(one.hazard.value)},{' '}
                  {range(one.hazard)}
                  {!one.enough && ` · not enough yet, ${one.moreNeeded} more`}
                </small>
              </KnotLink>
            );
          }}
        />
        <p style={{ paddingLeft: 184 + 12 }}>
          <strong>{percent(reading.finishOdds.value)} finish</strong>
        </p>
        <Quiet>
          Width is the share of reps still alive. To the left fray mistakes, to the right defences; hatched is
          what nobody tagged.
        </Quiet>
      </Panel>
      <div>
        {prescription && <Prescribed {...{ prescription, breakdown, name, lead, caution }} />}
        <CheckpointDetail at={at} breakdown={breakdown} lead={lead} reading={reading} />
        <Evidence
          query={{ technique, checkpoint: at.checkpoint, ...(student && { student }), ...slice.query }}
          breakdown={breakdown}
          lead={lead}
          expected={at.reached}
        />
      </div>
    </Columns>
  );
}

function Prescribed({
  prescription,
  breakdown,
  name,
  lead,
  caution,
}: {
  prescription: Prescription;
  breakdown: Breakdown;
  name: string;
  lead: Side;
  caution: string;
}) {
  const { what, why, how } = prescriptionWords(breakdown, prescription, name, lead);
  return (
    <Told data-testid="prescription">
      <h2>{what}</h2>
      <p>{why}</p>
      {how && <p>{how}</p>}
      {prescription.kind === 'correct' && <Caution note={caution} />}
    </Told>
  );
}

const Small = styled.table`
  margin-top: 0.6rem;
  td,
  th {
    padding: 0.2rem 1rem 0.2rem 0;
    text-align: left;
  }
  th {
    color: var(--muted);
    font-weight: 500;
  }
`;

function CheckpointDetail({
  at,
  breakdown,
  lead,
  reading,
}: {
  at: CheckpointReading;
  breakdown: Breakdown;
  lead: Side;
  reading: Reading;
}) {
  const place = breakdown.checkpoints.findIndex(({ id }) => id === at.checkpoint);
  const titleOf = (cause: string | null) =>
    readFor(
      [...breakdown.mistakes, ...breakdown.defences].find(({ id }) => id === cause)?.title ??
        'nobody tagged why',
      lead,
    );
  return (
    <Panel>
      <h2>
        {place + 1} {readFor(breakdown.checkpoints[place]!.title, lead)}
      </h2>
      <p>
        {at.enough ? (
          <>
            Mending it to {percent(at.target)} would lift the finish odds from{' '}
            {percent(reading.finishOdds.value)} to {percent(reading.finishOdds.value + at.gain.value)} (by{' '}
            {range(at.gain)}).
          </>
        ) : (
          <>
            Not enough yet: {many(at.moreNeeded, 'more rep')} that {at.moreNeeded === 1 ? 'reaches' : 'reach'}{' '}
            it would do.
          </>
        )}
        {at.sideGap !== null && at.sideGap > 0.9 && (
          <> The off side breaks more often (chance {percent(at.sideGap)}).</>
        )}
      </p>
      <Small>
        <thead>
          <tr>
            <th>Rung</th>
            <th>Held</th>
            <th>80 %</th>
            <th>Reps</th>
          </tr>
        </thead>
        <tbody>
          {at.byRung.map(({ rung, held, reached, failed }) => (
            <tr key={rung}>
              <td>
                {rung} {rungNames[rung]}
              </td>
              <td>{percent(held.value)}</td>
              <td>{range(held)}</td>
              <td>
                {reached - failed} of {reached}
              </td>
            </tr>
          ))}
        </tbody>
      </Small>
      {at.causes.length > 0 && (
        <Small>
          <thead>
            <tr>
              <th>What ended them</th>
              <th>Stops</th>
            </tr>
          </thead>
          <tbody>
            {[...at.causes]
              .sort((a, b) => b.stops - a.stops)
              .map(({ cause, kind, stops }) => (
                <tr key={cause ?? 'unknown'}>
                  <td>
                    {titleOf(cause)} {kind === 'defence' && <Quiet as="span">(defence)</Quiet>}
                  </td>
                  <td>{stops}</td>
                </tr>
              ))}
          </tbody>
        </Small>
      )}
    </Panel>
  );
}
