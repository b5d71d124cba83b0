import { endpoints, type TechniqueRow } from '@ulkret/contract';
import { Link } from 'react-router';
import { useApi } from '../api/use-api';
import { useFreshReadings, useRoom } from '../reader/use-reading';
import { Head, Page } from '../ui/frame';
import { Hint } from '../ui/hint';
import { Empty, Loaded } from '../ui/states';
import { Title } from '../ui/title';
import { Defences } from './Defences';
import { atKnot, Doors } from './Doors';
import { Read } from './Frame';
import { type Settings, useSettings } from './settings';
import { WhatIsRead } from './WhatIsRead';

/** Every technique that was drilled as its frayed strand, all of one scale: where the room loses its reps, and why. */
export default function Readings() {
  useFreshReadings();
  const settings = useSettings();
  const techniques = useApi(endpoints.techniques);
  return (
    <Page>
      <Head>
        <div>
          <Title>Where does the squad lose its reps?</Title>
          <Hint name="rope">
            The rope is as wide as the reps still alive. Mistakes fray up, defences down; hatched: untagged.
          </Hint>
        </div>
      </Head>
      <Loaded of={techniques} what="the library">
        {({ techniques: rows }) => {
          const drilled = rows.filter(({ reps }) => reps > 0);
          return drilled.length === 0 ? (
            <Empty title="No reps yet.">
              <p>
                A reading is made of reps: <Link to="/mat/new">set up a class</Link> and tap where each one
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
      {({ techniques }) => {
        const told = rows.flatMap((row) => {
          const rated = techniques.get(row.technique.id)?.reading;
          return rated ? [{ row, rates: rated.squad, defences: rated.defences }] : [];
        });
        // By the reps that they cost: a dear defence on a technique that is hardly drilled comes later.
        const met = told
          .flatMap(({ row, rates, defences }) =>
            defences.map((one) => ({
              ...one,
              at: atKnot(row.strand, one.opens),
              technique: row.technique,
              to: settings.to(`/readings/${row.technique.id}/squad`, { checkpoint: one.opens }),
              reps: one.lost * rates.reps,
            })),
          )
          .sort((a, b) => b.reps - a.reps);
        return (
          <>
            <Doors behind={told} to={(technique) => settings.to(`/readings/${technique}`)} />
            <Defences met={met} />
          </>
        );
      }}
    </Read>
  );
}
