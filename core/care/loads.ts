import {
  type Breakdown,
  type Id,
  type Load,
  LoadHow,
  placeOf,
  type Region,
  type RuleTag,
  type Technique,
} from '../breakdown';

export type Loading = Pick<Technique, 'regions' | 'loadSpeed' | 'kind' | 'loads'>;
export type Whom = Load['whom'];

/** A load with how hard it is. */
export type KnownLoad = Load & { how: LoadHow };

/**
 * How hard a load is, guessed if `how` is missing: a defence's student takes somebody's finish, an attacker is loaded lightly, and a
 * partner is loaded up to a tap from a finish checkpoint on, firmly from a pressure on, lightly from any other. Without the
 * checkpoints the guess is a finish, which is the careful one. Common practice.
 */
export function howOf(
  { how, whom, from }: Load,
  { kind }: Pick<Technique, 'kind'>,
  breakdown?: Pick<Breakdown, 'checkpoints'>,
): LoadHow {
  if (how !== undefined) return how;
  if (whom === 'student') return kind === 'defence' ? 'finish' : 'light';
  const at = breakdown?.checkpoints.find(({ id }) => id === from);
  if (at === undefined || at.kind === 'finish' || at === breakdown!.checkpoints.at(-1)) return 'finish';
  return at.kind === 'pressure' ? 'firm' : 'light';
}

/**
 * The loads of a technique, whom they load, and how hard. Without an entry: a submission loads the partner, a defence its own
 * student, a control nobody.
 */
export const loadsOf = (
  technique: Pick<Loading, 'regions' | 'kind' | 'loads'>,
  breakdown?: Pick<Breakdown, 'checkpoints'>,
): readonly KnownLoad[] => {
  const { loads, regions, kind } = technique;
  const all: readonly Load[] =
    loads ??
    (kind === 'control'
      ? []
      : regions.map((region) => ({
          region,
          whom: kind === 'defence' ? 'student' : 'partner',
          from: null,
        })));
  return all.map((load) => ({ ...load, how: howOf(load, technique, breakdown) }));
};

/** A technique whose loads all say how hard they are, as far as its checkpoints tell. */
export const withHow = <One extends Pick<Technique, 'kind' | 'loads' | 'regions'>>(
  technique: One,
  breakdown: Pick<Breakdown, 'checkpoints'> | undefined,
): One =>
  technique.loads === undefined || technique.loads.every(({ how }) => how !== undefined)
    ? technique
    : { ...technique, loads: [...loadsOf(technique, breakdown)] };

/** The regions that it loads on one of the two, as hard as is asked. */
export const loadedOn = (
  technique: Parameters<typeof loadsOf>[0],
  whom: Whom,
  hows: readonly LoadHow[] = LoadHow.options,
): readonly Region[] => [
  ...new Set(
    loadsOf(technique).flatMap((load) =>
      load.whom === whom && hows.includes(load.how) ? [load.region] : [],
    ),
  ),
];

/** The first finish, or the last checkpoint where none is written as one. */
const finishOf = ({ checkpoints }: Breakdown): number => {
  const finish = checkpoints.findIndex(({ kind }) => kind === 'finish');
  return finish < 0 ? checkpoints.length - 1 : finish;
};

/** The place from which on a rep loads: as it is written, else the partner from the finish on, the student from the beginning. */
const placeFrom = (breakdown: Breakdown, { from, whom }: Load): number => {
  const place = from === null ? -1 : placeOf(breakdown, from);
  return place >= 0 ? place : whom === 'partner' ? finishOf(breakdown) : 0;
};

/** A submission is put on somebody, also where nobody has said what it can hurt. */
export const saysNothing = ({ kind, loads, regions }: Pick<Loading, 'kind' | 'loads' | 'regions'>): boolean =>
  kind === 'submission' && loads === undefined && regions.length === 0;

/** Does it load anybody but its own student? */
export const loadsPartner = (technique: Parameters<typeof saysNothing>[0]): boolean =>
  saysNothing(technique) || loadedOn(technique, 'partner').length > 0;

/** Where a rep begins to load one of the two (after the last checkpoint: never), by how hard, and region by region. */
export interface LoadPlaces {
  first: Readonly<Record<LoadHow, number>>;
  places: ReadonlyMap<Region, Readonly<Record<LoadHow, number>>>;
}

function lookedUp(breakdown: Breakdown, technique: Loading, whom: Whom): LoadPlaces {
  const never = breakdown.checkpoints.length;
  const nowhere = (): Record<LoadHow, number> => ({ finish: never, firm: never, light: never });
  const first = nowhere();
  const places = new Map<Region, Record<LoadHow, number>>();
  for (const load of loadsOf(technique, breakdown)) {
    if (load.whom !== whom) continue;
    const place = placeFrom(breakdown, load);
    const of = places.get(load.region) ?? nowhere();
    of[load.how] = Math.min(place, of[load.how]);
    first[load.how] = Math.min(place, first[load.how]);
    places.set(load.region, of);
  }
  if (whom === 'partner' && saysNothing(technique))
    first.finish = Math.min(first.finish, finishOf(breakdown));
  return { first, places };
}

/** The place from which on a rep loads one of the two as hard as is asked; after the last checkpoint where it never does. */
export function firstLoad(
  breakdown: Breakdown,
  technique: Loading,
  whom: Whom,
  hows: readonly LoadHow[] = ['finish'],
): number {
  const { first } = loadedFrom(breakdown, technique, whom);
  return Math.min(breakdown.checkpoints.length, ...hows.map((how) => first[how]));
}

/** The Mat asks at every tap, of every rep that somebody bore: editions never change, so it is looked up once. */
const known = new WeakMap<Breakdown, WeakMap<Loading, Record<Whom, LoadPlaces>>>();

/** From where on a rep of a technique loads one of the two. */
export function loadedFrom(breakdown: Breakdown, technique: Loading, whom: Whom): LoadPlaces {
  let of = known.get(breakdown);
  if (!of) known.set(breakdown, (of = new WeakMap()));
  let both = of.get(technique);
  if (!both) {
    both = {
      partner: lookedUp(breakdown, technique, 'partner'),
      student: lookedUp(breakdown, technique, 'student'),
    };
    of.set(technique, both);
  }
  return both[whom];
}

/** Does a span end before the checkpoint from which on a rep takes the partner to the finish, or loads them as hard as is asked? */
export const spanSpares = (
  breakdown: Breakdown,
  technique: Loading,
  to: Id | null,
  hows?: readonly LoadHow[],
): boolean =>
  (to === null ? breakdown.checkpoints.length - 1 : placeOf(breakdown, to)) <
  firstLoad(breakdown, technique, 'partner', hows);

/** The checkpoint before that one: where reps end that take nobody to the finish. Null where the first one does already. */
export const lastBeforeLoad = (breakdown: Breakdown, technique: Loading): Id | null =>
  breakdown.checkpoints[firstLoad(breakdown, technique, 'partner') - 1]?.id ?? null;

/** The technique as it is done in some ways: their rule tags are added to its own. */
export function withWays<One extends Pick<Technique, 'ruleTags'>>(
  technique: One,
  ways: Iterable<{ ruleTags?: readonly RuleTag[] | undefined }>,
): One {
  const more = [...ways].flatMap(({ ruleTags = [] }) => ruleTags);
  const missing = [...new Set(more)].filter((tag) => !technique.ruleTags.includes(tag));
  return missing.length > 0 ? { ...technique, ruleTags: [...technique.ruleTags, ...missing] } : technique;
}
