import { describe, expect, test } from '@jest/globals';
import { plainReading } from '@ulkret/core/reading';
import { aRep, plainBreakdown, questionOf } from '../../core/test';
import { jointsOf } from './geometry';

const breakdown = plainBreakdown(5);
const reps = [
  ...Array.from({ length: 6 }, () => aRep({ stop: 'c1', cause: 'm1' })),
  ...Array.from({ length: 3 }, () => aRep({ stop: 'c1', cause: 'd1' })),
  ...Array.from({ length: 3 }, () => aRep({ stop: 'c1' })),
  ...Array.from({ length: 4 }, () => aRep({ stop: 'c4', cause: 'd4' })),
  ...Array.from({ length: 9 }, () => aRep()),
];
const reading = plainReading(questionOf(breakdown, reps)).squad;
const joints = jointsOf(reading.checkpoints);

describe('the strand of a reading', () => {
  test('loses at each knot just what frays off there', () => {
    for (const { arrives, goesOn, frays } of joints)
      expect(goesOn + frays.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(arrives, 10);
  });

  test('goes on below a knot as wide as it arrives at the next, and ends as wide as the finish odds', () => {
    joints.forEach(({ goesOn }, i) =>
      expect(goesOn).toBeCloseTo(joints[i + 1]?.arrives ?? reading.finishOdds.value, 10),
    );
  });

  test('frays to the left by mistakes and to the right by defences and the unknown, in proportion to the stops', () => {
    const [mistake, defence, unknown] = joints[0]!.frays;
    expect([mistake!.side, defence!.side, unknown!.side]).toEqual(['left', 'right', 'right']);
    expect(mistake!.share / defence!.share).toBeCloseTo(2, 10);
    expect(unknown!.kind).toBe('unknown');
  });

  test('frays as unknown where the leak is only a prior and nobody has stopped there', () => {
    expect(joints[1]!.frays.map(({ kind }) => kind)).toEqual(['unknown']);
  });
});
