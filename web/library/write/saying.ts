import { useSyncExternalStore } from 'react';

/** Words that change often, followed only by what shows them. */
export class Saying {
  private readonly listeners = new Set<() => void>();

  constructor(private words: string) {}

  say(words: string): void {
    if (words === this.words) return;
    this.words = words;
    for (const listener of this.listeners) listener();
  }

  readonly current = (): string => this.words;
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
}

export const useSaying = ({ subscribe, current }: Saying): string => useSyncExternalStore(subscribe, current);
