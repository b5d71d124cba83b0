import { Breakdown, type CheckpointKind, type Id, type Technique } from '../breakdown';
import {
  type Cell,
  type EditionsByNumber,
  everything,
  fold,
  type Folding,
  type ReadingQuestion,
  tallyWeeks,
} from '../reading';
import type { Life, Terms } from '../prescription';
import { Rep, type Rep as RepType } from '../rep';
import { Session, type Session as SessionType } from '../session';

/** Small made-up breakdowns and reps for the tests of every package; nothing in the program imports this. */

export const studentIds = ['ada', 'ben', 'cleo', 'dan'] as const;

/** A breakdown with checkpoints c1 … cn, each after the one before, one mistake m<i> and one defence d<i> at each. */
export function plainBreakdown(n: number, edition = 1): Breakdown {
  const ids = Array.from({ length: n }, (_, i) => `c${i + 1}`);
  const kinds: CheckpointKind[] = ['base', 'grip', 'angle', 'pressure', 'finish'];
  return Breakdown.parse({
    technique: 'test-lock',
    edition,
    author: 'test',
    date: '2026-01-01',
    source: 'made up for a test',
    checkpoints: ids.map((id, i) => ({
      id,
      kind: kinds[Math.min(i, 4)],
      title: `Point ${i + 1}`,
      criterion: `Point ${i + 1} is there.`,
      proofs: [{ by: 'see', text: 'it shows' }],
      after: i > 0 ? [ids[i - 1]] : [],
      belief: 100 / n,
      mendable: null,
      variants: [],
    })),
    mistakes: ids.map((id, i) => ({
      id: `m${i + 1}`,
      at: id,
      root: id,
      title: `Mistake ${i + 1}`,
      seen: 's',
      believes: 'b',
      breaks: 'k',
      cue: `Cue ${i + 1}.`,
      drills: [],
    })),
    defences: ids.map((id, i) => ({
      id: `d${i + 1}`,
      opens: id,
      closes: id,
      underLoadOnly: false,
      type: 'escape',
      title: `Defence ${i + 1}`,
      signal: 's',
      leaves: { position: 'guard', ahead: 'neither' },
      answers: [],
    })),
  });
}

/** The technique of `plainBreakdown`: it loads a shoulder at its finish. */
export const plainTechnique: Technique = {
  id: 'test-lock',
  name: 'Test lock',
  aliases: [],
  kind: 'submission',
  attire: 'either',
  startPosition: 'guard',
  mechanism: 'rotation',
  regions: ['shoulder'],
  ruleTags: [],
  loadSpeed: 'slow',
  safetyNote: 'Slowly.',
};

export const editionsOf = (...breakdowns: Breakdown[]): EditionsByNumber =>
  new Map(breakdowns.map((breakdown) => [breakdown.edition, breakdown]));

/** The day on which tests read, unless they say otherwise: that of `aRep`. */
export const readOn: Folding = { asOf: '2026-03-05T20:00:00Z', halfLifeDays: 28 };

/** Reps folded into cells; nobody's mass is known unless it is told. */
export const cellsOf = (
  reps: Iterable<RepType>,
  editions: readonly Breakdown[],
  folding: Folding = readOn,
  massOf: (person: Id) => number | null = () => null,
): Cell[] =>
  fold(
    tallyWeeks(new Map(editions.map((one) => [one.technique, editionsOf(...editions)])), reps, massOf),
    folding,
  );

/** A question about reps of one breakdown. */
export const questionOf = (
  breakdown: Breakdown,
  reps: Iterable<RepType>,
  {
    folding,
    massOf,
    ...more
  }: Partial<ReadingQuestion> & {
    folding?: Folding;
    massOf?: (person: Id) => number | null;
  } = {},
): ReadingQuestion => ({
  breakdown,
  cells: cellsOf(reps, [breakdown], folding, massOf),
  slice: everything,
  mainSides: new Map(),
  ...more,
});

/** The same of five checkpoints, with two schools at c2, answers to d1 and d2, and an exit from c3. */
export function sayingBreakdown(): Breakdown {
  const draft = plainBreakdown(5);
  draft.checkpoints[1]!.variants = ['high', 'low'].map((school) => ({
    id: school,
    name: `The ${school} way`,
    when: { on: 'school', school },
    criterion: `The ${school} way is there.`,
  }));
  draft.checkpoints[1]!.tolerance = {
    quantity: 'distance',
    unit: 'finger widths',
    low: 0,
    high: 4,
    between: 'the chin and the elbow',
  };
  draft.defences[0]!.answers = [
    { id: 'across', do: 'mend', at: 'c1', how: 'Step across.', bait: false },
    { id: 'other', do: 'switch', technique: 'other-lock', how: 'Take the arm.', bait: false },
  ];
  draft.defences[1]!.answers = [{ do: 'retreat', to: 'guard', how: 'Let go.', bait: false }];
  draft.exits = [{ id: 'exit', at: 'c3', technique: 'other-lock', how: 'Fall back.', unsafe: false }];
  return Breakdown.parse(draft);
}

/** The same with an entry at c2, two finishes, times at c2 and c3, and a defence that becomes another one. */
export function sayingAllBreakdown(): Breakdown {
  const draft = sayingBreakdown();
  draft.checkpoints[2]!.withinSeconds = 2;
  draft.checkpoints[1]!.together = 'c1';
  draft.entries = [{ id: 'from-turtle', from: 'turtle', joinsAt: 'c2', how: 'Step over.' }];
  draft.finishes = [
    { id: 'squeeze', title: 'Squeeze', how: 'Close the elbows.', rank: 2 },
    { id: 'arch', title: 'Arch', how: 'Push the hips.', rank: 1 },
  ];
  draft.defences[2]!.becomes = 'd4';
  return Breakdown.parse(draft);
}

/** A UUID that a number always gives. */
export const factId = (n: number): string => `00000000-0000-7000-8000-${n.toString(16).padStart(12, '0')}`;

let made = 0;

/** A valid session on the test lock, of ada and ben; fields that matter to a test are given. */
export const aSession = (fields: Partial<SessionType> = {}): SessionType =>
  Session.parse({
    id: factId(++made),
    technique: 'test-lock',
    edition: 1,
    startedAt: '2026-03-05T18:00:00.000Z',
    endedAt: null,
    pairs: [['ada', 'ben']],
    rung: 2,
    from: null,
    to: null,
    repsPerSide: 10,
    roundSeconds: 300,
    rounds: 3,
    prescribed: [],
    ...fields,
  });

/** The plain technique at hand, with what a test says of its loads. */
export const inHand = (breakdown: Breakdown, what: Partial<Technique> = {}) =>
  new Map([[plainTechnique.id, { technique: { ...plainTechnique, ...what }, breakdown }]]);

/** A valid rep of ada's on the test lock; fields that matter to a test are given. */
export const aRep = (
  fields: Partial<RepType> & { stop?: Id; failed?: Id[]; heldTo?: Id | null } = {},
): RepType =>
  Rep.parse({
    id: factId(++made),
    session: null,
    at: '2026-03-05T18:30:00Z',
    technique: 'test-lock',
    edition: 1,
    student: 'ada',
    partner: 'ben',
    side: 'right',
    rung: 2,
    from: null,
    to: null,
    soft: [],
    cause: null,
    observer: 'coach',
    source: 'mat',
    note: '',
    outcome: fields.stop ? 'stopped' : 'finished',
    ...(fields.outcome === 'left' && { by: null }),
    ...Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)),
  });

/** A correction of c3 as it may be agreed to. */
export const someTerms: Terms = {
  checkpoint: 'c3',
  mistake: 'm3',
  defence: null,
  cue: 'Elbow; first, always.',
  drill: null,
  rung: 2,
  sides: 'both',
  first: 'right',
  reps: 10,
  sets: 2,
  startAt: null,
  endAt: null,
};

/** Ada's prescription of those terms, in work. */
export const aLife = (n: number, of: Partial<Life> = {}): Life => ({
  id: factId(n),
  student: 'ada',
  technique: 'test-lock',
  edition: 1,
  by: 'coach',
  since: '2026-03-05T18:00:00.000Z',
  terms: someTerms,
  stood: null,
  state: 'in work',
  held: [],
  signed: [],
  due: null,
  events: [],
  ...of,
});
