import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { plainBreakdown } from '../../core/test';
import { jsonOf } from './json';

describe('JSON with a memory', () => {
  test('is what JSON.stringify writes, the first time and the second', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        expect([jsonOf(value), jsonOf(value)]).toEqual([JSON.stringify(value), JSON.stringify(value)]);
      }),
    );
    const draft = plainBreakdown(12);
    expect(jsonOf(draft)).toBe(JSON.stringify(draft));
  });

  test('leaves out what is undefined, and holds its place in a list', () => {
    const value = { a: undefined, b: [undefined, 1], c: null };
    expect(jsonOf(value)).toBe(JSON.stringify(value));
  });

  test('writes what an edit has changed, and only that anew', () => {
    const before = plainBreakdown(5);
    const [first, ...rest] = before.checkpoints;
    let read = 0;
    const watched = new Proxy(rest[0]!, { ownKeys: (target) => (read++, Reflect.ownKeys(target)) });
    const draft = { ...before, checkpoints: [first!, watched, ...rest.slice(1)] };
    jsonOf(draft);
    const edited = { ...draft, checkpoints: [{ ...first!, title: 'New' }, ...draft.checkpoints.slice(1)] };
    const already = read;
    expect(jsonOf(edited)).toBe(JSON.stringify(edited));
    expect(read - already).toBe(1); // by JSON.stringify, which reads everything
  });
});
