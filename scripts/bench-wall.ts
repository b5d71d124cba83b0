import { asServer } from '@ulkret/server/db/role';
import { connect } from '@ulkret/server/db/connect';
import { within } from '@ulkret/server/db/within';
import { takeFacts } from '@ulkret/server/intake/take';
import pg from 'pg';
import { uuidv7 } from 'uuidv7';
import { someStudents, tapped } from './bench-taps';

const perBatch = 5;
const batches = 400;
const warm = 40;

/** The median time that a batch of taps takes behind the wall between academies and without it, by turns, in milliseconds. */
export async function wallCost(owner: string, academy: string): Promise<{ behind: number; without: number }> {
  const client = new pg.Client({ connectionString: owner });
  await client.connect();
  const students = await someStudents(client);
  await client.end();
  const session = uuidv7();
  const free = connect(owner, 1);
  const walled = connect((await asServer(owner))!, 1);
  const spent = { behind: [] as number[], without: [] as number[] };
  const sender = { id: 'maren', decides: true, forOthers: true };
  for (let n = 0; n < batches; n++)
    for (const which of n % 2 === 0 ? (['behind', 'without'] as const) : (['without', 'behind'] as const)) {
      const { db } = which === 'behind' ? walled : free;
      const reps = Array.from({ length: perBatch }, (_, i) => tapped(session, students, n + i, i));
      const take = () => takeFacts(db, academy, { reps }, sender);
      const start = performance.now();
      const answers = await (which === 'behind' ? within(academy, take) : take());
      if (answers.some(({ answer }) => answer !== 'accepted')) throw new Error('a tap was not taken');
      if (n >= warm) spent[which].push(performance.now() - start);
    }
  await free.close();
  await walled.close();
  const median = (times: number[]) => times.sort((a, b) => a - b)[times.length >> 1]!;
  return { behind: median(spent.behind), without: median(spent.without) };
}
