import { describe, expect, test } from '@jest/globals';
import { findIndex } from '.';

const { find } = findIndex([
  { kind: 'page', name: 'People', more: 'roster, students', to: '/people' },
  { kind: 'technique', name: 'Rear strangle', more: 'back, neck', to: '/library/rear-strangle' },
  {
    kind: 'checkpoint',
    name: 'Hand behind the head',
    more: '6 of Rear strangle',
    to: '/library/rear-strangle?at=6',
  },
  { kind: 'student', name: 'Amara', more: 'student', to: '/people?who=amara' },
  { kind: 'class', name: 'Rear strangle', more: 'class of Tuesday', to: '/mat/1/after' },
]);
const names = (words: string) => find(words).map(({ to }) => to);

describe('finding anything', () => {
  test('takes a beginning and a mistyped word', () => {
    expect(names('ama')).toEqual(['/people?who=amara']);
    expect(names('strangel')[0]).toBe('/library/rear-strangle');
  });
  test('puts the technique before its classes and its checkpoints', () => {
    expect(names('rear strangle')).toEqual([
      '/library/rear-strangle',
      '/mat/1/after',
      '/library/rear-strangle?at=6',
    ]);
  });
  test('finds by other words, and by all of them together', () => {
    expect(names('roster')).toEqual(['/people']);
    expect(names('hand rear')).toEqual(['/library/rear-strangle?at=6']);
    expect(names('hand people')).toEqual([]);
  });
});
