import { describe, expect, test } from '@jest/globals';
import { plainBreakdown } from '../../test';
import { type Draft, Technique, type Tolerance } from '..';
import { critique } from '.';
import { type Finding, publishable } from './rule';

const technique = Technique.parse({
  id: 'test-lock',
  name: 'Test lock',
  aliases: [],
  kind: 'submission',
  attire: 'either',
  startPosition: 'Guard',
  mechanism: 'rotation',
  regions: ['shoulder'],
  ruleTags: [],
  loadSpeed: 'fast',
  safetyNote: 'Slowly, and stop at the tap.',
});
const library = (id: string) => (id === 'other' ? ['o1', 'o2'] : null);

/** A breakdown in which nothing is wrong. */
function sound(): Draft {
  const draft = plainBreakdown(5);
  draft.checkpoints.forEach((one, i) => (one.criterion = `Your knee touches spot ${i + 1}.`));
  draft.defences.forEach(
    (one) => (one.answers = [{ do: 'mend', at: one.opens, how: 'Begin again.', bait: false }]),
  );
  return draft;
}
const find = (change: (draft: Draft) => void, of = technique): Finding[] => {
  const draft = sound();
  change(draft);
  return critique(draft, of, library);
};
/** A measure that is taken. */
const measured = (draft: Draft, tolerance: Tolerance) => {
  draft.checkpoints[0]!.tolerance = tolerance;
  draft.checkpoints[0]!.proofs.push({ by: 'measure', text: 'a goniometer' });
};
const one = (change: (draft: Draft) => void, of = technique): Finding => {
  const findings = find(change, of);
  expect(findings).toHaveLength(1);
  return findings[0]!;
};

describe('the critique', () => {
  test('finds nothing in a sound breakdown', () => {
    expect(find(() => undefined)).toEqual([]);
  });

  test.each<[string, (draft: Draft) => void, Partial<Omit<Finding, 'text'>>, RegExp]>([
    [
      'a checkpoint without a proof',
      (d) => (d.checkpoints[1]!.proofs = []),
      { severity: 'error', path: ['checkpoints', 1, 'proofs'] },
      /add what you see/,
    ],
    [
      'no criterion',
      (d) => (d.checkpoints[2]!.criterion = ' '),
      { severity: 'error', path: ['checkpoints', 2, 'criterion'] },
      /say one thing that is true/,
    ],
    ['no title', (d) => (d.checkpoints[2]!.title = ''), { severity: 'error' }, /say it as a short order/],
    [
      'an unobservable criterion',
      (d) => (d.checkpoints[0]!.criterion = 'Good base.'),
      { severity: 'warning' },
      /Not observable/,
    ],
    [
      'two statements in one',
      (d) => (d.checkpoints[0]!.criterion = 'Your knee touches the floor and your hand holds the wrist.'),
      { severity: 'warning' },
      /Two statements/,
    ],
    [
      'beliefs that are no whole',
      (d) => (d.checkpoints[0]!.belief = 30),
      { severity: 'error', path: ['checkpoints'] },
      /add up to 110/,
    ],
    [
      'a kind with no checkpoint',
      (d) => (d.checkpoints[4]!.kind = 'pressure'),
      { severity: 'warning' },
      /No finish checkpoint/,
    ],
    [
      'a root after its symptom',
      (d) => (d.mistakes[0]!.root = 'c4'),
      { severity: 'error', path: ['mistakes', 0, 'root'] },
      /starts at 4 and shows at 1/,
    ],
    [
      'a weighty checkpoint without a mistake',
      (d) => {
        d.mistakes = d.mistakes.slice(1);
        d.checkpoints.forEach((one, i) => (one.belief = i === 0 ? 40 : 15));
      },
      { severity: 'warning', path: ['checkpoints', 0, 'belief'] },
      /40 of 100/,
    ],
    [
      'a variant of no school',
      (d) =>
        (d.checkpoints[1]!.variants = [
          { id: 'v', name: 'Low', when: { on: 'school', school: ' ' }, criterion: 'Your knee is low.' },
        ]),
      { severity: 'error', path: ['checkpoints', 1, 'variants', 0, 'when', 'school'] },
      /names no school/,
    ],
    [
      'a defence that ends nowhere',
      (d) => (d.defences[1]!.leaves.position = ''),
      { severity: 'warning', path: ['defences', 1, 'leaves', 'position'] },
      /where both end up/,
    ],
    [
      'a defence without an answer',
      (d) => (d.defences[1]!.answers = []),
      { severity: 'warning', path: ['defences', 1, 'answers'] },
      /No answer/,
    ],
    [
      'a defence that closes before it opens',
      (d) => (d.defences[2]!.closes = 'c1'),
      { severity: 'error', path: ['defences', 2, 'closes'] },
      /It closes \(1\) before it opens \(3\)/,
    ],
    [
      'a switch into nothing',
      (d) => (d.defences[0]!.answers = [{ do: 'switch', technique: 'gone', how: 'Go.', bait: false }]),
      { severity: 'error', path: ['defences', 0, 'answers', 0, 'technique'] },
      /no technique "gone"/,
    ],
    [
      'a switch into a checkpoint that is not there',
      (d) =>
        (d.defences[0]!.answers = [
          { do: 'switch', technique: 'other', enteredAt: 'o9', how: 'Go.', bait: false },
        ]),
      { severity: 'error' },
      /no checkpoint "o9"/,
    ],
    [
      'a tolerance the wrong way round',
      (d) =>
        measured(d, {
          quantity: 'angle',
          unit: 'degrees',
          low: 9,
          high: 3,
          between: 'a and b',
        }),
      { severity: 'error' },
      /From 9 to 3 is empty/,
    ],
    [
      'a tolerance that cannot be',
      (d) => measured(d, { quantity: 'angle', unit: 'degrees', low: -400, high: 3, between: 'a and b' }),
      { severity: 'error', path: ['checkpoints', 0, 'tolerance', 'low'] },
      /-400 degrees is out of range/,
    ],
    [
      'a share over the whole',
      (d) => measured(d, { quantity: 'share', unit: 'percent', low: 0, high: 500, between: 'a and b' }),
      { severity: 'error', path: ['checkpoints', 0, 'tolerance', 'high'] },
      /500 percent is out of range/,
    ],
    [
      'a unit that does not fit',
      (d) =>
        measured(d, {
          quantity: 'angle',
          unit: 'seconds',
          low: 1,
          high: 3,
          between: 'a and b',
        }),
      { severity: 'error' },
      /not measured in seconds: use degrees/,
    ],
    [
      'a bare side word',
      (d) => (d.mistakes[3]!.cue = 'Take the left hand.'),
      { severity: 'warning', path: ['mistakes', 3, 'cue'] },
      /\{left\}/,
    ],
    [
      'the same text twice',
      (d) => (d.checkpoints[3]!.criterion = 'your knee touches spot 1'),
      { severity: 'warning', path: ['checkpoints', 3, 'criterion'] },
      /Checkpoint 1 says the same/,
    ],
    [
      'harm in an answer',
      (d) =>
        (d.defences[0]!.answers = [{ id: 'a', do: 'mend', at: 'c1', how: 'Crank the neck.', bait: false }]),
      { severity: 'error', path: ['defences', 0, 'answers', 0, 'how'] },
      /“crank” asks for force or speed/,
    ],
    [
      'one id for two variants',
      (d) =>
        [0, 1].forEach(
          (i) =>
            (d.checkpoints[i]!.variants = [
              { id: 'same', name: 'One', when: { on: 'school', school: `s${i}` }, criterion: 'It is there.' },
            ]),
        ),
      { severity: 'error', path: ['checkpoints', 1, 'variants', 0] },
      /“?The id "same" is used twice/,
    ],
    [
      'a condition of the wrong type',
      (d) =>
        (d.checkpoints[0]!.variants = [
          {
            id: 'v',
            name: 'V',
            when: { on: 'body', fact: 'hip mobility', is: '<', value: 3 },
            criterion: 'It is there.',
          },
        ]),
      { severity: 'error', path: ['checkpoints', 0, 'variants', 0, 'when', 'value'] },
      /low, middle or high/,
    ],
    [
      'a reach that nobody can work out',
      (d) =>
        (d.checkpoints[0]!.variants = [
          {
            id: 'v',
            name: 'V',
            when: { on: 'body', fact: 'reach margin', is: '<', value: 3 },
            criterion: 'It is there.',
          },
        ]),
      { severity: 'warning', path: ['checkpoints', 0, 'variants', 0, 'when', 'fact'] },
      /the technique has no reach/,
    ],
    [
      'two bodies that one may have',
      (d) =>
        (d.checkpoints[0]!.variants = [3, 5].map((value) => ({
          id: `v${value}`,
          name: 'V',
          when: { on: 'body', fact: 'leg length', is: '<', value },
          criterion: `Point ${value} is there.`,
        }))),
      { severity: 'warning', path: ['checkpoints', 0, 'variants', 1, 'when'] },
      /variant 1: the nearer one is taken/,
    ],
    [
      'a wait for what comes together',
      (d) => (d.checkpoints[1]!.together = 'c1'),
      { severity: 'error', path: ['checkpoints', 1, 'together'] },
      /waits for the other/,
    ],
    [
      'a switch to itself',
      (d) =>
        (d.defences[0]!.answers = [
          { id: 'a', do: 'switch', technique: d.technique, how: 'Again.', bait: false },
        ]),
      { severity: 'warning', path: ['defences', 0, 'answers', 0, 'technique'] },
      /this same technique/,
    ],
    [
      'squeezing harder',
      (d) => (d.mistakes[0]!.cue = 'Squeeze harder.'),
      { severity: 'error', path: ['mistakes', 0, 'cue'] },
      /asks for force or speed/,
    ],
    [
      'speed in a drill',
      (d) => (d.mistakes[0]!.drills = ['Ten each side.', 'Jerk the arm straight.']),
      { severity: 'error', path: ['mistakes', 0, 'drills', 1] },
      /“jerk” asks for force or speed/,
    ],
    [
      'force in a criterion',
      (d) => (d.checkpoints[1]!.criterion = 'Your hands pull the head down as hard as they can.'),
      { severity: 'error', path: ['checkpoints', 1, 'criterion'] },
      /force or speed/,
    ],
    [
      'an opinion',
      (d) => (d.checkpoints[1]!.criterion = 'Your grip is really good.'),
      { severity: 'warning', path: ['checkpoints', 1, 'criterion'] },
      /“really good” is an opinion/,
    ],
    [
      'a measure without a sign',
      (d) =>
        (d.checkpoints[1]!.tolerance = {
          quantity: 'angle',
          unit: 'degrees',
          low: 0,
          high: 30,
          between: 'a and b',
        }),
      { severity: 'warning', path: ['checkpoints', 1, 'proofs'] },
      /no sign that measures it/,
    ],
    [
      'a window without an end',
      (d) => (d.checkpoints[1]!.window = { opens: 'as the partner rears back', closes: ' ' }),
      { severity: 'warning', path: ['checkpoints', 1, 'window', 'closes'] },
      /when it closes/,
    ],
    [
      'an entry without a way in',
      (d) => (d.entries = [{ id: 'e', from: 'Half guard', joinsAt: 'c2', how: '' }]),
      { severity: 'warning', path: ['entries', 0, 'how'] },
      /does not say how/,
    ],
    [
      'a variant that changes nothing',
      (d) => (d.checkpoints[1]!.variants = [{ id: 'v', name: 'Low', when: { on: 'attire', attire: 'gi' } }]),
      { severity: 'warning', path: ['checkpoints', 1, 'variants', 0] },
      /changes nothing/,
    ],
    [
      'two variants of one case',
      (d) =>
        (d.checkpoints[1]!.variants = ['Your knee is low.', 'Your knee is high.'].map((criterion, i) => ({
          id: `v${i}`,
          name: 'Way',
          when: { on: 'attire', attire: 'gi' },
          criterion,
        }))),
      { severity: 'warning', path: ['checkpoints', 1, 'variants', 1, 'when'] },
      /Variant 1 has the same condition/,
    ],
    [
      'a way back to a later checkpoint',
      (d) => (d.checkpoints[1]!.mendable = { backTo: 'c4' }),
      { severity: 'error', path: ['checkpoints', 1, 'mendable'] },
      /fixed from 4, which comes later/,
    ],
    [
      'a defence that becomes itself',
      (d) => (d.defences[0]!.becomes = 'd1'),
      { severity: 'error', path: ['defences', 0, 'becomes'] },
      /turns into itself/,
    ],
    [
      'a crank without its tag',
      (d) => (d.checkpoints[3]!.criterion = 'Your elbows are set for the crank.'),
      { severity: 'warning', path: ['technique', 'ruleTags'] },
      /“crank” sounds like the tag “neck crank”/,
    ],
    [
      'an exit to nowhere',
      (d) => (d.exits = [{ id: 'x', at: 'c2', technique: 'gone', how: 'Go.', unsafe: false }]),
      { severity: 'error' },
      /no technique "gone"/,
    ],
    [
      'a defence that becomes nothing',
      (d) => (d.defences[0]!.becomes = 'gone'),
      { severity: 'error' },
      /turns into a defence that is not here/,
    ],
  ])('finds %s', (_, change, wanted, text) => {
    const finding = one(change);
    expect(finding).toMatchObject(wanted);
    expect(finding.text).toMatch(text);
  });

  test('does not cry wolf where all is worth about the same, nor over a slight checkpoint without a proof', () => {
    expect(find((d) => (d.mistakes = []))).toEqual([]);
    expect(
      find((d) => {
        d.checkpoints.forEach((one, i) => (one.belief = i === 1 ? 4 : 24));
        d.checkpoints[1]!.proofs = [];
      }),
    ).toEqual([]);
    expect(find((d) => (d.mistakes[0]!.seen = 'No way left to breathe; what is left is the neck.'))).toEqual(
      [],
    );
  });

  test('sees what a technique as a whole leaves out', () => {
    const long = plainBreakdown(8);
    long.checkpoints.forEach((point, i) => (point.criterion = `Your knee touches spot ${i + 1}.`));
    const bare = { ...long, mistakes: [], defences: [] };
    expect(critique(bare, technique, library).map(({ text }) => text)).toEqual([
      expect.stringMatching(/No mistakes or defences yet/),
    ]);
    expect(find((d) => (d.checkpoints[0]!.kind = 'finish')).map(({ text }) => text)).toContainEqual(
      expect.stringMatching(/The first checkpoint is a finish/),
    );
    expect(one(() => undefined, { ...technique, regions: [] }).path).toEqual(['technique', 'regions']);
    expect(one(() => undefined, { ...technique, safetyNote: 'Be careful.' }).text).toMatch(
      /gives no instruction/,
    );
    expect(one(() => undefined, { ...technique, mechanism: 'spinal' }).text).toMatch(
      /tag “spinal” is missing/,
    );
    expect(find(() => undefined, { ...technique, mechanism: 'spinal', ruleTags: ['spinal'] })).toEqual([]);
    expect(find(() => undefined, { ...technique, name: 'Double wristlock' })).toEqual([]);
    const cloth = (d: Draft) =>
      (d.checkpoints[1]!.variants = [
        {
          id: 'v',
          name: 'Cloth',
          when: { on: 'attire', attire: 'gi' },
          criterion: 'Your hand holds the cloth.',
        },
      ]);
    expect(one(cloth, { ...technique, attire: 'no-gi' })).toMatchObject({ severity: 'error' });
    expect(find(cloth)).toEqual([]);
  });

  test('finds an order that breaks an "after", and a circle', () => {
    const order = find((d) => d.checkpoints.reverse());
    expect(order.filter(({ text }) => /The order breaks/.test(text))).toHaveLength(4);
    const circle = find((d) => (d.checkpoints[0]!.after = ['c5']));
    expect(circle.some(({ text }) => /waits for itself/.test(text))).toBe(true);
    expect(publishable(circle)).toBe(false);
  });

  test('asks for a safety note where a technique is fast or restricted', () => {
    const silent = { ...technique, safetyNote: '' };
    expect(one(() => undefined, silent)).toMatchObject({
      severity: 'error',
      path: ['technique', 'safetyNote'],
    });
    const slow = { ...silent, loadSpeed: 'slow' as const };
    expect(one(() => undefined, slow).severity).toBe('warning');
    expect(find(() => undefined, { ...slow, kind: 'control' })).toEqual([]);
  });

  test('lets a right angle be, and words that are in tokens', () => {
    const texts = 'A right angle at the elbow; the {right} hand is near.';
    expect(find((d) => (d.mistakes[0]!.seen = texts))).toEqual([]);
  });

  test('of an empty draft asks for a first checkpoint, and does not fall over', () => {
    const findings = find((d) => Object.assign(d, { checkpoints: [], mistakes: [], defences: [] }));
    expect(findings).toHaveLength(1);
    expect(findings[0]!.text).toMatch(/add the first thing/);
  });
});
