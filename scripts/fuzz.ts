import path from 'node:path';
import { parseArgs } from 'node:util';
import { Role, roles } from '@ulkret/contract';
import { connect, migrateForward } from '@ulkret/server/db/connect';
import { readInThread } from '@ulkret/server/threads/desk';
import { settingsOf } from '@ulkret/server/test/academy';
import { type Asking, fuzz } from '@ulkret/server/test/fuzz';
import { startThrowawayCluster } from './postgres';
import { Trouble } from './trouble';

const usage = `npm run -s fuzz -- [--seed N] [--runs N] [--as WHO]
  --seed N   which requests are made; the same N makes the same ones (1)
  --runs N   how many of each endpoint (100)
  --as WHO   who sends: ${roles.join(', ')}, nobody, or each in turn; without it the head coach, and every fourth one nobody`;

/** Who asks, as the command names them; undefined where it names nobody, and null where there is no such one. */
function askingOf(name: string | undefined): readonly Asking[] | undefined | null {
  if (name === undefined) return undefined;
  if (name === 'each') return [...roles, null];
  if (name === 'nobody') return [null];
  const { data } = Role.safeParse(name);
  return data ? [data] : null;
}

const megabytes = (bytes: number): string => `${Math.round(bytes / 1_000_000)} MB`;

/** `npm run fuzz`: requests of every endpoint, as the contract has them and broken; exits with 1 where an answer is none of its. */
export async function run(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: { seed: { type: 'string' }, runs: { type: 'string' }, as: { type: 'string' } },
  });
  const [seed, runs] = [Number(values.seed ?? 1), Number(values.runs ?? 100)];
  const as = askingOf(values.as);
  if (!Number.isInteger(seed) || !Number.isInteger(runs) || runs < 1 || as === null) throw new Trouble(usage);
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
        ...(as && { as }),
        eachThousand: (n) => {
          const { heapUsed, rss } = process.memoryUsage();
          console.log(`${n} requests: memory ${megabytes(rss)}, of it in use ${megabytes(heapUsed)}`);
        },
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
