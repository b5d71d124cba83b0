import { describe, expect, test } from '@jest/globals';
import { neutralRules, permit } from '../care';
import { critique } from './critique';
import { BreakdownFile } from '../formats';
import { newStudent } from '../people';
import text from '../test/situations.json' with { type: 'json' };
import { type Pairing, variantsFor } from '../variants';
import {
  type Breakdown,
  defencesOpenAt,
  doorsOf,
  fundamentalsOf,
  type Id,
  type Technique,
  toleranceWords,
} from '.';

/**
 * Twenty-one situations of practice as short breakdowns, in a file of the format in which breakdowns come and go. They are for
 * this test alone: nobody should learn a lock from them. Of each it says what is data, and not words that nothing reads.
 */
const file = BreakdownFile.parse(text);
const library = new Map(file.techniques.map((one) => [one.technique.id, one]));
const pointsOf = (id: Id): Id[] | null =>
  library.get(id)?.editions[0]?.checkpoints.map((one) => one.id) ??
  (id === 'arm-under-strangle' ? ['grip'] : null);

const pairing = (more: Partial<Pairing> = {}): Pairing => ({
  student: null,
  partner: null,
  attire: 'either',
  chosen: new Set(),
  reach: null,
  ...more,
});
const somebody = (more: Parameters<typeof newStudent>[0] | object = {}) => newStudent({ id: 'one', ...more });

interface Said {
  technique: Technique;
  breakdown: Breakdown;
}
const at = ({ breakdown }: Said, id: Id) => breakdown.checkpoints.find((one) => one.id === id)!;
const against = ({ breakdown }: Said, id: Id) => breakdown.defences.find((one) => one.id === id)!;
const waysFor = ({ breakdown }: Said, more: Partial<Pairing>): Id[] =>
  variantsFor(breakdown, pairing(more)).map(({ variant }) => variant.id);
const schoolsAt = (said: Said, id: Id): string[] =>
  at(said, id).variants.flatMap(({ when }) => (when.on === 'school' ? [when.school] : []));

const says: Readonly<Record<Id, (said: Said) => void>> = {
  'leg-frame-strangle': (said) => {
    expect(waysFor(said, { reach: { margin: -2, error: 0, estimated: false } })).toEqual(['too-short']);
    expect(waysFor(said, { reach: { margin: 3, error: 0, estimated: false } })).toEqual([]);
    expect(fundamentalsOf(said.breakdown, 'closed')).toEqual(['head-off']);
    expect(toleranceWords(at(said, 'sideways').tolerance!)).toBe('60 to 120 degrees: thigh and shin');
    expect(against(said, 'arm-inside').answers).toMatchObject([
      { do: 'switch', technique: 'arm-under-strangle', enteredAt: 'grip' },
    ]);
  },
  'cloth-strangle': (said) => {
    expect(fundamentalsOf(said.breakdown, 'fetched')).toEqual(['slack']);
    expect(schoolsAt(said, 'fetched')).toEqual(['cloth to the hand', 'hand to the cloth']);
    expect(at(said, 'fetched').variants[1]).toMatchObject({ ruleTags: ['spinal'] });
    expect(at(said, 'swapped').tolerance).toMatchObject({ quantity: 'share', low: 90 });
    expect(at(said, 'tight').variants.map(({ when }) => when.on)).toEqual(Array(3).fill('situation'));
  },
  'stage-by-stage': (said) => {
    const open = (id: Id) => defencesOpenAt(said.breakdown, id).map((one) => one.id);
    expect([open('posture'), open('on-top')]).toEqual([['keep-away'], ['roll-over']]);
    expect(against(said, 'keep-away')).toMatchObject({ type: 'prevention', becomes: 'roll-over' });
    expect(against(said, 'roll-over').leaves).toEqual({ position: 'Full mount', ahead: 'partner' });
  },
  'one-grip-armlock': (said) => {
    expect(at(said, 'deep-hook')).toMatchObject({
      belief: 80,
      window: { opens: 'while they rear back', closes: 'when they sit down again' },
    });
    expect(toleranceWords(at(said, 'hips-turned').tolerance!)).toMatch(/^at least 30 degrees/);
    expect(said.breakdown.mistakes.flatMap(({ drills }) => drills)).toHaveLength(1);
  },
  'baited-control': (said) => {
    expect(fundamentalsOf(said.breakdown, 'hips')).toEqual(['elbow']);
    const doors = doorsOf(said.breakdown);
    expect(doors.filter(({ answers }) => answers === 'takes-it')).toMatchObject([
      { technique: 'baited-control', enteredAt: 'elbow', otherSide: true },
    ]);
    expect(against(said, 'takes-it').answers[0]).toMatchObject({ bait: true });
    expect(doors.filter(({ answers }) => answers === null).map(({ heldTo }) => heldTo)).toEqual([
      'elbow',
      'hips',
      'settled',
    ]);
  },
  'from-behind-by-stages': (said) => {
    expect(said.technique.loads).toEqual([{ region: 'neck', whom: 'student', from: null }]);
    expect(at(said, 'moved-with')).toMatchObject({ together: 'far-end', withinSeconds: 2 });
    expect(said.breakdown.mistakes[0]).toMatchObject({ root: 'far-end', at: 'moved-with' });
    expect(said.breakdown.mistakes[0]!.believes).not.toBe('');
    expect(against(said, 'second-hand')).toMatchObject({ underLoadOnly: true, type: 'last ditch' });
  },
  'weakest-link-armlock': (said) => {
    expect(at(said, 'knees').variants.map(({ when }) => when)).toEqual([
      { on: 'situation', situation: 'they stack you' },
    ]);
    expect(said.breakdown.entries!.map(({ joinsAt }) => joinsAt)).toEqual(['at-the-wrist', 'knees']);
    expect(toleranceWords(at(said, 'thumb-up').tolerance!)).toBe(
      'at most 20 degrees: the thumb and the ceiling',
    );
  },
  'three-door-strangle': (said) => {
    expect(said.breakdown.entries!.map(({ from }) => from)).toEqual([
      'Collar tie',
      'Neutral tie',
      'Open guard',
    ]);
    expect(at(said, 'closed').proofs.filter(({ shows }) => shows === 'broken')).toHaveLength(1);
    expect(toleranceWords(at(said, 'fallen').tolerance!)).toBe('your hip outside the line of their spine');
  },
  'shoulder-lock-as-control': (said) => {
    expect(at(said, 'wrist').proofs.map(({ by }) => by)).toEqual(['feel', 'ask']);
    const [short, tall] = [somebody({ statureCm: 160 }), somebody({ statureCm: 185 })];
    expect(waysFor(said, { student: short, partner: tall })).toEqual(['short-arms']);
    expect(waysFor(said, { student: tall, partner: short })).toEqual(['long-arms']);
    expect(at(said, 'block-other').withinSeconds).toBe(1.5);
    expect(said.technique.loads).toContainEqual({ region: 'wrist', whom: 'partner', from: 'wrist' });
    expect(at(said, 'lifted').caution).toMatch(/slow motion/);
  },
  'rotation-of-the-leg': (said) => {
    const beginner = somebody({ experienceMonths: 3 });
    const may = (tags: Technique['ruleTags']) =>
      permit(beginner, somebody({ id: 'two' }), { ...said.technique, regions: [], ruleTags: tags }, 'drill', {
        rules: neutralRules,
        today: '2026-03-05',
      }).verdict;
    expect([may(said.technique.ruleTags), may([])]).toEqual(['not allowed', 'with care']);
    expect(against(said, 'hides')).toMatchObject({ type: 'prevention', opens: 'knee-line' });
    expect(against(said, 'hides').task).toMatch(/half strength/);
    const long = somebody({ handLengthCm: 20 });
    expect([waysFor(said, { student: long }), waysFor(said, {})]).toEqual([['hands'], []]);
  },
  'straight-knee': (said) => {
    // Common practice: lost at five to ten degrees of rotation, so five either way at most; held at mid-shin.
    expect(at(said, 'no-turn').tolerance).toMatchObject({ low: -5, high: 5 });
    expect(at(said, 'no-turn').proofs.filter(({ by }) => by === 'see')).toHaveLength(3);
    expect(at(said, 'mid-shin').tolerance).toMatchObject({ unit: 'percent of the limb from the joint' });
    const does = (activity: 'learn' | 'spar') =>
      permit(somebody({ experienceMonths: 3 }), null, said.technique, activity, {
        rules: neutralRules,
        today: '2026-03-05',
      }).verdict;
    expect([does('learn') === 'not allowed', does('spar')]).toEqual([false, 'not allowed']);
  },
  'rolling-collar': (said) => {
    expect(at(said, 'depth')).toMatchObject({ belief: 70, tolerance: { unit: 'finger widths', high: 2 } });
    expect(at(said, 'head-free').proofs.some(({ shows }) => shows === 'broken')).toBe(true);
    expect(said.breakdown.mistakes).toContainEqual(
      expect.objectContaining({ root: 'elbow-opened', at: 'head-free' }),
    );
  },
  'basic-hold': (said) => {
    expect(said.breakdown.mistakes.every(({ breaks }) => breaks !== '')).toBe(true);
    expect(schoolsAt(said, 'thumb')).toEqual(['thumb with', 'thumb without']);
    expect(fundamentalsOf(said.breakdown, 'held')).toEqual(['chest', 'thumb']);
  },
  'right-angle-lock': (said) => {
    // Common practice: about ninety degrees at the elbow, with the elbow below the line of the shoulders.
    expect(at(said, 'right-angle').tolerance).toMatchObject({ low: 80, high: 100 });
    expect(toleranceWords(at(said, 'elbow-low').tolerance!)).toBe(
      'their elbow below the line of the shoulders',
    );
    expect(doorsOf(said.breakdown)).toMatchObject([
      { technique: 'weakest-link-armlock', enteredAt: 'thumb-up' },
    ]);
  },
  'strangle-of-a-class': (said) => {
    expect(said.breakdown.mistakes[0]!.drills).toEqual(['Entry alone, ten each side, swap.']);
    // How much one checkpoint matters, and how often a neck is finished on in a class, have an answer.
    expect(said.breakdown.checkpoints.map(({ belief }) => belief)).toEqual([20, 50, 30]);
    expect(neutralRules.caps.neck).toBeGreaterThan(0);
    expect(at(said, 'finish').variants).toHaveLength(3);
    expect(
      doorsOf(said.breakdown)
        .map(({ technique }) => technique)
        .sort(),
    ).toEqual(['leg-frame-strangle', 'three-door-strangle']);
  },
  'muscle-lock': (said) => {
    expect(said.technique.ruleTags).toEqual(['slicer']);
    expect(at(said, 'shin-in').variants[0]!.ruleTags).toEqual(['reaping']);
    expect(said.breakdown.checkpoints.every(({ mendable }) => mendable?.backTo === 'knee-in')).toBe(true);
    expect(against(said, 'pops-out').answers).toMatchObject([{ do: 'retreat', to: 'Half guard' }]);
  },
  'many-exits': (said) => {
    expect(said.breakdown.entries).toHaveLength(3);
    const doors = doorsOf(said.breakdown);
    expect(doors.length).toBeGreaterThan(12);
    expect(doors.filter(({ unsafe }) => unsafe).map(({ technique }) => technique)).toEqual([
      'rotation-of-the-leg',
    ]);
    expect([said.breakdown.mistakes[0]!.at, schoolsAt(said, 'gap')]).toEqual(['gap', ['knee in']]);
  },
  'base-before-finish': (said) => {
    expect(fundamentalsOf(said.breakdown, 'finish')).toEqual(['three-points', 'head-low']);
    expect(toleranceWords(at(said, 'three-points').tolerance!)).toMatch(/^at least 3 times/);
    const { defences } = said.breakdown;
    expect(defences.map(({ type }) => type)).toEqual(['prevention', 'escape', 'counter', 'last ditch']);
    expect(defences.map(({ leaves }) => leaves.ahead)).toEqual([
      'neither',
      'neither',
      'attacker',
      'attacker',
    ]);
  },
  'square-hips': (said) => {
    expect(fundamentalsOf(said.breakdown, 'turned')).toEqual(['square', 'seam']);
    expect(at(said, 'seam').proofs.map(({ by }) => by)).toEqual(['feel']);
    expect(at(said, 'turned').tolerance).toMatchObject({ low: 30, high: 90 });
    expect(at(said, 'on-shoulder').proofs.map(({ by }) => by)).toEqual(['ask']);
  },
  'safety-net': (said) => {
    expect(at(said, 'wrist-bone').window!.opens).toBe('when they duck the head');
    expect(toleranceWords(at(said, 'wrist-bone').tolerance!)).toBe(
      '1 to 2 finger widths: wrist bone and windpipe',
    );
    expect(toleranceWords(at(said, 'same-side').tolerance!)).toBe(
      'their body on the same side as your strangling arm',
    );
    expect(against(said, 'peels').answers).toMatchObject([{ do: 'mend', at: 'hidden' }]);
  },
  'flexible-or-not': (said) => {
    const [loose, light] = [somebody({ hipMobility: 'high', massKg: 60 }), somebody({ massKg: 90 })];
    expect(waysFor(said, { student: loose, partner: light })).toEqual(['loose', 'heavy']);
    expect(at(said, 'foot-across').variants[0]!.caution).toMatch(/knee/);
    expect(schoolsAt(said, 'hips')).toEqual(['hips out', 'hips in']);
    expect(at(said, 'over').withinSeconds).toBe(3);
    expect(said.technique.loads).toContainEqual({ region: 'knee', whom: 'student', from: 'foot-across' });
  },
};

describe('situations of practice', () => {
  test('are twenty-one, each with what is said of it', () => {
    expect([...library.keys()].sort()).toEqual(Object.keys(says).sort());
    expect(library.size).toBe(21);
  });

  test.each(Object.keys(says))('%s can be written down, and nothing of it is cried wolf about', (id) => {
    const { technique, editions } = library.get(id)!;
    const breakdown = editions[0]!;
    says[id]!({ technique, breakdown });
    // They are short: that a kind is missing is the one thing that may be said of them.
    const found = critique(breakdown, technique, pointsOf);
    expect(found.filter(({ text: words }) => !/^No \w+ checkpoint\. Needed\?$/.test(words))).toEqual([]);
  });

  test('are read whole: nothing of the file is dropped without a word', () => {
    expect(file).toEqual(text);
  });
});
