import type { CheckpointKind } from '@ulkret/core/breakdown';

/** The mark of a checkpoint's kind: a shape, never a colour. Drawn around 0, 0 in a box of 24 by 24. */
export function Mark({ kind }: { kind: CheckpointKind }) {
  const line = { fill: 'none', stroke: 'currentColor', strokeWidth: 2.6, strokeLinecap: 'round' as const };
  switch (kind) {
    case 'base':
      return (
        <g fill="currentColor">
          <circle cx="0" cy="-5.5" r="3.1" />
          <circle cx="-6" cy="5" r="3.1" />
          <circle cx="6" cy="5" r="3.1" />
        </g>
      );
    case 'grip':
      return <path d="M 5 -8 L 5 1 A 5.5 5.5 0 0 1 -6 1 L -6 -2" {...line} />;
    case 'angle':
      return <path d="M 8 7 L -8 7 L 6 -7" {...line} strokeLinejoin="round" />;
    case 'pressure':
      return <path d="M -8 -4 L 8 -4 M -4 2 L 0 7 L 4 2" {...line} strokeLinejoin="round" />;
    case 'finish':
      return <circle r="7" {...line} />;
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
