import type { Estimate } from '@ulkret/core/math';
import {
  Bar,
  BarChart,
  CartesianGrid,
  ErrorBar,
  ReferenceArea,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  XAxis,
  YAxis,
} from 'recharts';
import { percent } from '../ui/words';

/** One line of a chart: a name, a rate and its 80 % interval. */
export interface Line {
  name: string;
  value: Estimate;
  /** Its n, next to the name. */
  n?: number;
}

const rowHeight = 34;
const ink = { fill: 'var(--ink)', fontSize: 14 };
const quiet = { fill: 'var(--muted)', fontSize: 13 };

const spread = (lines: readonly Line[]) =>
  lines.map(({ name, value, n }) => ({
    name: n === undefined ? name : `${name} (${n})`,
    value: value.value,
    error: [Math.max(0, value.value - value.low), Math.max(0, value.high - value.value)],
  }));

/** Room for the longest name, in pixels. */
const nameWidth = (lines: readonly Line[]): number =>
  Math.min(
    240,
    0.4 * window.innerWidth,
    16 + 7.4 * Math.max(...lines.map(({ name, n }) => name.length + (n === undefined ? 0 : 6))),
  );

/** Rates as bars with their intervals, longest first where the caller sorts them so. What it says is its `label`. */
export function Bars({ label, lines }: { label: string; lines: readonly Line[] }) {
  return (
    <figure aria-label={label} role="img">
      <ResponsiveContainer width="100%" height={lines.length * rowHeight + 30}>
        <BarChart data={spread(lines)} layout="vertical" margin={{ right: 56, left: 0 }} barSize={14}>
          <CartesianGrid horizontal={false} stroke="var(--line)" />
          <XAxis
            type="number"
            tickFormatter={percent}
            tick={quiet}
            stroke="var(--line)"
            domain={[0, 'auto']}
          />
          <YAxis
            type="category"
            dataKey="name"
            width={nameWidth(lines)}
            tick={ink}
            stroke="var(--line)"
            tickLine={false}
          />
          <Bar dataKey="value" fill="var(--action)" isAnimationActive={false}>
            <ErrorBar dataKey="error" stroke="var(--ink)" strokeWidth={1.5} width={5} direction="x" />
          </Bar>
        </BarChart>
      </ResponsiveContainer>
    </figure>
  );
}

/** Rates as points with their intervals, each with its n: who breaks here, and how sure that is. */
export function Points({ label, lines }: { label: string; lines: readonly Line[] }) {
  const data = spread(lines).map((line, i) => ({ ...line, row: lines.length - i }));
  return (
    <figure aria-label={label} role="img">
      <ResponsiveContainer width="100%" height={lines.length * (rowHeight - 6) + 30}>
        <ScatterChart margin={{ right: 30, left: 0, top: 4 }}>
          <CartesianGrid stroke="var(--line)" horizontal={false} />
          <XAxis
            type="number"
            dataKey="value"
            domain={[0, 'auto']}
            tickFormatter={percent}
            tick={quiet}
            stroke="var(--line)"
          />
          <YAxis
            type="number"
            dataKey="row"
            domain={[0.5, lines.length + 0.5]}
            ticks={data.map(({ row }) => row)}
            interval={0}
            tickFormatter={(row: number) => data[lines.length - row]?.name ?? ''}
            width={nameWidth(lines)}
            tick={ink}
            stroke="var(--line)"
            tickLine={false}
          />
          <Scatter data={data} fill="var(--action)" isAnimationActive={false}>
            <ErrorBar dataKey="error" direction="x" stroke="var(--rope)" strokeWidth={2} width={4} />
          </Scatter>
        </ScatterChart>
      </ResponsiveContainer>
    </figure>
  );
}

/** What is believed and what the reps say, side by side, both in percent of the whole. */
export function Pairs({
  label,
  lines,
}: {
  label: string;
  lines: readonly { name: string; belief: number; evidence: number; low: number; high: number }[];
}) {
  const data = lines.map((line) => ({
    ...line,
    error: [Math.max(0, line.evidence - line.low), Math.max(0, line.high - line.evidence)],
  }));
  const whole = (value: number) => `${Math.round(value)} %`;
  return (
    <figure aria-label={label} role="img">
      <ResponsiveContainer width="100%" height={lines.length * 46 + 30}>
        <BarChart data={data} layout="vertical" margin={{ right: 20, left: 0 }} barGap={2} barSize={13}>
          <CartesianGrid horizontal={false} stroke="var(--line)" />
          <XAxis type="number" tickFormatter={whole} tick={quiet} stroke="var(--line)" />
          <YAxis
            type="category"
            dataKey="name"
            width={nameWidth(lines.map(({ name }) => ({ name, value: { value: 0, low: 0, high: 0 } })))}
            tick={ink}
            stroke="var(--line)"
            tickLine={false}
          />
          <Bar dataKey="belief" fill="var(--unseen)" isAnimationActive={false} />
          <Bar dataKey="evidence" fill="var(--action)" isAnimationActive={false}>
            <ErrorBar dataKey="error" stroke="var(--ink)" strokeWidth={1.5} width={4} direction="x" />
          </Bar>
        </BarChart>
      </ResponsiveContainer>
    </figure>
  );
}

/** Values that held and values that were lost, each a dot, with the range that was written behind them. */
export function Values({
  label,
  values,
  low,
  high,
  unit,
}: {
  label: string;
  values: readonly { value: number; held: boolean }[];
  low: number | null;
  high: number | null;
  unit: string;
}) {
  const all = values.map(({ value }) => value);
  const ends = [...all, low ?? Infinity, high ?? Infinity].filter(Number.isFinite);
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  const room = Math.max(1, (most - least) * 0.08);
  const [from, to] = [least - room, most + room];
  // Dots of one value stand one above the other.
  const seen = new Map<string, number>();
  const dots = values.map(({ value, held }) => {
    const key = `${held} ${value}`;
    const nth = seen.get(key) ?? 0;
    seen.set(key, nth + 1);
    return { value, held, row: (held ? 2 : 1) + Math.min(0.38, nth * 0.06) };
  });
  return (
    <figure aria-label={label} role="img">
      <ResponsiveContainer width="100%" height={150}>
        <ScatterChart margin={{ right: 30, left: 0, top: 4, bottom: 16 }}>
          <ReferenceArea x1={low ?? from} x2={high ?? to} y1={0.6} y2={2.6} fill="var(--wash)" />
          <XAxis
            type="number"
            dataKey="value"
            domain={[from, to]}
            tickFormatter={(value: number) => String(Math.round(value * 10) / 10)}
            tick={quiet}
            stroke="var(--line)"
            label={{ value: unit, position: 'insideBottom', offset: -10, ...quiet }}
          />
          <YAxis
            type="number"
            dataKey="row"
            domain={[0.6, 2.6]}
            ticks={[1, 2]}
            tickFormatter={(row: number) => (row === 2 ? 'held' : 'lost')}
            width={52}
            tick={ink}
            stroke="var(--line)"
            tickLine={false}
          />
          <Scatter data={dots.filter(({ held }) => held)} fill="var(--action)" isAnimationActive={false} />
          <Scatter
            data={dots.filter(({ held }) => !held)}
            fill="var(--stop)"
            shape="cross"
            isAnimationActive={false}
          />
        </ScatterChart>
      </ResponsiveContainer>
    </figure>
  );
}
