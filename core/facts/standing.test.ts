import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { aRep, factId } from '../test';
import { mergeFacts, noFacts, type RepFacts, standing } from '.';

const at = (second: number) => `2026-03-05T18:30:${String(second).padStart(2, '0')}Z`;
const reps = Array.from({ length: 12 }, (_, i) => aRep({ id: factId(1000 + i), at: at(i % 5), stop: 'c1' }));
const all: RepFacts = {
  reps,
  voids: [3, 7].map((i) => ({
    id: factId(2000 + i),
    rep: reps[i]!.id,
    at: at(30),
    observer: 'coach',
    ofImport: false,
  })),
  tags: [1, 1, 4].map((i, n) => ({
    id: factId(3000 + n),
    rep: reps[i]!.id,
    cause: `m${n + 1}`,
    words: null,
    at: at(20 + n),
    observer: 'coach',
  })),
};

const shuffled = <T>(list: readonly T[]) => fc.shuffledSubarray([...list], { minLength: list.length });
const anyOrder: fc.Arbitrary<RepFacts> = fc.record({
  reps: shuffled(all.reps),
  voids: shuffled(all.voids),
  tags: shuffled(all.tags),
});

describe('facts', () => {
  test('in any order, split over any two devices, stand the same', () => {
    fc.assert(
      fc.property(anyOrder, fc.nat(12), fc.nat(12), (facts, from, to) => {
        const one: RepFacts = {
          reps: facts.reps.slice(0, to),
          voids: facts.voids,
          tags: facts.tags.slice(0, 1),
        };
        const two: RepFacts = { reps: facts.reps.slice(Math.min(from, to)), voids: [], tags: facts.tags };
        expect(standing(mergeFacts(one, two))).toEqual(standing(all));
        expect(standing(mergeFacts(two, one))).toEqual(standing(all));
      }),
    );
  });

  test('sent twice count once', () => {
    expect(standing(mergeFacts(all, all))).toEqual(standing(all));
    expect(standing(mergeFacts(noFacts(), { ...all, reps: [...reps, ...reps] }))).toHaveLength(10);
  });

  test('a void removes exactly its rep, even when it comes first', () => {
    const before = standing({ ...all, voids: [] }).map(({ id }) => id);
    for (const rep of reps) {
      const voids = [{ id: factId(9999), rep: rep.id, at: at(40), observer: 'coach', ofImport: false }];
      const left = standing(mergeFacts({ ...noFacts(), voids }, { ...all, voids: [] })).map(({ id }) => id);
      expect(left).toEqual(before.filter((id) => id !== rep.id));
    }
  });

  test('the latest tag of a rep says its cause, and null takes it back', () => {
    expect(standing(all).find(({ id }) => id === reps[1]!.id)?.cause).toBe('m2');
    const back = {
      id: factId(3999),
      rep: reps[1]!.id,
      cause: null,
      words: null,
      at: at(50),
      observer: 'coach',
    };
    expect(
      standing({ ...all, tags: [back, ...all.tags] }).find(({ id }) => id === reps[1]!.id)?.cause,
    ).toBeNull();
  });
});
