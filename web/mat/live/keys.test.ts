import { beforeEach, describe, expect, test } from '@jest/globals';
import { chosenKeys, commands, keepKeys, keyName, usualKeys, withKey } from './keys';

const kept = new Map<string, string>();
Object.assign(globalThis, {
  localStorage: {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
  },
});
beforeEach(() => kept.clear());

describe('the keys of the Mat', () => {
  test('mean one thing each', () => {
    const all = commands.flatMap(({ keys }) => [...keys]);
    expect(new Set(all).size).toBe(all.length);
    expect(all.some((key) => /^[0-9]$/.test(key))).toBe(false);
  });

  test('that are chosen come back on this device', () => {
    expect(chosenKeys()).toEqual(usualKeys);
    keepKeys(withKey(usualKeys, 'undo', 'z'));
    expect(chosenKeys().undo).toEqual(['z']);
    expect(chosenKeys().finish).toEqual(usualKeys.finish);
  });

  test('that were given to one command are taken from the other', () => {
    const keys = withKey(usualKeys, 'safety', 's');
    expect(keys.safety).toEqual(['s']);
    expect(keys.swap).toEqual([]);
    expect(withKey(usualKeys, 'undo', 'PageDown').finish).toEqual(['Enter']);
  });

  test.each(['1', '0', 'Tab', 'Escape', 'Shift'])('are never %s', (key) => {
    expect(withKey(usualKeys, 'undo', key)).toBe(usualKeys);
  });

  test.each(['no JSON', '{"undo":"u"}', '{"undo":[7]}', '{"stranger":["q"]}'])(
    'that were kept as %s count as not chosen',
    (text) => {
      kept.set('ulkret-mat-keys', text);
      expect(chosenKeys()).toEqual(usualKeys);
    },
  );

  test('are called by names that one finds on a keyboard', () => {
    expect([' ', 'PageDown', 'Enter', '['].map(keyName)).toEqual(['Space', 'Page Down', 'Enter', '[']);
  });
});
