import { describe, expect, test } from '@jest/globals';
import { aRep, factId } from '../test';
import { FactId, Instant, Rep, withoutNothing } from '.';

const rep = aRep({ stop: 'c2' });
const refusedAt = (fields: object) => Rep.safeParse({ ...rep, ...fields }).error?.issues[0]?.path[0];

describe('a rep', () => {
  test('says how it ended, with what belongs to that and nothing else', () => {
    expect(refusedAt({ stop: undefined })).toBe('stop');
    expect(refusedAt({ outcome: 'forced', failed: [] })).toBe('failed');
    expect(refusedAt({ outcome: 'not judged' })).toBe('heldTo');
    expect(refusedAt({ outcome: 'tapped' })).toBe('outcome');
    expect(refusedAt({ outcome: 'left', stop: undefined })).toBe('heldTo');
    // What nobody knows is refused, never dropped.
    expect(Rep.safeParse({ ...rep, mood: 'good' }).error?.issues[0]).toMatchObject({ keys: ['mood'] });
  });

  test('is read without what says nothing, and with what null says', () => {
    const row = { ...rep, failed: null, heldTo: null, by: null, ways: null, met: null };
    expect(Rep.parse(withoutNothing(row))).toEqual(rep);
    const open = { ...aRep({ outcome: 'not judged', heldTo: null }), stop: null };
    expect(Rep.parse(withoutNothing(open))).toHaveProperty('heldTo', null);
    expect([null, 7, []].map(withoutNothing)).toEqual([null, 7, []]);
  });

  test.each([
    ['id', '123'],
    ['session', 'tuesday'],
    ['at', '2026-03-05 18:30'],
    ['technique', 'Test Lock'],
    ['edition', 0],
    ['side', 'both'],
    ['rung', 5],
    ['rung', 2.5],
    ['soft', 'c1'],
    ['source', 'memory'],
    ['note', 'x'.repeat(501)],
  ])('with a wrong %s is refused at it', (field, value) => expect(refusedAt({ [field]: value })).toBe(field));

  test('may have been alone, on its own, and without a session', () => {
    expect(Rep.safeParse({ ...rep, partner: null, session: null, rung: 0 }).success).toBe(true);
  });
});

describe('ids and instants of facts', () => {
  test('are UUIDs, however they are written', () => {
    expect(FactId.parse(factId(7).toUpperCase())).toBe(factId(7));
    expect(FactId.safeParse('00000000').success).toBe(false);
  });

  test('carry their offset', () => {
    expect(Instant.safeParse('2026-03-05T19:30:00+01:00').success).toBe(true);
    expect(Instant.safeParse('2026-03-05T19:30:00').success).toBe(false);
  });
});
