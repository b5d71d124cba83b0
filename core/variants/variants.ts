import type { Attire, BodyFact, Breakdown, Id, Technique, Variant, When } from '../breakdown';
import type { Student } from '../people';
import type { z } from 'zod';
import { chanceOver, type Reach, type Reached, type Reaching, reachOf } from './reach';

/** Known facts of a body; null for each that was not measured. */
export type Body = Pick<
  Student,
  'massKg' | 'hipMobility' | 'wristMobility' | 'shoulderMobility' | 'handLengthCm' | 'grade'
> &
  Reaching &
  Reached;

/** Two people, what they wear, and the ways that somebody has chosen for them by hand. */
export interface Pairing {
  student: Body | null;
  partner: Body | null;
  attire: z.infer<typeof Attire>;
  chosen: ReadonlySet<Id>;
  /** How far the student's limb closes around the partner; null where that cannot be told. */
  reach: Reach | null;
}

/** What decides about two people on a technique, with the ways that were chosen for them. */
export const pairingOf = (
  { attire, reach }: Pick<Technique, 'attire' | 'reach'>,
  student: Body | null,
  partner: Body | null,
  chosen: Iterable<Id> = [],
): Pairing => ({
  student,
  partner,
  attire,
  chosen: new Set(chosen),
  reach: reach ? reachOf(reach, student, partner) : null,
});

/** A fact of the two bodies, in the terms of a condition; null where it is not known. */
export function factOf(fact: BodyFact, { student, partner, reach }: Pairing): number | string | null {
  const ratio = (own: number | null | undefined, other: number | null | undefined) =>
    own && other ? other / own : null;
  switch (fact) {
    case 'reach margin':
      return reach?.margin ?? null;
    case 'partner mass ratio':
      return ratio(student?.massKg, partner?.massKg);
    case 'stature ratio':
      return ratio(student?.statureCm, partner?.statureCm);
    case 'hip mobility':
      return student?.hipMobility ?? null;
    case 'wrist mobility':
      return student?.wristMobility ?? null;
    case 'shoulder mobility':
      return student?.shoulderMobility ?? null;
    case 'partner hip mobility':
      return partner?.hipMobility ?? null;
    case 'partner wrist mobility':
      return partner?.wristMobility ?? null;
    case 'partner shoulder mobility':
      return partner?.shoulderMobility ?? null;
    case 'leg length':
      return student?.legLengthCm ?? null;
    case 'hand length':
      return student?.handLengthCm ?? null;
    case 'grade':
      return student?.grade ?? null;
  }
}

/** The chance from which on an estimated reach decides on its own; below it a coach chooses. */
const surely = 0.9;

/** Does a condition hold for these two? Null where only a person can say: a school, a situation, a body nobody measured. */
export function holdsFor(when: When, pairing: Pairing): boolean | null {
  switch (when.on) {
    case 'school':
    case 'situation':
      return null;
    case 'attire':
      return pairing.attire === 'either' || when.attire === 'either' ? null : when.attire === pairing.attire;
    case 'body': {
      if (when.fact === 'reach margin' && pairing.reach && when.is !== '=') {
        const over = chanceOver(pairing.reach, Number(when.value));
        const sure = when.is === '>' ? over : 1 - over;
        return sure >= surely ? true : sure <= 1 - surely ? false : null;
      }
      const fact = factOf(when.fact, pairing);
      if (fact === null) return null;
      if (when.is === '=' || typeof fact === 'string') return fact === when.value;
      return when.is === '<' ? fact < Number(when.value) : fact > Number(when.value);
    }
  }
}

/** A way at its checkpoint. */
export interface WayAt {
  checkpoint: Id;
  variant: Variant;
}

const waysOf = ({ checkpoints }: Pick<Breakdown, 'checkpoints'>): WayAt[] =>
  checkpoints.flatMap(({ id, variants }) => variants.map((variant) => ({ checkpoint: id, variant })));

/** How far a body is from the bound of a condition that it meets; 0 where the condition has no such bound. */
function distance({ when }: Variant, pairing: Pairing): number {
  if (when.on !== 'body') return 0;
  const fact = factOf(when.fact, pairing);
  return typeof fact === 'number' ? Math.abs(fact - Number(when.value)) : 0;
}

/**
 * The ways that hold for two people: those that bodies and attire decide, and those that were chosen. A body that meets two
 * conditions of one fact at a checkpoint takes the one whose bound is nearer.
 */
export function variantsFor(breakdown: Pick<Breakdown, 'checkpoints'>, pairing: Pairing): WayAt[] {
  const held = waysOf(breakdown).filter(
    ({ variant }) => holdsFor(variant.when, pairing) ?? pairing.chosen.has(variant.id),
  );
  return held.filter(
    (one) =>
      one.variant.when.on !== 'body' ||
      !held.some(
        (other) =>
          other !== one &&
          other.checkpoint === one.checkpoint &&
          other.variant.when.on === 'body' &&
          one.variant.when.on === 'body' &&
          other.variant.when.fact === one.variant.when.fact &&
          (distance(other.variant, pairing) < distance(one.variant, pairing) ||
            (distance(other.variant, pairing) === distance(one.variant, pairing) &&
              held.indexOf(other) < held.indexOf(one))),
      ),
  );
}

/** The ways that only a person can choose for these two. */
export const choosable = (breakdown: Pick<Breakdown, 'checkpoints'>, pairing: Pairing): WayAt[] =>
  waysOf(breakdown).filter(({ variant }) => holdsFor(variant.when, pairing) === null);

/**
 * The chosen ways after a tap on one. A school is chosen wherever it has a say, and of the schools at a checkpoint one is
 * followed at a time.
 */
export function chosenAfter(
  breakdown: Pick<Breakdown, 'checkpoints'>,
  chosen: ReadonlySet<Id>,
  tapped: Id,
): Id[] {
  const all = waysOf(breakdown);
  const one = all.find(({ variant }) => variant.id === tapped);
  if (!one) return [...chosen];
  const { when } = one.variant;
  const same = all.filter(({ variant }) =>
    when.on === 'school' && variant.when.on === 'school'
      ? variant.when.school === when.school
      : variant.id === tapped,
  );
  const ids = new Set(same.map(({ variant }) => variant.id));
  const rest = [...chosen].filter((id) => !ids.has(id));
  if (chosen.has(tapped)) return rest;
  const places = new Set(same.map(({ checkpoint }) => checkpoint));
  const rivals = new Set(
    when.on === 'school'
      ? all.flatMap(({ checkpoint, variant }) =>
          places.has(checkpoint) && variant.when.on === 'school' ? [variant.id] : [],
        )
      : [],
  );
  return [...rest.filter((id) => !rivals.has(id)), ...ids];
}
