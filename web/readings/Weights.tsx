import type { ReadingAnswer } from '../reader/asking';
import { endpoints } from '@ulkret/contract';
import { type Breakdown, readFor, placeOf } from '@ulkret/core/breakdown';
import { agreementWanted, beliefReading, fewestVerdicts } from '@ulkret/core/reading';
import { Link, useParams } from 'react-router';
import styled from 'styled-components';
import { useApi } from '../api/use-api';
import { Loaded } from '../ui/states';
import { Columns, Panel, Quiet } from '../ui/frame';
import { DataTable } from '../ui/data-table';
import { many, twoPlaces } from '../ui/words';
import { MarkIcon } from '../strand/marks';
import { useReading, type ReadingState } from '../reader/use-reading';
import { Pairs } from './charts';
import { Exports, type ReadingContext, NoReps, Read, ReadingFrame } from './Frame';
import { type Settings, useSettings } from './settings';

const Legend = styled.p`
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1.2rem;
  margin: 0.5rem 0;
  span::before {
    content: '';
    display: inline-block;
    width: 1.4rem;
    height: 0.7rem;
    margin-right: 0.4rem;
  }
  span:first-child::before {
    background: var(--unseen);
  }
  span:last-child::before {
    background: var(--action);
  }
`;

const nameOf = (breakdown: Breakdown, i: number) =>
  `${i + 1} ${readFor(breakdown.checkpoints[i]!.title, 'right')}`;

export default function WeightsPage() {
  const { technique: id = '' } = useParams();
  const settings = useSettings();
  // Asked for along with the breakdown and the roster, not after them.
  const read = useReading(id, settings.reads);
  return (
    <ReadingFrame technique={id} settings={settings} title={() => 'Do the reps agree with your weights?'}>
      {(known) => (
        <Columns $shares="minmax(0, 1fr) minmax(0, 1fr)">
          <Believed read={read} known={known} settings={settings} />
          <Accepted breakdown={known.breakdown} />
        </Columns>
      )}
    </ReadingFrame>
  );
}

/** τ-b in words: how far the order of the beliefs is that of the evidence. */
function orderWords(tau: number | null): string {
  if (tau === null) return 'All weights are equal, so they give no order.';
  const strength =
    tau > 0.6
      ? 'Largely the same order'
      : tau > 0.2
        ? 'Partly the same order'
        : tau > -0.2
          ? 'Two unrelated orders'
          : 'Nearly the opposite order';
  return `${strength} (Kendall’s τ-b ${twoPlaces(tau)}; 1 is the same).`;
}

function Believed({
  read,
  known: { breakdown },
  settings,
}: {
  read: ReadingState<ReadingAnswer>;
  known: ReadingContext;
  settings: Settings;
}) {
  return (
    <Read of={read}>
      {(answer) => {
        if (answer.reading.students.length === 0) return <NoReps settings={settings} />;
        const { rows, tau, farthest } = beliefReading(breakdown, answer.reading.squad);
        const place = rows.indexOf(farthest!);
        return (
          <Panel>
            <h2 data-testid="belief">
              {farthest
                ? `You give ${nameOf(breakdown, place)} ${Math.round(farthest.belief)} of 100; the reps give it ${Math.round(farthest.evidence)} (${Math.round(farthest.low)}–${Math.round(farthest.high)}).`
                : 'No checkpoint would gain from fixing.'}
            </h2>
            <p>{orderWords(tau)}</p>
            <Legend>
              <span>your weight</span>
              <span>its share of all that fixing would gain, with its 80 % interval</span>
            </Legend>
            <Pairs
              label="Belief and evidence for each checkpoint, in percent of the whole"
              lines={rows.map((row, i) => ({ ...row, name: nameOf(breakdown, i) }))}
            />
            <Exports
              name={`${breakdown.technique}-beliefs`}
              answer={answer}
              columns={['checkpoint', 'belief', 'evidence', 'evidence_low', 'evidence_high', 'reached']}
              rows={() =>
                rows.map((row) => [row.checkpoint, row.belief, row.evidence, row.low, row.high, row.reached])
              }
            />
          </Panel>
        );
      }}
    </Read>
  );
}

/** Where two coaches who saw the same reps judged them differently. */
function Accepted({ breakdown }: { breakdown: Breakdown }) {
  const agreement = useApi(endpoints.agreement, { query: { technique: breakdown.technique } });
  return (
    <Panel>
      <h2>Where do coaches disagree?</h2>
      <Loaded of={agreement} what="the second opinions">
        {({ looks, byKind, byCheckpoint }) => {
          if (looks === 0)
            return (
              <Quiet>
                No second opinions yet. Open the reps behind a number and add yours: {fewestVerdicts} verdicts
                per checkpoint are enough.
              </Quiet>
            );
          const suspect = byCheckpoint.filter(({ kappa }) => kappa !== null && kappa < agreementWanted);
          const kappaOf = (kappa: number | null) => (kappa === null ? 'not enough yet' : twoPlaces(kappa));
          return (
            <>
              {suspect.map(({ checkpoint, kappa, n, firstOnly, secondOnly }) => {
                const place = placeOf(breakdown, checkpoint);
                return (
                  <p key={checkpoint} data-testid="suspect">
                    <strong>{nameOf(breakdown, place)}</strong>: of {n} reps that two coaches saw, they judged{' '}
                    {firstOnly + secondOnly} differently (κ {twoPlaces(kappa!)}). The criterion is suspect,
                    not the student:{' '}
                    <Link to={`/library/${breakdown.technique}?checkpoint=${checkpoint}`}>read it again</Link>
                    .
                  </p>
                );
              })}
              {suspect.length === 0 && <p>No disagreement so far.</p>}
              <DataTable
                label="the checkpoints"
                rows={[
                  ...byCheckpoint.map((one, place) => ({ ...one, of: nameOf(breakdown, place), kind: null })),
                  ...byKind.map((one) => ({ ...one, of: `all of kind ${one.kind}` })),
                ]}
                keyOf={({ of }) => of}
                wordsOf={({ of }) => of}
                columns={[
                  {
                    head: 'Checkpoint',
                    cell: ({ of, kind }) => (
                      <>
                        {kind && <MarkIcon kind={kind} size={16} />} {of}
                      </>
                    ),
                  },
                  { head: 'Both saw', cell: ({ n }) => n, by: ({ n }) => n },
                  {
                    head: 'Disagreed',
                    cell: ({ firstOnly, secondOnly }) => firstOnly + secondOnly,
                    by: ({ firstOnly, secondOnly }) => firstOnly + secondOnly,
                  },
                  { head: 'κ', cell: ({ kappa }) => kappaOf(kappa), by: ({ kappa }) => kappa },
                ]}
              />
              <Quiet style={{ marginTop: '0.6rem' }}>
                From {many(looks, 'second opinion')}. κ is agreement beyond chance (Cohen); under{' '}
                {agreementWanted} two coaches read it differently.
              </Quiet>
            </>
          );
        }}
      </Loaded>
    </Panel>
  );
}
