import {
  type Breakdown,
  type Id,
  type Load,
  placeOf,
  type Region,
  type RuleTag,
  type Technique,
} from '../breakdown';

export type Loading = Pick<Technique, 'regions' | 'loadSpeed' | 'kind' | 'loads'>;
export type Whom = Load['whom'];

/**
 * The loads of a technique, and whom they load. Without an entry: a submission loads the partner, a defence its own
 * student, a control nobody.
 */
export const loadsOf = ({
  loads,
  regions,
  kind,
}: Pick<Loading, 'regions' | 'kind' | 'loads'>): readonly Load[] =>
  loads ??
  (kind === 'control'
    ? []
    : regions.map((region) => ({ region, whom: kind === 'defence' ? 'student' : 'partner', from: null })));

/** The regions that it loads on one of the two. */
export const loadedOn = (technique: Parameters<typeof loadsOf>[0], whom: Whom): readonly Region[] => [
  ...new Set(loadsOf(technique).flatMap((load) => (load.whom === whom ? [load.region] : []))),
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
const unsaid = ({ kind, loads, regions }: Pick<Loading, 'kind' | 'loads' | 'regions'>): boolean =>
  kind === 'submission' && loads === undefined && regions.length === 0;

/** Does it load anybody but its own student? */
export const loadsPartner = (technique: Parameters<typeof unsaid>[0]): boolean =>
  unsaid(technique) || loadedOn(technique, 'partner').length > 0;

/** Where a rep begins to load one of the two: anywhere at all (after the last checkpoint: never), and region by region. */
export interface LoadPlaces {
  first: number;
  places: ReadonlyMap<Region, number>;
}

function lookedUp(breakdown: Breakdown, technique: Loading, whom: Whom): LoadPlaces {
  const places = new Map<Region, number>();
  for (const load of loadsOf(technique)) {
    if (load.whom !== whom) continue;
    const place = placeFrom(breakdown, load);
    places.set(load.region, Math.min(place, places.get(load.region) ?? place));
  }
  const finish = whom === 'partner' && unsaid(technique) ? [finishOf(breakdown)] : [];
  return { first: Math.min(breakdown.checkpoints.length, ...finish, ...places.values()), places };
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

/** Does a span end before the checkpoint from which on a rep loads the partner? */
export const spanSpares = (breakdown: Breakdown, technique: Loading, to: Id | null): boolean =>
  (to === null ? breakdown.checkpoints.length - 1 : placeOf(breakdown, to)) <
  loadedFrom(breakdown, technique, 'partner').first;

/** The checkpoint before that one: where reps end that load nobody. Null where the first one loads already. */
export const lastBeforeLoad = (breakdown: Breakdown, technique: Loading): Id | null =>
  breakdown.checkpoints[loadedFrom(breakdown, technique, 'partner').first - 1]?.id ?? null;

/** The technique as it is done in some ways: their rule tags are added to its own. */
export function withWays<One extends Pick<Technique, 'ruleTags'>>(
  technique: One,
  ways: Iterable<{ ruleTags?: readonly RuleTag[] | undefined }>,
): One {
  const more = [...ways].flatMap(({ ruleTags = [] }) => ruleTags);
  const missing = [...new Set(more)].filter((tag) => !technique.ruleTags.includes(tag));
  return missing.length > 0 ? { ...technique, ruleTags: [...technique.ruleTags, ...missing] } : technique;
}
