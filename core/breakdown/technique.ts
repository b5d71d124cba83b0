import { z } from 'zod';
import { Id } from './ids';

export const TechniqueKind = z.enum(['submission', 'defence', 'control']);
export const Attire = z.enum(['gi', 'no-gi', 'either']);
export const Mechanism = z.enum([
  'blood strangle',
  'hyperextension',
  'rotation',
  'compression',
  'spinal',
  'none',
]);
export const Region = z.enum([
  'neck',
  'shoulder',
  'elbow',
  'wrist',
  'hip',
  'knee',
  'ankle',
  'calf',
  'spine',
  'fingers',
  'jaw',
  'ribs',
  'head',
  'foot',
  'back',
]);
export type Region = z.infer<typeof Region>;
export const RuleTag = z.enum([
  'twisting leg lock',
  'reaping',
  'slicer',
  'wrist',
  'spinal',
  'neck crank',
  'slam risk',
  'cloth',
]);
export type RuleTag = z.infer<typeof RuleTag>;
/** How hard a load is: up to a tap, firmly on the way, or only held. */
export const LoadHow = z.enum(['finish', 'firm', 'light']);
export type LoadHow = z.infer<typeof LoadHow>;
/**
 * What a rep loads, whom, from which checkpoint on, and how hard. Without a checkpoint: the partner from the first finish
 * on, the student from the beginning. `howOf` guesses a missing `how`.
 */
export const Load = z.object({
  region: Region,
  whom: z.enum(['partner', 'student']),
  from: Id.nullable(),
  how: LoadHow.optional(),
});
export type Load = z.infer<typeof Load>;
/** Which limb of the student goes round what of the partner, how it is locked, and how much of the limb that lock takes. */
export const Closing = z.object({
  limb: z.enum(['arm', 'leg']),
  around: z.enum(['neck', 'neck and arm', 'waist', 'thigh']),
  lock: z.string().max(80),
  takesCm: z.number().min(0).max(100),
});
export type Closing = z.infer<typeof Closing>;
export const LoadSpeed = z.enum(['slow', 'fast']);

/** Anything that can be broken down: a submission, a defence, or a control. Its anatomy is in its breakdowns. */
export const Technique = z.object({
  id: Id,
  name: z.string().min(1).max(80),
  aliases: z.array(z.string().min(1).max(80)).max(200),
  kind: TechniqueKind,
  attire: Attire,
  startPosition: z.string().min(1).max(80),
  mechanism: Mechanism,
  /** The body parts that it can hurt. */
  regions: z.array(Region).max(Region.options.length),
  /** If it is left out, a submission loads the partner at its regions, a defence its own student, a control nobody. */
  loads: z.array(Load).max(20).optional(),
  /** The parts of a reach; left out if no limb closes around anybody. */
  reach: Closing.optional(),
  ruleTags: z.array(RuleTag).max(100),
  loadSpeed: LoadSpeed,
  safetyNote: z.string().max(600),
});
export type Technique = z.infer<typeof Technique>;
