import { describe, expect, test } from '@jest/globals';
import { Breakdown, type Technique } from '../breakdown';
import { neutralRules } from '../care';
import { Drill, shippedDrills } from '../drills';
import { finished } from '../hazard';
import { fitAcademy, fullReading } from '../reading';
import type { Rep } from '../rep';
import { aRep, plainTechnique, questionOf } from '../test';
import type { DecisionContext } from './options';
import { prescribe } from './prescribe';
import type { Correction, Prescription } from './prescription';
import { prescriptionWords } from './words';

/**
 * What a coach would prescribe, situation by situation: reps in; checkpoint, drill, rung, span, dose and proof out, or a watch.
 * Common practice throughout; the technique and the people are made up.
 */

const point = (id: string, kind: string, title: string, after: string[]) => ({
  id,
  kind,
  title,
  criterion: `${title}.`,
  proofs: [
    { by: 'see', text: `${title}, seen from the side` },
    { by: 'feel', text: 'the partner cannot turn' },
  ],
  after,
  belief: 100 / 6,
  mendable: null,
  variants: [],
});
const mistake = (id: string, at: string, root: string) => ({
  id,
  at,
  root,
  title: `Mistake ${id}`,
  seen: 's',
  believes: 'b',
  breaks: 'k',
  cue: `Cue ${id}.`,
  drills: [],
});
const defence = (id: string, opens: string, closes: string, answers: object[]) => ({
  id,
  opens,
  closes,
  underLoadOnly: false,
  type: 'counter',
  title: `The ${id}`,
  signal: `the hand comes to the ${id}`,
  task: `Play the ${id} at half strength.`,
  leaves: { position: 'guard', ahead: 'neither' },
  answers,
});

/** A strangle of six checkpoints. Two mistakes show later than they begin: a shallow grip under weight, a small turn at the finish. */
const strangle = Breakdown.parse({
  technique: 'test-lock',
  edition: 1,
  author: 'test',
  date: '2026-01-01',
  source: 'made up for a test',
  checkpoints: [
    point('base', 'base', 'Knees wide', []),
    point('grip', 'grip', 'Arm deep', ['base']),
    point('lock', 'grip', 'Hands locked', ['grip']),
    point('turn', 'angle', 'Hips turned', ['base']),
    point('weight', 'pressure', 'Weight on', ['turn']),
    point('squeeze', 'finish', 'Elbows close', ['lock', 'weight']),
  ],
  mistakes: [
    mistake('narrow', 'base', 'base'),
    mistake('shallow', 'grip', 'grip'),
    mistake('loose', 'lock', 'lock'),
    mistake('square', 'turn', 'turn'),
    mistake('floating', 'weight', 'weight'),
    mistake('arms only', 'squeeze', 'squeeze'),
    mistake('slips', 'weight', 'grip'),
    mistake('short', 'squeeze', 'turn'),
  ].map((one) => ({ ...one, id: one.id.replace(' ', '-') })),
  defences: [
    defence('frame', 'base', 'grip', [
      { id: 'swim', do: 'mend', at: 'grip', how: 'Swim inside.', bait: false },
      { id: 'lift', do: 'mend', at: 'grip', how: 'Lift the elbow.', bait: false },
    ]),
    defence('peel', 'lock', 'weight', []),
    defence('roll', 'turn', 'squeeze', [
      { id: 'follow', do: 'mend', at: 'weight', how: 'Follow over.', bait: false },
    ]),
  ],
});

const neckFinish: Technique = {
  ...plainTechnique,
  regions: ['neck'],
  mechanism: 'blood strangle',
  loads: [{ region: 'neck', whom: 'partner', from: 'squeeze', how: 'finish' }],
};

/** Reps of one kind. */
const n = (count: number, fields: Parameters<typeof aRep>[0] = {}): Rep[] =>
  Array.from({ length: count }, () => aRep(fields));
const lost = (count: number, stop: string, cause?: string, fields: Parameters<typeof aRep>[0] = {}): Rep[] =>
  n(count, { ...fields, stop, ...(cause && { cause }) });

/** Three others who do as most do: each loses a few reps everywhere. */
const room = (besides: (student: string) => Rep[] = () => []): Rep[] =>
  ['ben', 'cleo', 'dan'].flatMap((student) => [
    ...(['right', 'left'] as const).flatMap((side) => [
      ...strangle.checkpoints.flatMap(({ id }) => lost(1, id, undefined, { student, partner: 'ada', side })),
      ...n(6, { student, partner: 'ada', side }),
    ]),
    ...besides(student),
  ]);
/** A room in which each of nine loses one rep in forty at every checkpoint. */
const goodRoom = (): Rep[] =>
  Array.from({ length: 9 }, (_, i) => `good-${i}`).flatMap((student) => [
    ...strangle.checkpoints.flatMap(({ id }) => lost(1, id, undefined, { student, partner: 'ada' })),
    ...n(34, { student, partner: 'ada' }),
  ]);

const load = (
  technique: Technique,
  caps: Partial<typeof neutralRules.caps> = {},
): DecisionContext['load'] => ({
  technique,
  caps: { ...neutralRules.caps, ...caps },
});

const aDrill = (id: string, fields: object): Drill =>
  Drill.parse({
    ...shippedDrills[0]!,
    id,
    title: id,
    trains: {
      kinds: [],
      answers: false,
      checkpoints: [],
      mistakes: [],
      defences: [],
      ways: [],
      ...(fields as { trains?: object }).trains,
    },
    ...Object.fromEntries(Object.entries(fields).filter(([key]) => key !== 'trains')),
  });
const part = (id: string) => [{ technique: 'test-lock', id }];
/** A short drill of the house's own for one mistake. */
const shortDrill = (of: string): Drill => aDrill('short-one', { minutes: 3, trains: { mistakes: part(of) } });

interface Situation {
  reps: Rep[];
  others?: Rep[];
  known?: Partial<DecisionContext>;
  of?: Breakdown;
}

function coached({ reps, others = room(), known = {}, of = strangle }: Situation): Prescription {
  const question = questionOf(of, [...reps, ...others]);
  const reading = fullReading(
    question,
    finished(fitAcademy(question.cells, question.mainSides, { breakdowns: [of] })),
  );
  return prescribe(
    of,
    reading.students.find(({ student }) => student === 'ada')!,
    {
      mainSide: 'right',
      drills: shippedDrills,
      ...known,
    },
  );
}

const corrected = (situation: Situation): Correction => {
  const found = coached(situation);
  if (found.kind !== 'correct') throw new Error(`a ${found.kind} of ${JSON.stringify(found)}`);
  return found;
};
const wordsOf = (situation: Situation) =>
  prescriptionWords(situation.of ?? strangle, coached(situation), 'Ada', 'right');
const drillOf = ({ drill }: Correction, drills: readonly Drill[] = shippedDrills): Drill | undefined =>
  drills.find(({ id }) => id === drill);
const repsOf = ({ dose: { sets, reps, sides } }: Correction): number =>
  sets * reps * (sides === 'both' ? 2 : 1);
/** The places of a span, as a coach counts. */
const spanOf = ({ dose: { startAt, endAt } }: Correction): [number, number] => {
  const at = (id: string | null, none: number) =>
    id === null ? none : strangle.checkpoints.findIndex((one) => one.id === id) + 1;
  return [at(startAt, 1), at(endAt, 6)];
};
const edit = (change: (draft: Breakdown) => void): Breakdown => {
  const draft = structuredClone(strangle);
  change(draft);
  return Breakdown.parse(draft);
};

/** To watch, or nothing. */
const noCorrection = { kind: expect.not.stringMatching('correct') as never };

describe('what comes first', () => {
  test.each<[string, Situation, Partial<Prescription>]>([
    [
      'nine of twelve lost at the grip',
      { reps: [...lost(9, 'grip', 'shallow'), ...n(3)] },
      { kind: 'correct', checkpoint: 'grip', mistake: 'shallow' },
    ],
    ['one lost of nine', { reps: [...lost(1, 'lock', 'loose'), ...n(8)] }, noCorrection],
    [
      'one lost of nine in a good room',
      { reps: [...lost(1, 'lock', 'loose'), ...n(8)], others: goodRoom() },
      noCorrection,
    ],
    ['two lost of two', { reps: lost(2, 'turn', 'square') }, { kind: 'watch' }],
    [
      'two lost of twenty-seven at the grip, eight of eighteen at the turn, with a short drill for the grip',
      {
        reps: [
          ...lost(2, 'grip', 'shallow'),
          ...n(7, { to: 'lock' }),
          ...lost(8, 'turn', 'square'),
          ...n(10),
        ],
        known: { drills: [...shippedDrills, shortDrill('shallow')] },
      },
      { kind: 'correct', checkpoint: 'turn' },
    ],
    [
      'three of fourteen at the lock, eleven of twenty-six under weight, with a short drill for the lock',
      {
        reps: [
          ...lost(3, 'lock', 'loose', { from: 'grip' }),
          ...n(11, { from: 'grip', to: 'lock' }),
          ...lost(11, 'weight', 'floating', { from: 'turn' }),
          ...n(15, { from: 'turn' }),
        ],
        known: { drills: [...shippedDrills, shortDrill('loose')] },
      },
      { kind: 'correct', checkpoint: 'weight' },
    ],
    ['nothing lost in sixty', { reps: n(60) }, { kind: 'none' }],
    [
      'what the room loses and this student never did',
      { reps: n(12), others: room((student) => lost(14, 'turn', 'square', { student, partner: 'ada' })) },
      noCorrection,
    ],
    [
      'a fundamental that breaks as often as what depends on it',
      { reps: [...lost(16, 'turn', 'square'), ...lost(14, 'weight', 'floating'), ...n(4)] },
      { kind: 'correct', checkpoint: 'turn' },
    ],
    [
      'a fundamental that mostly holds',
      { reps: [...lost(3, 'turn', 'square'), ...lost(16, 'weight', 'floating'), ...n(11)] },
      { kind: 'correct', checkpoint: 'weight' },
    ],
    [
      'a declined one',
      {
        reps: [...lost(10, 'grip', 'shallow'), ...lost(9, 'weight', 'floating'), ...n(4)],
        known: { declined: new Set(['grip']) },
      },
      { kind: 'correct', checkpoint: 'weight' },
    ],
    [
      'a grip that is lost later, under weight',
      { reps: [...lost(8, 'weight', 'slips'), ...n(4)] },
      { kind: 'correct', checkpoint: 'grip', symptom: 'weight', mistake: 'slips' },
    ],
    [
      'a turn that is lost at the finish',
      { reps: [...lost(9, 'squeeze', 'short'), ...n(5)] },
      { kind: 'correct', checkpoint: 'turn', symptom: 'squeeze', mistake: 'short' },
    ],
    [
      'six lost by a mistake, twenty by a defence at the same place',
      { reps: [...lost(6, 'lock', 'loose'), ...lost(20, 'lock', 'peel'), ...n(10)] },
      { kind: 'correct', checkpoint: 'lock', defence: 'peel', mistake: null },
    ],
    [
      'twenty lost by a mistake, six by a defence',
      { reps: [...lost(20, 'lock', 'loose'), ...lost(6, 'lock', 'peel'), ...n(10)] },
      { kind: 'correct', checkpoint: 'lock', mistake: 'loose', defence: null },
    ],
  ])('%s', (_, situation, expected) => {
    expect(coached(situation)).toMatchObject(expected);
  });
});

describe('the rung', () => {
  const rungOf = (situation: Situation) => corrected(situation).dose.rung;
  test('is lower where it holds one time in four at the second', () => {
    expect(rungOf({ reps: [...lost(9, 'grip', 'shallow'), ...n(3)] })).toBe(1);
  });
  test('stays where it holds two of three', () => {
    expect(rungOf({ reps: [...lost(10, 'turn', 'square'), ...n(22)] })).toBe(2);
  });
  test('goes by the root, also where fewer are lost later than here', () => {
    // The grip holds eight of ten when it is passed; half is lost by it in the end.
    const reps = [...lost(6, 'grip', 'shallow'), ...lost(9, 'weight', 'slips'), ...n(15)];
    const { dose, checkpoint } = corrected({ reps });
    expect([checkpoint, dose.rung]).toEqual(['grip', 1]);
  });
  test('is never two above what was tried', () => {
    const reps = [...lost(16, 'turn', 'square', { rung: 1 }), ...n(34, { rung: 1 })];
    expect(rungOf({ reps })).toBeLessThanOrEqual(2);
  });
  test('is never above what the house allows', () => {
    const reps = [...lost(9, 'turn', 'square', { rung: 3 }), ...n(25, { rung: 3 })];
    expect(rungOf({ reps, known: { may: (rung) => rung <= 1 } })).toBeLessThanOrEqual(1);
  });
  test('is never free sparring', () => {
    const reps = [...lost(14, 'turn', 'square', { rung: 4 }), ...n(20, { rung: 4 })];
    expect(rungOf({ reps })).toBeLessThanOrEqual(3);
  });
  test('is higher once it is signed off at this one', () => {
    const reps = [...n(30), ...lost(20, 'turn', 'square', { rung: 3 }), ...n(8, { rung: 3 })];
    const known = { signedOff: new Map([['turn', { right: 2 as const, left: 2 as const }]]) };
    const others = room((student) =>
      strangle.checkpoints.flatMap(({ id }) => lost(4, id, undefined, { student, partner: 'ada', rung: 3 })),
    );
    expect(rungOf({ reps, known, others })).toBe(3);
  });
});

describe('the span and the dose', () => {
  const late = [...lost(9, 'squeeze', 'short'), ...n(5)];
  const known = { load: load(neckFinish) };
  test('begins at the checkpoint where fewer than half get there', () => {
    const reps = [
      ...lost(14, 'grip', 'shallow'),
      ...lost(12, 'weight', 'floating', { from: 'turn' }),
      ...n(2),
    ];
    const found = corrected({ reps, known: { declined: new Set(['grip']) } });
    expect([found.checkpoint, spanOf(found)[0]]).toEqual(['weight', 5]);
  });
  test('ends before the finish where the neck would be loaded too often, for what shows earlier', () => {
    const found = corrected({ reps: [...lost(9, 'grip', 'shallow'), ...n(5)], known });
    expect(spanOf(found)[1]).toBeLessThan(6);
    expect(repsOf(found)).toBe(40);
    expect(found.proof).toMatchObject({ by: 'dose', shows: 'grip' });
  });
  test('goes as far as the place where the failure shows', () => {
    const found = corrected({ reps: [...lost(8, 'weight', 'slips'), ...n(4)], known });
    expect(spanOf(found)[1]).toBeGreaterThanOrEqual(5);
    expect(found.proof).toMatchObject({ by: 'dose', shows: 'weight' });
  });
  test('is for learning where the dose may not go so far, and a few reps test it', () => {
    const found = corrected({ reps: late, known });
    expect(spanOf(found)[1]).toBe(5);
    expect(found.proof).toMatchObject({ by: 'test', shows: 'squeeze' });
    if (found.proof.by === 'test') expect(found.proof.reps).toBeLessThanOrEqual(neutralRules.caps.neck);
  });
  test('cannot be signed off by reps where nobody may be loaded, and says by which sign', () => {
    const found = corrected({ reps: late, known: { ...known, may: (rung) => rung === 0 } });
    expect(found.dose.rung).toBe(0);
    expect(found.proof).toMatchObject({ by: 'sign', sign: { by: 'feel' } });
    expect(wordsOf({ reps: late, known: { ...known, may: (rung) => rung === 0 } }).how).toContain(
      'cannot be signed off by reps',
    );
  });
  test('is measured where the checkpoint can be measured', () => {
    const of = edit((draft) => {
      draft.checkpoints[3]!.tolerance = {
        quantity: 'angle',
        unit: 'degrees',
        low: 40,
        high: 60,
        between: 'hips',
      };
      draft.checkpoints[3]!.proofs.push({ by: 'measure', text: 'from above' });
    });
    const found = corrected({ reps: late, of, known: { ...known, may: (rung) => rung === 0 } });
    expect(found.proof).toMatchObject({ by: 'sign', sign: { by: 'measure' } });
  });
  test('is as small as the cap where the finish itself is corrected', () => {
    const found = corrected({ reps: [...lost(9, 'squeeze', 'arms-only'), ...n(5)], known });
    expect(repsOf(found)).toBeLessThanOrEqual(2 * neutralRules.caps.neck);
    expect(found.proof).toMatchObject({ by: 'dose', shows: 'squeeze' });
  });
  test('is not cut by a shoulder that is lightly loaded on the way', () => {
    const technique: Technique = {
      ...neckFinish,
      loads: [{ region: 'shoulder', whom: 'partner', from: 'grip', how: 'light' }],
    };
    const found = corrected({
      reps: [...lost(9, 'turn', 'square'), ...n(5)],
      known: { load: load(technique), drills: [] },
    });
    expect([repsOf(found), spanOf(found)[1]]).toEqual([40, 6]);
  });
  test('is not cut by the student’s own knee', () => {
    const technique: Technique = {
      ...neckFinish,
      loads: [{ region: 'knee', whom: 'student', from: 'base', how: 'light' }],
    };
    const found = corrected({
      reps: [...lost(9, 'turn', 'square'), ...n(5)],
      known: { load: load(technique), drills: [] },
    });
    expect(repsOf(found)).toBe(40);
  });
  test('is cut by a firm load where the house counts it', () => {
    const technique: Technique = {
      ...neckFinish,
      loads: [{ region: 'shoulder', whom: 'partner', from: 'weight', how: 'firm' }],
    };
    const reps = [...lost(9, 'turn', 'square'), ...n(5)];
    expect(spanOf(corrected({ reps, known: { load: load(technique), drills: [] } }))[1]).toBe(6);
    const counted = { load: load(technique, { counts: ['finish', 'firm'] }), drills: [] };
    expect(spanOf(corrected({ reps, known: counted }))[1]).toBe(4);
  });
  test('loads nobody alone', () => {
    const found = corrected({
      reps: [...lost(9, 'squeeze', 'arms-only'), ...n(5)],
      known: { ...known, may: (rung) => rung === 0 },
    });
    expect([found.dose.rung, repsOf(found)]).toEqual([0, 40]);
  });
  test('is on the other side alone where one is signed off', () => {
    const reps = [...lost(10, 'turn', 'square', { side: 'left' }), ...n(6, { side: 'left' }), ...n(10)];
    const found = corrected({ reps, known: { signedOff: new Map([['turn', { right: 2 as const }]]) } });
    expect(found.dose).toMatchObject({ sides: 'left', first: 'left' });
  });
  test('begins with the side that is surely worse', () => {
    const reps = [...lost(14, 'turn', 'square', { side: 'left' }), ...n(4, { side: 'left' }), ...n(18)];
    expect(corrected({ reps }).dose).toMatchObject({ sides: 'both', first: 'left' });
  });
  test('has the minutes that its reps take', () => {
    const found = corrected({ reps: [...lost(9, 'turn', 'square'), ...n(5)] });
    const seconds = (drillOf(found)!.minutes * 60) / 40;
    expect(found.minutes).toBe(Math.max(1, Math.round((repsOf(found) * seconds) / 60)));
  });
});

describe('the drill', () => {
  const grip = [...lost(9, 'grip', 'shallow'), ...n(3)];
  test('is the mistake’s own before any other', () => {
    const own = aDrill('wall-and-arm', { kind: 'shadow', rungs: { low: 0, high: 3 } });
    const of = edit((draft) => void (draft.mistakes[1]!.drills = ['wall-and-arm']));
    expect(corrected({ reps: grip, of, known: { drills: [...shippedDrills, own] } }).drill).toBe(
      'wall-and-arm',
    );
  });
  test('is the mistake’s own words where the library has none of that name', () => {
    const of = edit((draft) => void (draft.mistakes[1]!.drills = ['Arm to the far shoulder, ten times']));
    expect(corrected({ reps: grip, of }).drill).toBeNull();
    expect(wordsOf({ reps: grip, of }).how).toContain('Drill: Arm to the far shoulder, ten times');
  });
  test.each<[string, object, Rep[]]>([
    [
      'free hands, where hands must hold',
      { needs: ['free hands'], trains: { checkpoints: part('grip') } },
      grip,
    ],
    [
      'one arm, where two must hold',
      { needs: ['one arm'], trains: { checkpoints: part('lock') } },
      [...lost(9, 'lock', 'loose'), ...n(3)],
    ],
    [
      'a still partner, at the second rung',
      { needs: ['still partner'], rungs: { low: 0, high: 4 }, trains: { checkpoints: part('turn') } },
      [...lost(10, 'turn', 'square'), ...n(22)],
    ],
    [
      'a defence, with a still partner',
      { needs: ['a defence'], rungs: { low: 0, high: 4 }, trains: { checkpoints: part('grip') } },
      grip,
    ],
    ['to fail on purpose', { needs: ['failing on purpose'], trains: { checkpoints: part('grip') } }, grip],
  ])('is none that needs %s', (_, fields, reps) => {
    const drill = aDrill('wrong-one', fields);
    expect(corrected({ reps, known: { drills: [drill] } }).drill).toBeNull();
  });
});

describe('where a defence ends it', () => {
  const framed = [...lost(10, 'grip', 'frame'), ...n(5)];
  test('the first answer is named, and it is said that nobody knows which works best', () => {
    expect(corrected({ reps: framed }).answer).toMatchObject({ answer: 'swim', known: null });
    expect(wordsOf({ reps: framed }).how).toMatch(/Swim inside.*the first that is recorded/s);
  });
  test('the answer that works best here is named, with its n', () => {
    const answers = new Map([
      [
        'frame',
        [
          { answer: 'swim', tried: 9, worked: 1 },
          { answer: 'lift', tried: 10, worked: 8 },
        ],
      ],
    ]);
    expect(corrected({ reps: framed, known: { answers } }).answer).toMatchObject({ answer: 'lift' });
    expect(wordsOf({ reps: framed, known: { answers } }).how).toContain(
      'Lift the elbow. It worked 8 of 10 times here.',
    );
  });
  test('the drill is one of answers, and the partner has the defence’s task', () => {
    const found = corrected({ reps: [...lost(12, 'grip', 'frame'), ...n(22)] });
    expect(drillOf(found)?.trains.answers).toBe(true);
    expect(wordsOf({ reps: framed }).how).toContain('Partner: Play the frame at half strength.');
  });
  test('without an answer the correction is to teach one, and that is said first', () => {
    const peeled = { reps: [...lost(10, 'lock', 'peel'), ...n(5)] };
    expect(corrected(peeled).answer).toEqual({ defence: 'peel', answer: null, known: null });
    expect(wordsOf(peeled).what).toMatch(/^Ada: teach an answer to “The peel” first/);
  });
});

describe('the numbers', () => {
  test('count only reps that went as far as where the failure shows', () => {
    const reps = [...lost(8, 'weight', 'slips'), ...lost(7, 'turn', 'square'), ...n(4)];
    const found = corrected({ reps, known: { declined: new Set(['turn']) } });
    // Seven stopped before the grip could slip: they say nothing of it.
    expect(found).toMatchObject({ checkpoint: 'grip', reached: 12, failed: 8, failedHere: 0 });
  });
  test('leave out what nobody tagged, and ask for the tag', () => {
    const of = edit((draft) => {
      draft.mistakes = draft.mistakes.filter(({ id }) => id !== 'floating');
      draft.defences = [];
    });
    const reps = [...lost(6, 'weight', 'slips'), ...lost(5, 'weight'), ...n(6)];
    expect(corrected({ reps, of })).toMatchObject({ checkpoint: 'grip', reached: 12, failed: 6, open: 5 });
    expect(wordsOf({ reps, of }).why).toContain('5 later stops may belong here too: tag their causes.');
  });
  test('are a share of what was counted; what the model thinks is said apart', () => {
    const { why } = wordsOf({ reps: [...lost(8, 'weight', 'slips'), ...n(4)] });
    expect(why).toContain('8 of 12 reps that show it were lost because of 2 (67 %): 0 there and 8 later.');
    expect(why).not.toMatch(/now \d+ %/);
  });
});
