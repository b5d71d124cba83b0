import type { endpoints, OutputOf } from '@ulkret/contract';

type Entry = OutputOf<typeof endpoints.accesses>['accesses'][number];

/** What somebody did, about whom, and what changed by it. */
export const accessWords = ({ what, about, words }: Entry): string =>
  [what + (about === null ? '' : ` ${about}`), words].filter((part) => part !== '').join(': ');
