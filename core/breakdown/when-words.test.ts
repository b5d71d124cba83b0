import { expect, test } from '@jest/globals';
import { whenWords } from '.';

test('a way that asks for reach is said as a coach says it', () => {
  const said = (is: '<' | '>' | '=', value: number) =>
    whenWords({ on: 'body', fact: 'reach margin', is, value });
  expect(said('<', 0)).toBe('where the limb does not close');
  expect(said('>', 0)).toBe('where the limb closes');
  expect(said('>', 8)).toBe('where more than 8 cm of reach are left');
  expect(said('<', 2)).toBe('where less than 2 cm of reach are left');
  expect(whenWords({ on: 'body', fact: 'hip mobility', is: '=', value: 'low' })).toBe(
    'where the hip mobility is low',
  );
});
