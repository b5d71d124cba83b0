import type { CheckpointReading, Held } from '@ulkret/core/reading';
import { rungNames } from '@ulkret/core/rep';
import { Panel, Quiet } from '../ui/frame';
import { Estimate } from '../ui/estimate';
import { percent } from '../ui/words';
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
            <th>Counted</th>
            <th>Like for like</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ name, held, reached, failed }) => (
            <tr key={name}>
              <td>{name}</td>
              <td>
                {reached - failed} of {reached}
                {reached > 0 && `: ${percent((reached - failed) / reached)}`}
              </td>
              <td>
                <Estimate of={held} />
              </td>
            </tr>
          ))}
        </tbody>
      </Small>
      <Quiet>
        Counted: the share of reps that held. Like for like: the hold rate if only this changed (80 %
        interval).
      </Quiet>
    </Panel>
  );
}
