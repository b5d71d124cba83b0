import { within } from '../db/within';
import { type Question, Reader } from '../readings/read';
import { came } from './came';
import { ownDatabase } from './database';

// Fits take a second and more: they are made in this thread, where no tap waits behind them. Questions share two connections,
// and the last of many may wait as long as its caller does.
const reader = new Reader(ownDatabase(2, 60_000));

/** Answers a question by its name: a method of the reader, with its arguments. */
export default ({ name, of }: { name: Question; of: Parameters<Reader[Question]> }) =>
  came(within(of[0], () => (reader[name] as (...of: unknown[]) => Promise<unknown>).apply(reader, of)));
