import path from 'node:path';
import { parseArgs } from 'node:util';
import { connect, migrateForward } from '@ulkret/server/db/connect';
import { readInThread } from '@ulkret/server/readings/desk';
import { settingsOf } from '@ulkret/server/test/academy';
import { fuzz } from '@ulkret/server/test/fuzz';
import { startThrowawayCluster } from './postgres';
import { Trouble } from './trouble';

const usage = `npm run -s fuzz -- [--seed N] [--runs N]
  --seed N   which requests are made; the same N makes the same ones (1)
  --runs N   how many of each endpoint, every fourth of them signed out (100)`;

/** `npm run fuzz`: requests of every endpoint, as the contract has them and broken; exits with 1 where an answer is none of its. */
export async function run(args: string[]): Promise<void> {
  const { values } = parseArgs({ args, options: { seed: { type: 'string' }, runs: { type: 'string' } } });
  const [seed, runs] = [Number(values.seed ?? 1), Number(values.runs ?? 100)];
  if (!Number.isInteger(seed) || !Number.isInteger(runs) || runs < 1) throw new Trouble(usage);
  const cluster = await startThrowawayCluster();
  await cluster.ensureDatabase('fuzz');
  const database = cluster.url('fuzz');
  await migrateForward(database, path.resolve('server/db/migrations'));
  const { db, close } = connect(database);
  const readings = readInThread(database);
  try {
    const { sent, accepted, astray, faults, answers, changed } = await fuzz(
      db,
      settingsOf(db, { readings }),
      {
        seed,
        runs,
      },
    );
    for (const { request, fault } of faults) {
      console.log(`${request.name}: ${request.method} ${request.path.slice(0, 200)}`);
      console.log(`  ${JSON.stringify(request.raw ?? request.body ?? null).slice(0, 400)}`);
      console.log(`  ${fault}`);
    }
    for (const line of changed) console.log(line);
    console.log(
      `answers by status: ${Object.entries(answers)
        .map((one) => one.join(' × '))
        .join(', ')}`,
    );
    console.log(
      `${sent} requests, ${accepted} reps accepted, ${astray} astray, ${faults.length} faults, ${changed.length} pages changed`,
    );
    if (faults.length + changed.length + astray > 0) process.exitCode = 1;
  } finally {
    await readings.close();
    await close();
    cluster.stop();
  }
}
