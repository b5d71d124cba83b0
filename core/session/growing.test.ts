import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Growing } from '.';

test('a fold over a list that grows is that of the whole list, whatever happens to it on the way', () => {
  const change = fc.oneof(
    { weight: 4, arbitrary: fc.record({ add: fc.nat(9) }) },
    fc.record({ drop: fc.nat(20) }),
    fc.record({ put: fc.nat(20), is: fc.nat(9) }),
  );
  fc.assert(
    fc.property(fc.array(change, { maxLength: 30 }), (changes) => {
      let steps = 0;
      const growing = new Growing((sum: number, one: { n: number }) => {
        steps++;
        return sum * 3 + one.n;
      });
      let list: readonly { n: number }[] = [];
      for (const one of changes) {
        const added = 'add' in one;
        list = added
          ? [...list, { n: one.add }]
          : 'drop' in one
            ? list.filter((_, i) => i !== one.drop)
            : list.map((was, i) => (i === one.put ? { n: one.is } : was));
        steps = 0;
        expect(growing.of('ada', list, 1)).toBe(list.reduce((sum, { n }) => sum * 3 + n, 1));
        // What is added at the end costs one step.
        if (added && list.length > 1) expect(steps).toBe(1);
        expect(growing.of('ada', list, 1)).toBe(growing.of('ada', list, 1));
      }
    }),
  );
});
