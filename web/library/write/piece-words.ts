import type { overwritten } from '@ulkret/core/breakdown';

const words = {
  kind: 'kind',
  title: 'title',
  criterion: 'criterion',
  proofs: 'proofs',
  tolerance: 'measure',
  caution: 'caution',
} satisfies Record<ReturnType<typeof overwritten>[number], string>;

/** What of a piece is overwritten, as the fields are called. */
export const wordsOf = (own: ReturnType<typeof overwritten>): string =>
  own.map((one) => words[one]).join(', ');
