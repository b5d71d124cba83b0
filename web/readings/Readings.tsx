import { endpoints, type TechniqueRow } from '@ulkret/contract';
import { readFor } from '@ulkret/core/breakdown';
import { Link } from 'react-router';
import styled from 'styled-components';
import { useApi } from '../api/use-api';
import type { Rated } from '../reader/reader';
import { useFreshReadings, useRoom } from '../reader/use-reading';
import { RopeThumb } from '../strand/RopeThumb';
import { Head, Page, Quiet } from '../ui/frame';
import { Empty, Loaded } from '../ui/states';
import { Title } from '../ui/title';
import { many, percent, range } from '../ui/words';
import { Read } from './Frame';
import { type Settings, useSettings } from './settings';
import { WhatIsRead } from './WhatIsRead';

const Doors = styled.ul`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 30rem), 1fr));
  gap: 1.1rem;
`;

const Door = styled(Link)`
  display: grid;
  gap: 0.4rem;
  height: 100%;
  align-content: start;
  padding: 1rem 1.2rem;
  border-radius: 8px;
  background: var(--surface);
  color: var(--ink);
  text-decoration: none;
  &:hover {
    background: var(--wash);
  }
  > span:first-child {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 0 1rem;
    font-size: 1.1rem;
  }
`;

/** Every technique that was drilled as its frayed strand, all of one scale: where the room loses its reps, and why. */
export default function Readings() {
  useFreshReadings();
  const settings = useSettings();
  const techniques = useApi(endpoints.techniques);
  return (
    <Page>
      <Head>
        <div>
          <Title>Where does the room lose its reps?</Title>
          <Quiet>
            Rope: reps still alive. Up fray mistakes, down defences; hatched is what nobody tagged.
          </Quiet>
        </div>
      </Head>
      <Loaded of={techniques} what="the library">
        {({ techniques: rows }) => {
          const drilled = rows.filter(({ reps }) => reps > 0);
          return drilled.length === 0 ? (
            <Empty title="No rep has been logged yet.">
              <p>
                A reading is made of reps: <Link to="/mat/new">start a session</Link> and tap where each one
                ends.
              </p>
            </Empty>
          ) : (
            <>
              <WhatIsRead settings={settings} />
              <Room rows={drilled} settings={settings} />
            </>
          );
        }}
      </Loaded>
    </Page>
  );
}

function Room({ rows, settings }: { rows: readonly TechniqueRow[]; settings: Settings }) {
  const read = useRoom(
    rows.map(({ technique }) => technique.id),
    settings.reads,
  );
  return (
    <Read of={read}>
      {({ techniques }) => (
        <Doors>
          {rows
            .flatMap((row) => {
              const rated = techniques.get(row.technique.id);
              return rated ? [{ row, squad: rated.reading.squad }] : [];
            })
            // Of which most is lost stands first: by what was counted, so that nothing moves when it is refined.
            .sort((a, b) => a.squad.finished / (a.squad.reps || 1) - b.squad.finished / (b.squad.reps || 1))
            .map(({ row, squad }) => (
              <li key={row.technique.id}>
                <Door to={settings.to(`/readings/${row.technique.id}`)}>
                  <Told row={row} squad={squad} />
                </Door>
              </li>
            ))}
        </Doors>
      )}
    </Read>
  );
}

function Told({ row, squad }: { row: TechniqueRow; squad: Rated['reading']['squad'] }) {
  const worst = squad.checkpoints.reduce((a, b) => (b.leak.value > a.leak.value ? b : a));
  const place = squad.checkpoints.indexOf(worst);
  const title = row.strand[place]?.title;
  return (
    <>
      <span>
        <strong>{row.technique.name}</strong>
        {squad.reps === 0 ? (
          <Quiet as="span">no rep fits</Quiet>
        ) : (
          <span>
            <strong>{percent(squad.finishRate.value)}</strong> finish{' '}
            <Quiet as="span">
              ({range(squad.finishRate)}, {many(squad.reps, 'rep')})
            </Quiet>
          </span>
        )}
      </span>
      {squad.reps > 0 && (
        <>
          <RopeThumb
            knots={row.strand}
            checkpoints={squad.checkpoints}
            marked={worst.checkpoint}
            gap={58}
            full={40}
          />
          <Quiet as="span">
            {percent(worst.leak.value)} lost at {place + 1}
            {title && ` “${readFor(title, 'right')}”`}, the widest loss
          </Quiet>
        </>
      )}
    </>
  );
}
