import { expect, test } from '@jest/globals';
import { shippedDrills } from '../drills';
import { newStudent } from '../people';
import { plainReading } from '../reading';
import { aRep, plainBreakdown, questionOf } from '../test';
import { pairingOf } from '../variants';
import { type DecisionContext, prescribe, prescriptionWords, whyWords } from '.';

const breakdown = plainBreakdown(5);
breakdown.checkpoints[2]!.variants = [
  {
    id: 'stiff',
    name: 'Shin across first',
    when: { on: 'body', fact: 'hip mobility', is: '=', value: 'low' },
    criterion: 'The {right} shin lies across before the hips turn.',
  },
  { id: 'school', name: 'As the old room does it', when: { on: 'school', school: 'old' } },
];
const one = shippedDrills.find(({ kind }) => kind === 'isolation')!;
const plain = {
  ...one,
  rungs: { low: 0 as const, high: 3 as const },
  trains: { ...one.trains, kinds: [breakdown.checkpoints[2]!.kind] },
};
const made = {
  ...plain,
  id: 'shin-first',
  title: 'Shin first, ten times',
  kind: 'constraint' as const,
  trains: { ...plain.trains, kinds: [], ways: [{ technique: breakdown.technique, id: 'stiff' }] },
};
const reps = [
  ...Array.from({ length: 9 }, () => aRep({ stop: 'c3' })),
  ...Array.from({ length: 5 }, () => aRep()),
];
const reading = plainReading(questionOf(breakdown, reps)).students[0]!;

function told(hipMobility: 'low' | 'high' | null, pairing = true) {
  const student = newStudent({ id: 'ada', hipMobility });
  const known: DecisionContext = {
    mainSide: 'right',
    drills: [plain, made],
    ...(pairing && {
      pairing: pairingOf({ attire: 'either' }, student, null),
    }),
  };
  const now = prescribe(breakdown, reading, known);
  if (now.kind !== 'correct') throw new Error('nine of fourteen are clear');
  return now;
}

test('the way that a body calls for is named with what is corrected, and drilled with what is made for it', () => {
  const stiff = told('low');
  expect(stiff).toMatchObject({ checkpoint: 'c3', way: 'stiff', drill: 'shin-first' });
  expect(prescriptionWords(breakdown, stiff, 'Ada', 'left').how).toMatch(
    /^This body calls for “Shin across first”: The left shin lies across/,
  );
  expect(whyWords(breakdown, stiff, 'left', [plain, made]).chosen).toContain('Shin first, ten times');
});

test('no way is named that nobody’s body calls for, or of which nothing is known', () => {
  for (const now of [told('high'), told(null), told('low', false)]) {
    expect(now).toMatchObject({ checkpoint: 'c3', way: null, drill: plain.id });
    expect(prescriptionWords(breakdown, now, 'Ada', 'right').how).not.toContain('calls for');
  }
});
