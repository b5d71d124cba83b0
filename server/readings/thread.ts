import { workerData } from 'node:worker_threads';
import { connect } from '../db/connect';
import { type Question, Reader } from './read';

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

/** Answers a question by its name: a method of the reader, with its arguments. */
export default ({ name, of }: { name: Question; of: Parameters<Reader[Question]> }) =>
  came<unknown>((reader[name] as (...of: unknown[]) => Promise<unknown>).apply(reader, of));
