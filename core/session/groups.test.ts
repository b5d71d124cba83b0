import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { type GroupChange, type Groups, isHere, pairKey, regroup, rotated } from '.';

const two: Groups = {
  pairs: [
    ['ada', 'ben'],
    ['cleo', 'dan'],
  ],
  waiting: [],
};
const after = (groups: Groups, ...changes: GroupChange[]) => changes.reduce(regroup, groups);

describe('who works with whom', () => {
  test('a late-comer waits for a partner, and joins a pair in its place', () => {
    const came = after(two, { is: 'came', about: 'olle' });
    expect(came.waiting).toEqual(['olle']);
    expect(after(came, { is: 'together', pair: ['ada', 'ben', 'olle'] })).toEqual({
      pairs: [
        ['ada', 'ben', 'olle'],
        ['cleo', 'dan'],
      ],
      waiting: [],
    });
    expect(after(came, { is: 'came', about: 'olle' })).toEqual(came);
  });

  test('somebody left by their partner waits; somebody who works alone is a pair of one', () => {
    expect(after(two, { is: 'together', pair: ['ada', 'cleo'] })).toEqual({
      pairs: [['ada', 'cleo']],
      waiting: ['ben', 'dan'],
    });
    expect(after(two, { is: 'went home', about: 'ada' })).toEqual({
      pairs: [['cleo', 'dan']],
      waiting: ['ben'],
    });
    const alone = after(two, { is: 'together', pair: ['ada'] });
    expect(alone.pairs).toEqual([['ada'], ['cleo', 'dan']]);
    expect(after(alone, { is: 'together', pair: ['cleo', 'ben'] }).pairs).toEqual([['ada'], ['cleo', 'ben']]);
  });

  test('a change that names a pair which is gone changes nothing', () => {
    const split = after(two, { is: 'apart', pair: ['ben', 'ada'] });
    expect(split).toEqual({ pairs: [['cleo', 'dan']], waiting: ['ada', 'ben'] });
    expect(after(split, { is: 'apart', pair: ['ada', 'ben'] })).toEqual(split);
    expect(
      after(split, {
        is: 'order',
        pairs: [
          ['ada', 'ben'],
          ['cleo', 'dan'],
        ],
      }),
    ).toEqual(split);
  });

  test('the coach walks to a pair before another one, whatever the order of its people', () => {
    expect(
      after(two, {
        is: 'order',
        pairs: [
          ['dan', 'cleo'],
          ['ada', 'ben'],
        ],
      }).pairs,
    ).toEqual([
      ['cleo', 'dan'],
      ['ada', 'ben'],
    ]);
  });

  test('nobody is ever in two places, and only those who went home are lost', () => {
    const who = fc.constantFrom('ada', 'ben', 'cleo', 'dan', 'eve', 'finn');
    const people = fc.uniqueArray(who, { minLength: 1, maxLength: 3 });
    const change: fc.Arbitrary<GroupChange> = fc.oneof(
      people.map((pair) => ({ is: 'together', pair }) as const),
      people.map((pair) => ({ is: 'apart', pair }) as const),
      who.map((about) => ({ is: 'came', about }) as const),
      who.map((about) => ({ is: 'went home', about }) as const),
      fc.tuple(people, people).map((pairs) => ({ is: 'order', pairs }) as const),
    );
    fc.assert(
      fc.property(fc.array(change, { maxLength: 12 }), (changes) => {
        const gone = new Set<string>();
        let groups = two;
        for (const one of changes) {
          groups = regroup(groups, one);
          if (one.is === 'went home') gone.add(one.about);
          else if (one.is === 'came') gone.delete(one.about);
          else if (one.is === 'together') for (const id of one.pair) gone.delete(id);
          const all = [...groups.pairs.flat(), ...groups.waiting];
          expect(new Set(all).size).toBe(all.length);
          for (const id of two.pairs.flat()) expect(isHere(groups, id)).toBe(!gone.has(id));
        }
      }),
    );
  });
});

describe('rotating all partners', () => {
  // FIDE Handbook C.05 Annex 1: the Berger table of six players has five rounds in which everybody meets everybody once.
  test('lets six people meet all others within five rounds, as a Berger table does', () => {
    let pairs: readonly (readonly string[])[] = [
      ['1', '6'],
      ['2', '5'],
      ['3', '4'],
    ];
    const met = new Set(pairs.map(pairKey));
    for (let round = 1; round < 5; round++) {
      pairs = rotated(pairs);
      for (const pair of pairs) met.add(pairKey(pair));
    }
    expect(met.size).toBe(15);
  });

  test('keeps everybody, the size of each group, and those who work alone', () => {
    const groups = [['a', 'b', 'c'], ['d'], ['e', 'f'], ['g', 'h']];
    const next = rotated(groups);
    expect(next.map(({ length }) => length)).toEqual([3, 1, 2, 2]);
    expect(next.flat().sort()).toEqual(groups.flat().sort());
    expect(next[1]).toEqual(['d']);
    expect(rotated([['a', 'b']])).toEqual([['a', 'b']]);
    expect(rotated([])).toEqual([]);
  });
});
