import { endpoints, type TechniqueRow } from '@ulkret/contract';
import { CheckpointKind } from '@ulkret/core/breakdown';
import { Link } from 'react-router';
import { useApi } from '../api/use-api';
import { Empty, Loaded } from '../ui/states';
import { Head, Page, Quiet } from '../ui/frame';
import { many, percent, range } from '../ui/words';
import { MarkIcon } from '../strand/marks';
import { useFreshReadings, useReading } from '../reader/use-reading';
import { Read, weighed } from './Frame';
import { Matrix, MatrixCell, Scroll } from './matrix';
import { type Settings, useSettings } from './settings';
import { WhatIsRead } from './WhatIsRead';
import { Title } from '../ui/title';

/** Every technique that was drilled, by kind of checkpoint: what the room loses where. */
export default function Readings() {
  useFreshReadings();
  const settings = useSettings();
  const techniques = useApi(endpoints.techniques);
  return (
    <Page>
      <Head>
        <div>
          <Title>Where does the room lose its reps?</Title>
          <Quiet>Of all reps on a technique, the share that ends at its checkpoints of each kind.</Quiet>
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
              <Scroll>
                <Matrix>
                  <thead>
                    <tr>
                      <th>
                        Technique
                        <br />
                        <Quiet as="span">finish rate</Quiet>
                      </th>
                      {CheckpointKind.options.map((kind) => (
                        <th key={kind} scope="col">
                          <MarkIcon kind={kind} size={18} />
                          {kind}
                        </th>
                      ))}
                    </tr>
                  </thead>
                  <tbody>
                    {drilled.map((row) => (
                      <TechniqueLine key={row.technique.id} row={row} settings={settings} />
                    ))}
                  </tbody>
                </Matrix>
              </Scroll>
            </>
          );
        }}
      </Loaded>
    </Page>
  );
}

function TechniqueLine({ row, settings }: { row: TechniqueRow; settings: Settings }) {
  const { id, name } = row.technique;
  const read = useReading(id, settings.reads);
  const kinds = CheckpointKind.options;
  if (!read.data)
    return (
      <tr>
        <th scope="row">
          <Link to={settings.to(`/readings/${id}`)}>{name}</Link>
        </th>
        <td colSpan={kinds.length}>
          <Read of={read}>{() => null}</Read>
        </td>
      </tr>
    );
  const { squad } = read.data.reading;
  return (
    <tr>
      <th scope="row" title={weighed(read.data.settings)}>
        <Link to={settings.to(`/readings/${id}`)}>{name}</Link>
        <br />
        <Quiet as="span">
          {squad.reps === 0
            ? 'no rep fits these settings'
            : `${percent(squad.finishRate.value)} finish, ${range(squad.finishRate)}, of ${many(squad.reps, 'rep')}`}
        </Quiet>
      </th>
      {kinds.map((kind) => {
        const own = squad.reps === 0 ? undefined : squad.kinds.find((one) => one.kind === kind);
        return (
          <td key={kind}>
            {own && (
              <MatrixCell to={settings.to(`/readings/${id}`)} share={own.leak.value}>
                <strong>{percent(own.leak.value)}</strong>
                <small title="80 % interval">{range(own.leak)}</small>
              </MatrixCell>
            )}
          </td>
        );
      })}
    </tr>
  );
}
