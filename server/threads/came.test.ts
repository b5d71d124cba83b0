import { DrizzleQueryError } from 'drizzle-orm';
import { expect, test } from '@jest/globals';
import { arrived, came } from './came';

test('what a thread was told arrives', async () => {
  expect(arrived(await came(Promise.resolve(3)))).toBe(3);
});

test('an error keeps its name, its code and what caused it, as an error, between threads', async () => {
  const cause = Object.assign(new Error('Connection terminated'), { code: '57P01' });
  const posted = structuredClone(
    await came(Promise.reject(new DrizzleQueryError('select $1', ['Ada'], cause))),
  );
  let thrown: unknown;
  try {
    arrived(posted);
  } catch (error) {
    thrown = error;
  }
  expect(thrown).toBeInstanceOf(Error);
  const { cause: arrivedCause } = thrown as Error;
  // The cause is what a log says of a failed query: its own message repeats the values.
  expect(arrivedCause).toBeInstanceOf(Error);
  expect(arrivedCause).toMatchObject({ message: 'Connection terminated', code: '57P01' });
});
