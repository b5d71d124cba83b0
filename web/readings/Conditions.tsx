import type { CheckpointReading, Held } from '@ulkret/core/reading';
import { rungNames } from '@ulkret/core/rep';
import { Panel } from '../ui/frame';
import { percent, range } from '../ui/words';
import { Small } from './Causes';

/** How often the checkpoint holds by rung, lead side and partner. */
export function Conditions({ at }: { at: CheckpointReading }) {
  const rows: (Held & { name: string })[] = [
    ...at.byRung.map((one) => ({ ...one, name: `${one.rung} ${rungNames[one.rung]}` })),
    ...at.bySide.map((one) => ({ ...one, name: `${one.side} lead` })),
    ...at.byPartner.map((one) => ({
      ...one,
      name: one.partner === 'even' ? 'partner about even' : `${one.partner} partner`,
    })),
  ];
  return (
    <Panel>
      <h2>By rung, side and partner</h2>
      <Small>
        <thead>
          <tr>
            <th>Condition</th>
            <th>Holds</th>
            <th>80 %</th>
            <th>Held of reached</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ name, held, reached, failed }) => (
            <tr key={name}>
              <td>{name}</td>
              <td>{percent(held.value)}</td>
              <td>{range(held)}</td>
              <td>
                {reached - failed} of {reached}
              </td>
            </tr>
          ))}
        </tbody>
      </Small>
    </Panel>
  );
}
