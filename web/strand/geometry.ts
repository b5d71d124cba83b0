import type { CauseShare, CheckpointReading, Lost } from '@ulkret/core/reading';

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

/** A rope that lies: its outline, and what frays off it, by kind. */
export interface LyingRope {
  rope: string;
  frays: { kind: CauseShare['kind']; checkpoint: string; d: string }[];
}

/**
 * A rope that lies, from left to right, with its knots `gap` apart and `full` wide where all reps are alive, around the line
 * y = 0. Mistakes fray upwards, defences and what nobody tagged downwards; what is left of the rope goes on, so that its
 * width after the last knot is the finish rate.
 */
export function lyingRope(
  checkpoints: readonly { checkpoint: string; lost: Lost }[],
  gap: number,
  full: number,
): LyingRope {
  let [top, bottom] = [-full / 2, full / 2];
  const above = [`M 0 ${top}`];
  const below: string[] = [`L 0 ${bottom} Z`];
  const frays: LyingRope['frays'] = [];
  checkpoints.forEach(({ checkpoint, lost }, i) => {
    const x = (i + 0.5) * gap;
    const [reach, drop] = [gap * 0.44, full * 0.3];
    const fray = (kind: CauseShare['kind'], edge: number, share: number, way: 1 | -1) => {
      const inner = edge - way * share * full;
      const tip = edge + way * drop;
      if (share > 0)
        frays.push({
          kind,
          checkpoint,
          d: `M ${x} ${edge} C ${x + reach * 0.4} ${edge} ${x + reach * 0.6} ${tip - way * drop * 0.5} ${x + reach} ${tip} L ${x + reach} ${tip - way * share * full * 0.5} C ${x + reach * 0.7} ${inner + way * drop * 0.3} ${x + reach * 0.5} ${inner} ${x} ${inner} Z`,
        });
      return inner;
    };
    above.push(`L ${x} ${top}`);
    below.unshift(`L ${x} ${bottom}`);
    top = fray('mistake', top, lost.mistake, -1);
    bottom = fray('unknown', fray('defence', bottom, lost.defence, 1), lost.unknown, 1);
    above.push(`L ${x} ${top}`);
    below.unshift(`L ${x} ${bottom}`);
  });
  const end = checkpoints.length * gap;
  return { rope: [...above, `L ${end} ${top}`, `L ${end} ${bottom}`, ...below].join(' '), frays };
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
