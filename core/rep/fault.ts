import {
  answersOf,
  type Breakdown,
  causesAt,
  type Defence,
  doorsOf,
  type Id,
  isRelation,
  type Measured,
  placeOf,
  possibleIn,
} from '../breakdown';
import { seenTo, spanOf } from './observe';
import type { Rep } from './rep';

/** What is wrong with a rep, and in which of its fields. */
export interface RepFault {
  field:
    | 'from'
    | 'to'
    | 'soft'
    | 'stop'
    | 'partner'
    | 'cause'
    | 'ways'
    | 'task'
    | 'measured'
    | 'met'
    | 'by'
    | 'entry'
    | 'finish'
    | 'timed';
  reason: string;
}

/** A rep with its edition, and the places (from 0) of its span and of the last checkpoint that was seen. */
interface Asked {
  rep: Rep;
  breakdown: Breakdown;
  edition: string;
  first: number;
  last: number;
  seen: number;
}
/** What one rule finds wrong; null if nothing. Later rules may rely on what earlier ones have found in order. */
type FaultRule = (asked: Asked) => RepFault | null;

/** The checkpoints that a rep names, each with its field. */
function namedIn(rep: Rep): [RepFault['field'], Id][] {
  return [
    ...(rep.from === null ? [] : [['from', rep.from] as [RepFault['field'], Id]]),
    ...(rep.to === null ? [] : [['to', rep.to] as [RepFault['field'], Id]]),
    ...rep.soft.map((id): [RepFault['field'], Id] => ['soft', id]),
    ...(rep.outcome === 'stopped' ? [['stop', rep.stop] as [RepFault['field'], Id]] : []),
    ...(rep.outcome === 'forced' ? rep.failed.map((id): [RepFault['field'], Id] => ['stop', id]) : []),
    ...((rep.outcome === 'not judged' || rep.outcome === 'left') && rep.heldTo !== null
      ? [['stop', rep.heldTo] as [RepFault['field'], Id]]
      : []),
    ...(rep.measured ?? []).map(({ checkpoint }): [RepFault['field'], Id] => ['measured', checkpoint]),
    ...(rep.timed ?? []).map(({ checkpoint }): [RepFault['field'], Id] => ['timed', checkpoint]),
  ];
}

const unknownCheckpoint: FaultRule = ({ rep, breakdown, edition }) => {
  const unknown = namedIn(rep).find(([, id]) => placeOf(breakdown, id) < 0);
  return unknown ? { field: unknown[0], reason: `${edition} has no checkpoint "${unknown[1]}"` } : null;
};

const emptySpan: FaultRule = ({ rep, first, last }) =>
  first > last
    ? { field: 'to', reason: `the span ends ("${rep.to}") before it starts ("${rep.from}")` }
    : null;

const outsideTheSpan: FaultRule = ({ rep, breakdown, first, last }) => {
  const outside = namedIn(rep).find(([, id]) => {
    const place = placeOf(breakdown, id);
    return place < first || place > last;
  });
  return outside
    ? { field: outside[0], reason: `"${outside[1]}" is outside the span that was drilled` }
    : null;
};

const impossiblePartner: FaultRule = ({ rep }) =>
  rep.partner === rep.student
    ? { field: 'partner', reason: 'a student cannot be their own partner' }
    : rep.rung === 0 && rep.partner !== null
      ? { field: 'partner', reason: 'rung 0 is alone: it has no partner' }
      : null;

const failedIn = (rep: Rep): readonly Id[] =>
  rep.outcome === 'stopped' ? [rep.stop] : rep.outcome === 'forced' ? rep.failed : [];

/** Shaky is what held: not what failed, nor what the rep did not get to. */
const softThatDidNotHold: FaultRule = ({ rep, breakdown, seen }) => {
  const both = rep.soft.find((id) => failedIn(rep).includes(id));
  if (both !== undefined) return { field: 'soft', reason: `"${both}" failed, so it did not hold softly` };
  const unseen = rep.soft.find((id) => placeOf(breakdown, id) > seen);
  return unseen === undefined
    ? null
    : { field: 'soft', reason: `the rep ended before "${unseen}": whether it was soft was not seen` };
};

const impossibleMeasure: FaultRule = ({ rep, breakdown, seen }) => {
  const taken = new Set<Id>();
  for (const { checkpoint: id, value } of rep.measured ?? []) {
    const fault = (reason: string): RepFault => ({ field: 'measured', reason });
    if (taken.has(id)) return fault(`"${id}" was measured twice in one rep`);
    taken.add(id);
    const place = placeOf(breakdown, id);
    if (place > seen) return fault(`the rep ended before "${id}": it cannot have been measured`);
    const { tolerance, variants } = breakdown.checkpoints[place]!;
    const measures = [tolerance, ...variants.map((variant) => variant.tolerance)].filter(
      (one): one is Measured => one !== undefined && !isRelation(one),
    );
    if (measures.length === 0) return fault(`"${id}" has nothing to measure`);
    const fits = measures.some(({ unit }) => value >= possibleIn[unit][0] && value <= possibleIn[unit][1]);
    const [low, high] = possibleIn[measures[0]!.unit];
    if (!fits) return fault(`${value} ${measures[0]!.unit} at "${id}" is out of range: ${low} to ${high}`);
  }
  return null;
};

/** A variant is of what was seen; of two schools, or two attires, at one checkpoint a rep follows one. */
const impossibleVariants: FaultRule = ({ rep, breakdown, edition, first, last, seen }) => {
  const all = breakdown.checkpoints.flatMap(({ id, variants }) =>
    variants.map((variant) => ({ checkpoint: id, variant })),
  );
  const used: typeof all = [];
  for (const id of rep.ways ?? []) {
    const one = all.find(({ variant }) => variant.id === id);
    if (!one) return { field: 'ways', reason: `${edition} has no variant "${id}"` };
    const place = placeOf(breakdown, one.checkpoint);
    if (place < first || place > last)
      return {
        field: 'ways',
        reason: `"${id}" is of "${one.checkpoint}", outside the span that was drilled`,
      };
    if (place > seen)
      return { field: 'ways', reason: `the rep ended before "${one.checkpoint}": "${id}" was not used` };
    const rival = used.find(
      ({ checkpoint, variant }) =>
        checkpoint === one.checkpoint &&
        variant.when.on === one.variant.when.on &&
        (one.variant.when.on === 'school' || one.variant.when.on === 'attire'),
    );
    if (rival)
      return {
        field: 'ways',
        reason: `"${rival.variant.id}" and "${id}" are rivals at "${one.checkpoint}": a rep follows one`,
      };
    used.push(one);
  }
  return null;
};

/** Is a defence open anywhere between two places, both included? */
const isOpenBetween = (
  breakdown: Pick<Breakdown, 'checkpoints'>,
  { opens, closes }: Defence,
  from: number,
  to: number,
): boolean => placeOf(breakdown, opens) <= to && placeOf(breakdown, closes) >= from;

const taskElsewhere: FaultRule = ({ rep, breakdown, edition, first, last }) => {
  for (const id of rep.task ?? []) {
    const defence = breakdown.defences.find((one) => one.id === id);
    if (!defence) return { field: 'task', reason: `${edition} has no defence "${id}"` };
    if (!isOpenBetween(breakdown, defence, first, last))
      return { field: 'task', reason: `"${id}" is never open in the span that was drilled` };
  }
  return null;
};

/** Where a rep can have met a defence: one that was left or interrupted also at the checkpoint it was about to try. */
const meetsUpTo = ({ rep, first, last, seen }: Pick<Asked, 'rep' | 'first' | 'last' | 'seen'>): number =>
  Math.max(first, rep.outcome === 'left' || rep.outcome === 'not judged' ? Math.min(last, seen + 1) : seen);

const metElsewhere: FaultRule = (asked) => {
  const { rep, breakdown, edition, first } = asked;
  for (const { defence: id, answer, worked, became } of rep.met ?? []) {
    const fault = (reason: string): RepFault => ({ field: 'met', reason });
    const defence = breakdown.defences.find((one) => one.id === id);
    if (!defence) return fault(`${edition} has no defence "${id}"`);
    if (answer !== null && !answersOf(defence).some((one) => one.id === answer))
      return fault(`"${id}" has no answer "${answer}" in ${edition}`);
    if (!isOpenBetween(breakdown, defence, first, meetsUpTo(asked)))
      return fault(`"${id}" is not open in what was seen of the rep`);
    if (became !== undefined) {
      if (defence.becomes !== became) return fault(`"${id}" does not become "${became}" in ${edition}`);
      if (worked) return fault(`"${id}" was answered, so it did not become "${became}"`);
      const next = breakdown.defences.find((one) => one.id === became);
      if (!next || !isOpenBetween(breakdown, next, first, meetsUpTo(asked)))
        return fault(`"${id}" became "${became}", which is not open in what was seen of the rep`);
      continue;
    }
    if (worked) continue;
    if (rep.outcome !== 'stopped' || (rep.cause !== null && rep.cause !== id))
      return fault(`what was done about "${id}" did not work, so the rep stopped by it`);
    if (!causesAt(breakdown, rep.stop).some((cause) => cause.id === id))
      return fault(`what was done about "${id}" did not work, but it is not open at "${rep.stop}"`);
  }
  return null;
};

/** An exit leads on from a checkpoint that held; of the answers only a switch leads elsewhere. */
const leftByNoDoor: FaultRule = ({ rep, breakdown, edition, first }) => {
  if (rep.outcome !== 'left' || rep.by === null) return null;
  const fault = (reason: string): RepFault => ({ field: 'by', reason });
  const door = doorsOf(breakdown).find(({ by }) => by === rep.by);
  if (!door) {
    const stays = breakdown.defences.some((one) => answersOf(one).some(({ id }) => id === rep.by));
    return fault(
      stays
        ? `"${rep.by}" does not lead to another technique`
        : `${edition} has no exit or answer "${rep.by}"`,
    );
  }
  const needed = door.heldTo === null ? -1 : placeOf(breakdown, door.heldTo);
  const held = rep.heldTo === null ? -1 : placeOf(breakdown, rep.heldTo);
  return needed >= first && needed > held
    ? fault(`"${rep.by}" leads on from "${door.heldTo}", which this rep did not hold`)
    : null;
};

/** A rep that began by an entry starts where that joins. */
const entryElsewhere: FaultRule = ({ rep, breakdown, edition, first }) => {
  if (rep.entry === undefined) return null;
  const entry = breakdown.entries?.find(({ id }) => id === rep.entry);
  if (!entry) return { field: 'entry', reason: `${edition} has no entry "${rep.entry}"` };
  return placeOf(breakdown, entry.joinsAt) === first
    ? null
    : { field: 'entry', reason: `"${rep.entry}" joins at "${entry.joinsAt}", where this rep did not start` };
};

/** Which finish it was, only a rep that went through to the end can say. */
const finishElsewhere: FaultRule = ({ rep, breakdown, edition, last }) => {
  if (rep.finish === undefined) return null;
  const fault = (reason: string): RepFault => ({ field: 'finish', reason });
  if (!breakdown.finishes?.some(({ id }) => id === rep.finish))
    return fault(`${edition} has no finish "${rep.finish}"`);
  if (rep.outcome !== 'finished' && rep.outcome !== 'forced')
    return fault('only a rep that finished has a finish');
  return last < breakdown.checkpoints.length - 1
    ? fault('the span that was drilled ends before the finish')
    : null;
};

/** Has a checkpoint a time: must it come with another one, or soon after the one before? */
export const isTimed = ({ together, withinSeconds }: Breakdown['checkpoints'][number]): boolean =>
  together !== undefined || withinSeconds !== undefined;

const impossibleTime: FaultRule = ({ rep, breakdown, seen }) => {
  const taken = new Set<Id>();
  for (const { checkpoint: id } of rep.timed ?? []) {
    const fault = (reason: string): RepFault => ({ field: 'timed', reason });
    if (taken.has(id)) return fault(`"${id}" was timed twice in one rep`);
    taken.add(id);
    const place = placeOf(breakdown, id);
    if (place > seen) return fault(`the rep ended before "${id}": it cannot have been timed`);
    if (!isTimed(breakdown.checkpoints[place]!)) return fault(`"${id}" has no time to keep`);
  }
  return null;
};

const causeElsewhere: FaultRule = ({ rep, breakdown }) => {
  if (rep.cause === null) return null;
  if (rep.outcome !== 'stopped') return { field: 'cause', reason: 'only a rep that stopped has a cause' };
  const reason = causeFault(breakdown, rep.cause, rep.stop);
  return reason === null ? null : { field: 'cause', reason };
};

const rules: readonly FaultRule[] = [
  unknownCheckpoint,
  emptySpan,
  outsideTheSpan,
  impossiblePartner,
  softThatDidNotHold,
  impossibleMeasure,
  impossibleVariants,
  taskElsewhere,
  metElsewhere,
  leftByNoDoor,
  entryElsewhere,
  finishElsewhere,
  impossibleTime,
  causeElsewhere,
];

/** Why a rep cannot be true of its edition, or null where it can. */
export function faultOf(breakdown: Breakdown, rep: Rep): RepFault | null {
  const edition = `edition ${breakdown.edition} of ${breakdown.technique}`;
  const asked = { rep, breakdown, edition, ...spanOf(breakdown, rep), seen: seenTo(breakdown, rep) };
  for (const rule of rules) {
    const fault = rule(asked);
    if (fault) return fault;
  }
  return null;
}

/** The rep without marks of what it did not get to: they were tapped for something that did not come any more. */
export function onlySeen(breakdown: Pick<Breakdown, 'checkpoints' | 'defences' | 'entries'>, rep: Rep): Rep {
  const span = { rep, ...spanOf(breakdown, rep), seen: seenTo(breakdown, rep) };
  const wasSeen = (id: Id) => {
    const place = placeOf(breakdown, id);
    return place >= span.first && place <= span.seen;
  };
  const places = new Map(
    breakdown.checkpoints.flatMap(({ variants }, place) => variants.map(({ id }) => [id, place] as const)),
  );
  const wasUsed = (way: Id) => {
    const place = places.get(way) ?? -1;
    return place >= span.first && place <= span.seen;
  };
  const isOpen = (id: Id, upTo: number) =>
    breakdown.defences.some((one) => one.id === id && isOpenBetween(breakdown, one, span.first, upTo));
  const { ways, measured, timed, met, task, entry, finish, ...rest } = rep;
  const isThrough = span.last === breakdown.checkpoints.length - 1;
  const joinsAt = breakdown.entries?.find(({ id }) => id === entry)?.joinsAt;
  const marks = {
    ways: ways?.filter(wasUsed),
    measured: measured?.filter(({ checkpoint }) => wasSeen(checkpoint)),
    timed: timed?.filter(({ checkpoint }) => wasSeen(checkpoint)),
    met: met?.filter(
      ({ defence, became }) =>
        isOpen(defence, meetsUpTo(span)) && (became === undefined || isOpen(became, meetsUpTo(span))),
    ),
    task: task?.filter((defence) => isOpen(defence, span.last)),
  };
  return {
    ...rest,
    soft: rep.soft.filter((id) => wasSeen(id) && !failedIn(rep).includes(id)),
    ...(marks.ways?.length && { ways: marks.ways }),
    ...(joinsAt !== undefined && placeOf(breakdown, joinsAt) === span.first && { entry: entry! }),
    ...(finish !== undefined && isThrough && { finish }),
    ...(marks.timed?.length && { timed: marks.timed }),
    ...(marks.measured?.length && { measured: marks.measured }),
    ...(marks.met?.length && { met: marks.met }),
    ...(marks.task?.length && { task: marks.task }),
  };
}

/** A device's clock may be put right between two reps. */
const clockSlackMs = 60_000;

/**
 * Why a rep cannot go on from another one, or null where it can: the one before it is the same student's, not later, not
 * itself, not finished, and left through a door that leads here.
 */
export function followFault(rep: Rep, before: Rep, breakdownBefore: Breakdown | undefined): string | null {
  if (before.id === rep.id) return 'a rep cannot follow itself';
  if (before.student !== rep.student) return 'the rep it follows is another student’s';
  if (Date.parse(before.at) > Date.parse(rep.at) + clockSlackMs) return 'the rep it follows came later';
  if (before.outcome === 'finished' || before.outcome === 'forced')
    return 'the rep it follows finished, so nothing goes on from it';
  const by = rep.follows?.by ?? null;
  const door =
    by === null ? undefined : breakdownBefore && doorsOf(breakdownBefore).find((one) => one.by === by);
  return door && rep.technique !== door.technique
    ? `"${by}" leads to ${door.technique}, not to ${rep.technique}`
    : null;
}

/** Why a cause cannot end a rep at this stop, or null where it can. */
export function causeFault(breakdown: Breakdown, cause: Id, stop: Id): string | null {
  const known = [...breakdown.mistakes, ...breakdown.defences].some(({ id }) => id === cause);
  if (!known)
    return `edition ${breakdown.edition} of ${breakdown.technique} has no mistake or defence "${cause}"`;
  return causesAt(breakdown, stop).some(({ id }) => id === cause)
    ? null
    : `"${cause}" cannot end a rep at "${stop}": it shows or opens elsewhere`;
}
