import type { CauseShare, CheckpointReading } from '@ulkret/core/reading';

/** One fray: a part of the rope that leaves it at a knot. Widths are shares of all reps, as is the rope's. */
export interface Fray {
  side: 'left' | 'right';
  kind: CauseShare['kind'];
  cause: string | null;
  share: number;
}

/** The rope at one knot: how much arrives, how much goes on, and what frays off in between. They add up. */
export interface Joint {
  arrives: number;
  goesOn: number;
  frays: Fray[];
}

/**
 * The rope of a reading: widths are survival, frays are leaks. A checkpoint's leak is split among its causes in proportion
 * to the tagged stops; mistakes fray to the left, defences and what nobody tagged to the right.
 */
export function jointsOf(checkpoints: readonly CheckpointReading[]): Joint[] {
  return checkpoints.map(({ survivalBefore, leak, causes: all }) => {
    const causes = all.filter(({ stops }) => stops > 0);
    const stops = causes.reduce((sum, one) => sum + one.stops, 0);
    const split: readonly Pick<CauseShare, 'cause' | 'kind' | 'stops'>[] =
      stops > 0 ? causes : [{ cause: null, kind: 'unknown', stops: 1 }];
    const frays = split.map(({ cause, kind, stops: n }): Fray => ({
      side: kind === 'mistake' ? 'left' : 'right',
      kind,
      cause,
      share: (leak.value * n) / Math.max(stops, 1),
    }));
    return { arrives: survivalBefore, goesOn: survivalBefore - leak.value, frays };
  });
}

/** The rope between two knots, as an SVG path: from its edges just below one knot to its middle just above the next. */
export function segmentPath(left: number, right: number, top: number, bottom: number, width: number): string {
  const bend = top + (bottom - top) * 0.55;
  const half = width / 2;
  return `M ${left} ${top} C ${left} ${bend} ${-half} ${top + (bottom - top) * 0.35} ${-half} ${bottom} L ${half} ${bottom} C ${half} ${top + (bottom - top) * 0.35} ${right} ${bend} ${right} ${top} Z`;
}

/** A fray as an SVG path: it leaves the rope's edge at full width and thins out to a loose end. */
export function frayPath(inner: number, outer: number, y: number, reach: number, drop: number): string {
  const way = Math.sign(reach) || 1;
  const tip = outer + reach;
  const width = Math.abs(outer - inner);
  return [
    `M ${inner} ${y}`,
    `C ${inner} ${y + drop * 0.9} ${inner + way * width * 0.5} ${y + drop + width * 0.35} ${tip} ${y + drop + width * 0.1}`,
    `L ${tip} ${y + drop - width * 0.1}`,
    `C ${outer + way * 2} ${y + drop * 0.7} ${outer} ${y + drop * 0.4} ${outer} ${y}`,
    'Z',
  ].join(' ');
}

/** Both edges of a rope as an SVG path: its width at each knot is the share that arrives there, at the end what finishes. */
export function outlinePath(
  arrives: readonly number[],
  finishes: number,
  full: number,
  at: (place: number) => number,
  tail: number,
): string {
  const last = arrives.length - 1;
  const points = [[1, 0], ...arrives.map((share, i) => [share, at(i)]), [finishes, at(last) + tail]] as [
    number,
    number,
  ][];
  const edge = (way: 1 | -1) =>
    points
      .map(([share, y], i) => {
        const x = (way * share * full) / 2;
        if (i === 0) return `M ${x} ${y}`;
        const [, above] = points[i - 1]!;
        const before = (way * points[i - 1]![0] * full) / 2;
        const middle = (above + y) / 2;
        return `C ${before} ${middle} ${x} ${middle} ${x} ${y}`;
      })
      .join(' ');
  return `${edge(-1)} ${edge(1)}`;
}
