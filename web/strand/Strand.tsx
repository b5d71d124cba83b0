import type { Id } from '@ulkret/core/breakdown';
import type { CheckpointKind } from '@ulkret/core/breakdown';
import type { Reading } from '@ulkret/core/reading';
import { type CSSProperties, memo, type ReactNode, useId } from 'react';
import styled from 'styled-components';
import { frayPath, type Joint, jointsOf, outlinePath, segmentPath } from './geometry';
import { Mark } from './marks';

/** What the strand has to know of a checkpoint. */
export interface Knot {
  id: Id;
  kind: CheckpointKind;
  /** The coach's share of the whole, 0–100: the size of the knot where there is no reading. */
  belief: number;
}

interface StrandProps {
  label: string;
  knots: readonly Knot[];
  /** The place of the first of these knots on the whole strand, where it is drawn in parts. */
  first?: number;
  /** With a reading the rope is as wide as survival and frays by the leaks; without one it is whole. */
  reading?: Reading;
  /** A second reading of the same knots, drawn over the first as the outline of its rope. */
  against?: Reading | undefined;
  /** Which knot waits for which: drawn as arcs on the left of the rope. */
  links?: readonly { from: Id; to: Id }[];
  /** Something that is open from one knot to another: drawn as bars on the right of the rope. */
  spans?: readonly { id: Id; from: Id; to: Id; label: string; loaded: boolean }[];
  selected?: Id | null;
  /** Knots that are shaky right now, or outside the span that is drilled. */
  soft?: ReadonlySet<Id>;
  unseen?: ReadonlySet<Id>;
  /** Height of a row and width of the drawing, in pixels. */
  rowHeight: number;
  width: number;
  /** The text next to a knot; a screen reader reads it. */
  row: (knot: Knot, place: number) => ReactNode;
}

const Rows = styled.ol`
  position: relative;
  > li {
    min-height: var(--row-height);
    height: var(--row-height);
    padding-left: var(--drawing);
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    align-items: center;
  }
  > svg {
    position: absolute;
    inset: 0 auto auto 0;
    pointer-events: none;
    overflow: visible;
  }
`;

const whole = (knots: readonly Knot[]): Joint[] => knots.map(() => ({ arrives: 1, goesOn: 1, frays: [] }));

/**
 * A submission as a rope through its checkpoints. The rope's width below a knot is the share of reps still alive; where
 * reps are lost, strands fray out: by mistakes to the left, by defences to the right, by nobody knows what hatched.
 * To a screen reader it is the ordered list of its rows.
 */
export const Strand = memo(function Strand({ label, row, first = 0, ...drawing }: StrandProps) {
  const { knots, rowHeight, width } = drawing;
  return (
    <Rows
      aria-label={label}
      start={first + 1}
      style={{ '--row-height': `${rowHeight}px`, '--drawing': `${width}px` } as CSSProperties}
    >
      <Rope {...drawing} />
      {knots.map((knot, place) => (
        <li key={knot.id}>{row(knot, first + place)}</li>
      ))}
    </Rows>
  );
});

const Rope = memo(function Rope({
  knots,
  reading,
  against,
  links = [],
  spans = [],
  selected,
  soft,
  unseen,
  rowHeight,
  width,
}: Omit<StrandProps, 'label' | 'row' | 'first'>) {
  const hatch = useId();
  const joints = reading ? jointsOf(reading.checkpoints) : whole(knots);
  const full = reading ? Math.min(76, width * 0.34) : Math.min(14, rowHeight / 4);
  const middle = rowHeight / 2;
  const at = (place: number) => middle + place * rowHeight;
  const tail = rowHeight * 0.5;
  return (
    <svg
      width={width}
      height={at(knots.length - 1) + tail}
      viewBox={`${-width / 2} 0 ${width} ${at(knots.length - 1) + tail}`}
      aria-hidden
    >
      <defs>
        <pattern id={hatch} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" fill="var(--surface)" />
          <rect width="3" height="6" fill="var(--stop)" />
        </pattern>
      </defs>
      <g fill="var(--rope)">
        <path d={segmentPath(-full / 2, full / 2, 0, at(0), full)} />
        {joints.map(({ arrives, goesOn, frays }, i) => {
          const lost = (side: 'left' | 'right') =>
            frays.filter((fray) => fray.side === side).reduce((sum, { share }) => sum + share, 0);
          const half = (arrives * full) / 2;
          const bottom = i + 1 < joints.length ? at(i + 1) : at(i) + tail;
          const [left, right] = [-half + lost('left') * full, half - lost('right') * full];
          return <path key={knots[i]!.id} d={segmentPath(left, right, at(i), bottom, goesOn * full)} />;
        })}
      </g>
      {joints.map((joint, i) => (
        <Frays key={knots[i]!.id} joint={joint} full={full} y={at(i)} hatch={hatch} rowHeight={rowHeight} />
      ))}
      {against && (
        <path
          d={outlinePath(
            jointsOf(against.checkpoints).map(({ arrives }) => arrives),
            against.finishRate.value,
            full,
            at,
            tail,
          )}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="2"
          strokeDasharray="6 4"
        />
      )}
      <Links {...{ knots, links, at, width }} />
      <Windows {...{ knots, spans, at, rowHeight }} />
      <KnotMarks {...{ knots, at, rowHeight, selected, soft, unseen }} plain={!reading} />
    </svg>
  );
});

type At = { at: (place: number) => number };

/** Arcs from each checkpoint to those it depends on. */
function Links({
  knots,
  links,
  at,
  width,
}: At & Pick<StrandProps, 'knots' | 'width'> & Required<Pick<StrandProps, 'links'>>) {
  return (
    <>
      {links.map(({ from, to }) => {
        const [a, b] = [from, to].map((id) => knots.findIndex((one) => one.id === id)) as [number, number];
        const bulge = -Math.min(width / 2 - 6, 14 + 9 * Math.abs(b - a));
        return a < 0 || b < 0 ? null : (
          <path
            key={`${from} ${to}`}
            d={`M -8 ${at(a)} C ${bulge} ${at(a)} ${bulge} ${at(b)} -8 ${at(b)}`}
            fill="none"
            stroke={a < b ? 'var(--unseen)' : 'var(--stop)'}
            strokeWidth="2"
          />
        );
      })}
    </>
  );
}

/** When each defence is open. */
function Windows({
  knots,
  spans,
  at,
  rowHeight,
}: At & Pick<StrandProps, 'knots' | 'rowHeight'> & Required<Pick<StrandProps, 'spans'>>) {
  return (
    <>
      {spans.map(({ id, from, to, label, loaded }, n) => {
        const [a, b] = [from, to].map((one) => knots.findIndex((knot) => knot.id === one)) as [
          number,
          number,
        ];
        const x = 22 + (n % 5) * 8;
        return a < 0 || b < a ? null : (
          <g key={id}>
            <title>{label}</title>
            <path
              d={`M ${x} ${at(a) - rowHeight * 0.32} V ${at(b) + rowHeight * 0.32}`}
              stroke="var(--action)"
              strokeWidth="4"
              strokeDasharray={loaded ? '3 4' : undefined}
              strokeLinecap="round"
            />
          </g>
        );
      })}
    </>
  );
}

/** The knots; without a reading each is as large as its weight. */
function KnotMarks({
  knots,
  at,
  rowHeight,
  selected,
  soft,
  unseen,
  plain,
}: At & Pick<StrandProps, 'knots' | 'rowHeight' | 'selected' | 'soft' | 'unseen'> & { plain: boolean }) {
  return (
    <>
      {knots.map(({ id, kind, belief }, i) => {
        const radius = !plain ? 13 : Math.min(rowHeight / 2.6, 11 + Math.sqrt(belief) * 1.6);
        const outside = unseen?.has(id);
        return (
          <g key={id} color={outside ? 'var(--unseen)' : 'var(--ink)'}>
            <circle
              cy={at(i)}
              r={radius}
              fill={soft?.has(id) ? 'var(--soft-wash)' : 'var(--surface)'}
              stroke={id === selected ? 'var(--action)' : soft?.has(id) ? 'var(--soft)' : 'var(--rope)'}
              strokeWidth={id === selected ? 4 : 2.5}
              strokeDasharray={outside ? '3 4' : undefined}
            />
            <Mark kind={kind} y={at(i)} scale={radius / 17} />
          </g>
        );
      })}
    </>
  );
}

/** Too thin to be drawn: under a fifth of a percent of all reps. */
const tooThin = 0.002;

function Frays({
  joint,
  full,
  y,
  hatch,
  rowHeight,
}: {
  joint: Joint;
  full: number;
  y: number;
  hatch: string;
  rowHeight: number;
}) {
  const edge = { left: (-joint.arrives * full) / 2, right: (joint.arrives * full) / 2 };
  const nth = { left: 0, right: 0 };
  return joint.frays.map(({ side, kind, cause, share }) => {
    const way = side === 'left' ? -1 : 1;
    const outer = edge[side];
    const inner = outer - way * share * full;
    edge[side] = inner;
    const n = nth[side]++;
    if (share < tooThin) return null;
    const reach = way * (full * 0.42 + 14 - n * 6);
    const drop = rowHeight * (0.22 + n * 0.13);
    return (
      <path
        key={cause ?? kind}
        d={frayPath(inner, outer, y, reach, drop)}
        fill={kind === 'unknown' ? `url(#${CSS.escape(hatch)})` : 'var(--stop)'}
        stroke="var(--surface)"
        strokeWidth="0.8"
      />
    );
  });
}

/** The strand as a thumbnail: knots by their belief on a whole rope. */
export function Thumbnail({ knots }: { knots: readonly Knot[] }) {
  const gap = 22;
  return (
    <svg
      width={knots.length * gap}
      height="34"
      viewBox={`0 -17 ${knots.length * gap} 34`}
      aria-hidden
      style={{ flex: 'none' }}
    >
      <rect x="0" y="-2" width={knots.length * gap} height="4" fill="var(--rope)" />
      {knots.map(({ id, kind, belief }, i) => {
        const x = gap * (i + 0.5);
        return (
          <g key={id}>
            <circle
              cx={x}
              r={6 + Math.sqrt(belief) * 0.8}
              fill="var(--surface)"
              stroke="var(--rope)"
              strokeWidth="1.8"
            />
            <Mark kind={kind} x={x} scale={0.4 + belief / 120} />
          </g>
        );
      })}
    </svg>
  );
}
