import { describe, expect, test } from '@jest/globals';
import { movedTo } from './moved';

describe('an old address', () => {
  test.each([
    ['/who-may', '/access'],
    ['/who-looked/', '/access-log'],
    ['/keeping', '/backups'],
    ['/waiting', '/unsent'],
    ['/readings/rear-strangle/ways', '/readings/rear-strangle/variants'],
    ['/readings/rear-strangle/beliefs', '/readings/rear-strangle/weights'],
    ['/today', '/'],
  ])('%s leads to %s', (old, now) => expect(movedTo(old)).toBe(now));

  test('is none if the page is where it was', () => {
    for (const address of ['/', '/access', '/library/ways', '/readings/ways'])
      expect(movedTo(address)).toBeNull();
  });
});
