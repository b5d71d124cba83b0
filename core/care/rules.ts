import { z } from 'zod';
import { Attire, LoadHow, Region, RuleTag } from '../breakdown';

/** What two people are about to do. By rung: 0 learn, 1 and 2 drill, 3 and 4 spar; compete is never logged on the Mat. */
export const Activity = z.enum(['learn', 'drill', 'spar', 'compete']);
export type Activity = z.infer<typeof Activity>;

const months = z.int().min(0).max(900);
const grade = z.int().min(0).max(20).nullable();

/** What a group of techniques asks of who does them. */
export const Restriction = z.object({
  /** It holds for a technique with one of these tags, or that loads one of these regions. */
  tags: z.array(RuleTag).max(100),
  regions: z.array(Region).max(Region.options.length),
  /** As it is said in a reason: “twisting leg locks”. */
  name: z.string().min(1).max(80),
  /** Months on the mat before each activity is allowed; null is never. */
  months: z.object({ learn: months, drill: months, spar: months.nullable() }),
  /** Steps above the beginner's grade that do instead of the months; null where no grade does. */
  grades: z.object({ drill: grade, spar: grade }).default({ drill: null, spar: null }),
  minors: z.enum(['allowed', 'with care', 'not allowed']),
  /** Minimum age in years; null if none. Skipped for students without a birth date. */
  fromAge: z.int().min(4).max(99).nullable().default(null),
  /** It holds for what is done in this attire, or in any. */
  attire: Attire.default('either'),
  /** Both must have consented. */
  consent: z.boolean(),
});
export type Restriction = z.infer<typeof Restriction>;

/** One that asks nothing yet. */
export const newRestriction: Restriction = {
  name: '',
  tags: [],
  regions: [],
  months: { learn: 0, drill: 0, spar: 0 },
  grades: { drill: null, spar: null },
  minors: 'with care',
  fromAge: null,
  attire: 'either',
  consent: false,
};

/** How often a session may take one person to the finish. Settings of a house: common sense, not science. */
export const Caps = z.object({
  /** How hard a load must be to count. */
  counts: z.array(LoadHow).min(1).max(3).default(['finish']),
  neck: z.int().min(1).max(100),
  joint: z.int().min(1).max(100),
  fast: z.int().min(1).max(100),
  /** Share of the fast ones that may be at rung 3 or 4. */
  fastSparShare: z.number().min(0).max(1),
});
export type Caps = z.infer<typeof Caps>;

/** What an event says of a group of techniques. */
export const Legality = z.enum(['legal', 'below the knee only', 'not']);
export type Legality = z.infer<typeof Legality>;

/** An event, or one of its divisions, as the house has read its rule book: by rule tag; what is not named there is not said. */
export const EventRules = z.object({
  name: z.string().trim().min(1).max(80),
  tags: z.partialRecord(RuleTag, Legality),
});
export type EventRules = z.infer<typeof EventRules>;

/** For how long is kept what need not be kept for ever. */
export const Keep = z.object({
  /** Months after which it is forgotten who looked at what. */
  accessMonths: z.int().min(1).max(120),
  /** Months after which who has left is to be erased; null where the house has said nothing. */
  leftMonths: z.int().min(1).max(240).nullable(),
});
export type Keep = z.infer<typeof Keep>;

const tapRule = 'Tap early, release at once; release first, talk after.';

export const RuleSet = z.object({
  id: z.string().min(1).max(64),
  name: z.string().min(1).max(80),
  /** Shown wherever the set is. */
  note: z.string().min(1).max(300),
  restrictions: z.array(Restriction).max(40),
  /** Shown before anybody drills. */
  tap: z.string().min(1).max(300).default(tapRule),
  /** Whom to turn to about how somebody is treated, and how to reach them; empty where the house has named nobody. */
  safeguarding: z.string().trim().max(200).default(''),
  /** A fast-acting technique: months before it may be sparred with, and before it may be drilled without a word of care. */
  fast: z.object({ sparMonths: months, careUnderMonths: months }),
  /** A partner this many times as heavy, or as light, is worth a word of care. */
  massRatio: z.number().min(1).max(5),
  caps: Caps,
  /** What the house calls its grades, the beginner's first; empty where they are only counted. */
  ladder: z.array(z.string().trim().min(1).max(40)).max(21).default([]),
  events: z.array(EventRules).max(20).default([]),
  keep: Keep.default({ accessMonths: 12, leftMonths: null }),
});
export type RuleSet = z.infer<typeof RuleSet>;

export const beginnerMonths = 12;
/** Common practice: about the time to the first belt above beginner. */
export const aboveBeginnerMonths = 24;

/** The rule set that an academy begins with: common practice of many rooms, no event's rule book, and meant to be changed. */
export const neutralRules: RuleSet = RuleSet.parse({
  id: 'neutral',
  name: 'Neutral rules',
  note: 'A template of common practice. Your event’s current rule book and your club’s and country’s safeguarding rules come first.',
  restrictions: [
    {
      name: 'twisting leg locks',
      tags: ['twisting leg lock', 'reaping'],
      regions: [],
      months: { learn: 0, drill: beginnerMonths, spar: aboveBeginnerMonths },
      minors: 'not allowed',
      consent: true,
    },
    {
      name: 'spinal locks and neck cranks',
      tags: ['spinal', 'neck crank'],
      regions: ['spine'],
      months: { learn: beginnerMonths, drill: aboveBeginnerMonths, spar: null },
      minors: 'not allowed',
      consent: true,
    },
    {
      name: 'muscle slicers',
      tags: ['slicer'],
      regions: ['calf'],
      months: { learn: 0, drill: beginnerMonths, spar: aboveBeginnerMonths },
      minors: 'not allowed',
      consent: true,
    },
    {
      name: 'wrist locks',
      tags: ['wrist'],
      regions: ['wrist'],
      months: { learn: 0, drill: beginnerMonths, spar: aboveBeginnerMonths },
      minors: 'not allowed',
      consent: false,
    },
    {
      name: 'locks on the knee and ankle',
      tags: [],
      regions: ['knee', 'ankle'],
      months: { learn: 0, drill: 3, spar: aboveBeginnerMonths },
      minors: 'not allowed',
      consent: false,
    },
    {
      name: 'techniques with a slam risk',
      tags: ['slam risk'],
      regions: [],
      months: { learn: 0, drill: 0, spar: 6 },
      minors: 'with care',
      consent: false,
    },
    {
      name: 'strangles and neck locks',
      tags: [],
      regions: ['neck'],
      months: { learn: 0, drill: 0, spar: 0 },
      minors: 'with care',
      consent: false,
    },
  ],
  fast: { sparMonths: 6, careUnderMonths: beginnerMonths },
  massRatio: 1.25,
  caps: { counts: ['finish'], neck: 12, joint: 10, fast: 4, fastSparShare: 0.5 },
});
