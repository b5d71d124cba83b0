import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { LiveFacts } from '@ulkret/contract';
import { noFacts } from '@ulkret/core/facts';
import { aRep, factId } from '../../core/test';
import { onLive } from './live';

/** A stream of the browser's that says what a test tells it to. */
class Stream {
  static opened: Stream[] = [];
  closed = false;
  private readonly listeners = new Map<string, (event: { data: string }) => void>();
  constructor(readonly address: string) {
    Stream.opened.push(this);
  }
  addEventListener(name: string, listener: (event: { data: string }) => void): void {
    this.listeners.set(name, listener);
  }
  say(name: string, data: unknown = null): void {
    this.listeners.get(name)?.({ data: JSON.stringify(data) });
  }
  close(): void {
    this.closed = true;
  }
}

const news: LiveFacts = {
  session: factId(1),
  facts: { ...noFacts(), reps: [aRep({ session: factId(1) })] },
} as unknown as LiveFacts;

describe('what other devices send', () => {
  const heard: (LiveFacts | null)[] = [];
  let stop: () => void;
  beforeEach(() => {
    heard.length = 0;
    Stream.opened = [];
    Object.assign(globalThis, { EventSource: Stream });
    stop = onLive((facts) => heard.push(facts));
  });
  afterEach(() => stop());

  test('is heard as it comes', () => {
    const [stream] = Stream.opened;
    expect(stream!.address).toBe('/api/live');
    stream!.say('facts', news);
    expect(heard).toEqual([news]);
  });

  test('is fetched again when the stream was away, when the server says so, and when unreadable', () => {
    const [stream] = Stream.opened;
    stream!.say('open');
    stream!.say('all');
    stream!.say('facts', { session: 7 });
    expect(heard).toEqual([null, null, null]);
  });

  test('comes by one stream for all of a page, which ends with the last who listens', () => {
    const other: unknown[] = [];
    const stopOther = onLive((facts) => other.push(facts));
    expect(Stream.opened).toHaveLength(1);
    Stream.opened[0]!.say('facts', news);
    expect([heard.length, other.length]).toEqual([1, 1]);
    stopOther();
    expect(Stream.opened[0]!.closed).toBe(false);
    stop();
    expect(Stream.opened[0]!.closed).toBe(true);
    stop = onLive(() => undefined);
    expect(Stream.opened).toHaveLength(2);
  });
});
