import { describe, expect, test } from '@jest/globals';
import { plainBreakdown } from '../test';
import { type Checkpoint, checkpointsOf, following, overwritten, type Piece, pieceFrom, takenFrom } from '.';

const grip: Piece = {
  id: 'figure-four',
  kind: 'grip',
  title: 'Figure four closed',
  criterion: 'Your {lead} hand holds your own {other} wrist.',
  proofs: [{ by: 'see', text: 'No gap at the wrist.' }],
  caution: 'Slowly: the shoulder gives without a warning.',
};
const lock = () => plainBreakdown(3);

describe('a shared piece', () => {
  test('gives a checkpoint its words and nothing else', () => {
    const [checkpoint] = lock().checkpoints as [Checkpoint];
    const one = takenFrom({ ...checkpoint, tolerance: { what: 'a', is: 'below', of: 'b' } }, grip);
    expect(one).toMatchObject({ ...grip, id: 'c1', piece: 'figure-four', belief: checkpoint.belief });
    expect(one.tolerance).toBeUndefined();
    expect(overwritten(one, grip)).toEqual([]);
    expect(pieceFrom(one, 'figure-four')).toEqual(grip);
    expect(overwritten({ ...one, title: 'Closed', caution: undefined }, grip)).toEqual(['title', 'caution']);
  });

  test('is followed where its words stand, and not where they are overwritten', () => {
    const draft = lock();
    draft.checkpoints[0] = takenFrom(draft.checkpoints[0]!, grip);
    draft.checkpoints[2] = { ...takenFrom(draft.checkpoints[2]!, grip), title: 'Ours', caution: undefined };
    const { caution: _, ...rest } = grip;
    const next: Piece = { ...rest, title: 'Close the four', criterion: 'Held.', kind: 'pressure' };
    const after = following(draft, grip, next);
    expect(after.checkpoints[0]).toMatchObject({
      title: 'Close the four',
      criterion: 'Held.',
      kind: 'pressure',
    });
    expect(after.checkpoints[0]!.caution).toBeUndefined();
    expect(after.checkpoints[2]).toMatchObject({ title: 'Ours', criterion: 'Held.' });
    expect(after.checkpoints[2]!.caution).toBeUndefined();
    expect(after.checkpoints[1]).toBe(draft.checkpoints[1]);
    // Back again it is what it was; where two say the same by chance, one follows the other from then on.
    expect(following(after, next, grip).checkpoints[0]).toEqual(draft.checkpoints[0]);
  });

  test('leaves what is not of it, or says the same already, as the same object', () => {
    const draft = lock();
    expect(following(draft, grip, { ...grip, title: 'Other' })).toBe(draft);
    draft.checkpoints[1] = takenFrom(draft.checkpoints[1]!, grip);
    expect(following(draft, grip, grip)).toBe(draft);
    expect(checkpointsOf(draft, grip.id).map(({ id }) => id)).toEqual(['c2']);
  });
});
