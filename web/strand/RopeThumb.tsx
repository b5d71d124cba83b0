import type { Id } from '@ulkret/core/breakdown';
import type { Rates } from '@ulkret/core/reading';
import { useId } from 'react';
import { lyingRope } from './geometry';
import { Mark } from './marks';
import type { Knot } from './Strand';

/** A fray that nobody has tagged is hatched. */
const Hatch = ({ id }: { id: string }) => (
  <defs>
    <pattern id={id} width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="5" height="5" fill="var(--surface)" />
      <rect width="2.5" height="5" fill="var(--stop)" />
    </pattern>
  </defs>
);

/** The rope and what frays off it, without its knots. */
function Rope({ checkpoints, gap, full }: { checkpoints: Rates['checkpoints']; gap: number; full: number }) {
  const hatch = useId();
  const { rope, frays } = lyingRope(checkpoints, gap, full);
  return (
    <>
      <Hatch id={hatch} />
      <path d={rope} fill="var(--rope)" />
      {frays.map(({ kind, checkpoint, d }) => (
        <path
          key={`${checkpoint} ${kind}`}
          d={d}
          fill={kind === 'unknown' ? `url(#${CSS.escape(hatch)})` : 'var(--stop)'}
        />
      ))}
    </>
  );
}

/**
 * A frayed strand as a small picture that lies: as wide as reps are alive, frayed where they are lost, with one knot marked.
 * All of the same `gap` and `full` are of one scale, and can be compared.
 */
export function RopeThumb({
  knots,
  checkpoints,
  marked,
  gap = 34,
  full = 22,
}: {
  knots: readonly Knot[];
  checkpoints: Rates['checkpoints'];
  /** The knot that it is about. */
  marked?: Id | undefined;
  gap?: number;
  full?: number;
}) {
  const width = knots.length * gap;
  const half = Math.max(full * 0.8, Math.min(10.5, gap * 0.42)) + 3;
  return (
    <svg
      viewBox={`0 ${-half} ${width} ${2 * half}`}
      style={{ width, maxWidth: '100%', height: 'auto', flex: 'none' }}
      aria-hidden
    >
      <Rope checkpoints={checkpoints} gap={gap} full={full} />
      {knots.map(({ id, kind }, i) => {
        const [x, radius] = [
          (i + 0.5) * gap,
          Math.min(id === marked ? 10.5 : 7, gap * (id === marked ? 0.42 : 0.24)),
        ];
        return (
          <g key={id} color="var(--ink)">
            <circle
              cx={x}
              r={radius}
              fill="var(--surface)"
              stroke={id === marked ? 'var(--stop)' : 'var(--rope)'}
              strokeWidth={id === marked ? 3 : 1.5}
            />
            <Mark kind={kind} x={x} scale={radius / 15} />
          </g>
        );
      })}
    </svg>
  );
}

/** The same as wide as it is given room, to stand over columns that are equally wide. */
export const RopeStrip = ({ checkpoints, height }: { checkpoints: Rates['checkpoints']; height: number }) => {
  const gap = 100;
  const full = height * 0.6;
  return (
    <svg
      viewBox={`0 ${-height / 2} ${checkpoints.length * gap} ${height}`}
      preserveAspectRatio="none"
      style={{ display: 'block', width: '100%', height }}
      aria-hidden
    >
      <Rope checkpoints={checkpoints} gap={gap} full={full} />
    </svg>
  );
};
