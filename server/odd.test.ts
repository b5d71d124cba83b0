import { expect, test } from '@jest/globals';
import { tooCostly } from './odd';

const costs = (text: string) => tooCostly(Buffer.from(text));

test('what a body costs is counted before it is read: its depth, its values, and those of one list', () => {
  expect(costs('['.repeat(1001) + ']'.repeat(1001))).toBe('It is nested deeper than 1000.');
  expect(costs('['.repeat(1000) + ']'.repeat(1000))).toBeNull();
  expect(costs(`{"a":[${'1,'.repeat(20_000)}1]}`)).toBe('One of its lists has more than 20000 items.');
  expect(costs(`{"a":[${'1,'.repeat(19_998)}1],"b":[${'1,'.repeat(19_998)}1]}`)).toBeNull();
  expect(costs(`[${`[${'1,'.repeat(1000)}1],`.repeat(2000)}1]`)).toBe('It has more than 2000000 values.');
  // Brackets, commas and quotes within a text are its letters; brackets that close nothing do not give any back.
  expect(costs(`["${'[,'.repeat(30_000)}\\"${'[,'.repeat(30_000)}"]`)).toBeNull();
  expect(costs(']'.repeat(5000) + '['.repeat(1001))).toBe('It is nested deeper than 1000.');
});
