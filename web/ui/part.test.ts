import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { forgetMs, part } from './part';

const Nothing = () => null;

describe('a part that is loaded when it is wanted', () => {
  test('is loaded once, and is here from then on', async () => {
    let asked = 0;
    const page = part(() => Promise.resolve({ default: Nothing, asked: ++asked }));
    expect(page.isLoaded()).toBe(false);
    const [one, two] = [page.load(), page.load()];
    expect(two).toBe(one);
    await one;
    expect([page.isLoaded(), asked]).toEqual([true, 1]);
    await page.load();
    expect(asked).toBe(1);
  });

  test('is read without waiting once it is here, which is what keeps a notice from being shown', async () => {
    const page = part(() => Promise.resolve({ default: Nothing }));
    const loading = page.load();
    await loading;
    expect(loading).toMatchObject({ status: 'fulfilled', value: { default: Nothing } });
  });

  beforeEach(() => void jest.useFakeTimers());
  afterEach(() => void jest.useRealTimers());

  test('that could not be loaded is asked for again by the next one who wants it', async () => {
    let network = false;
    const page = part(async () => {
      if (!network) throw new Error('no network');
      return Promise.resolve({ default: Nothing });
    });
    const failed = page.load();
    await expect(failed).rejects.toThrow('no network');
    expect(page.isLoaded()).toBe(false);
    network = true;
    // A part that is drawn again at once hears of it, and does not wait forever.
    expect(page.load()).toBe(failed);
    jest.advanceTimersByTime(forgetMs);
    await page.load();
    expect(page.isLoaded()).toBe(true);
  });
});
