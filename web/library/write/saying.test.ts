import { describe, expect, test } from '@jest/globals';
import { Saying } from './saying';

describe('words that change often', () => {
  test('are told to those who follow them, once for each change', () => {
    const saying = new Saying('saved');
    const heard: string[] = [];
    const stop = saying.subscribe(() => heard.push(saying.current()));
    for (const words of ['saving …', 'saving …', 'saved']) saying.say(words);
    expect(heard).toEqual(['saving …', 'saved']);
    stop();
    saying.say('unsaved');
    expect(heard).toHaveLength(2);
    expect(saying.current()).toBe('unsaved');
  });
});
