import { workerData } from 'node:worker_threads';
import type { Id } from '@ulkret/core/breakdown';
import { connect } from '../db/connect';
import { type Asked, Reader } from './read';
import type { WhichReps } from './rep-by-rep';

// Fits take a second and more: they are made in this thread, where no tap waits behind them.
const { url } = workerData as { url: string };
/** Questions share two connections, and the last of many may wait as long as its caller does. */
const waitMs = 60_000;
const reader = new Reader(connect(url, 2, waitMs).db);

/** The result of a question. An error loses its code between threads, so the code travels along. */
export type Came<T> = { told: T } | { broke: { message: string; code: string | undefined; stack: string } };

async function came<T>(told: Promise<T>): Promise<Came<T>> {
  try {
    return { told: await told };
  } catch (error) {
    const {
      message,
      stack = '',
      code,
      cause,
    } = error as Error & { code?: string; cause?: { code?: string } };
    return { broke: { message, code: code ?? cause?.code, stack } };
  }
}

export const read = ({ academyId, asked }: { academyId: Id; asked: Asked }) =>
  came(reader.read(academyId, asked));
export const rates = ({ academyId, asked }: { academyId: Id; asked: Asked }) =>
  came(reader.rates(academyId, asked));
export const decide = ({ academyId, technique }: { academyId: Id; technique: Id }) =>
  came(reader.decide(academyId, technique));
export const choices = ({ academyId, asked }: { academyId: Id; asked: WhichReps }) =>
  came(reader.choices(academyId, asked));
export const agreement = ({ academyId, technique }: { academyId: Id; technique: Id }) =>
  came(reader.agreement(academyId, technique));
