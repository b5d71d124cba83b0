import type { CheckpointKind } from '@ulkret/core/breakdown';

interface MarkProps {
  kind: CheckpointKind;
  /** The place of its middle. */
  x?: number;
  y?: number;
  /** 1 draws it in a box of 24 by 24. */
  scale?: number;
}

/**
 * The mark of a checkpoint's kind: a shape, never a colour. It is placed by its coordinates and not by a transform, of
 * which a browser keeps track one by one at every frame, and a strand has many marks.
 */
export function Mark({ kind, x = 0, y = 0, scale = 1 }: MarkProps) {
  const round = (value: number) => Math.round(value * 100) / 100;
  const at = (dx: number, dy: number) => `${round(x + dx * scale)} ${round(y + dy * scale)}`;
  const dot = (dx: number, dy: number) => (
    <circle cx={round(x + dx * scale)} cy={round(y + dy * scale)} r={round(3.1 * scale)} />
  );
  const line = {
    fill: 'none',
    stroke: 'currentColor',
    strokeWidth: round(2.6 * scale),
    strokeLinecap: 'round' as const,
    strokeLinejoin: 'round' as const,
  };
  const bend = round(5.5 * scale);
  switch (kind) {
    case 'base':
      return (
        <g fill="currentColor">
          {dot(0, -5.5)}
          {dot(-6, 5)}
          {dot(6, 5)}
        </g>
      );
    case 'grip':
      return (
        <path
          d={`M ${at(5, -8)} L ${at(5, 1)} A ${bend} ${bend} 0 0 1 ${at(-6, 1)} L ${at(-6, -2)}`}
          {...line}
        />
      );
    case 'angle':
      return <path d={`M ${at(8, 7)} L ${at(-8, 7)} L ${at(6, -7)}`} {...line} />;
    case 'pressure':
      return (
        <path d={`M ${at(-8, -4)} L ${at(8, -4)} M ${at(-4, 2)} L ${at(0, 7)} L ${at(4, 2)}`} {...line} />
      );
    case 'finish':
      return <circle cx={x} cy={round(y)} r={round(7 * scale)} {...line} />;
  }
}

export const MarkIcon = ({ kind, size = 22 }: { kind: CheckpointKind; size?: number }) => (
  <svg
    width={size}
    height={size}
    viewBox="-12 -12 24 24"
    role="img"
    aria-label={kind}
    style={{ flex: 'none' }}
  >
    <Mark kind={kind} />
  </svg>
);
