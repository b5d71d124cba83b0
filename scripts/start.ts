import { existsSync, readFileSync } from 'node:fs';
import { createServer as createHttpServer, type RequestListener } from 'node:http';
import { createServer as createHttpsServer } from 'node:https';
import { randomInt } from 'node:crypto';
import path from 'node:path';
import { setTimeout as rest } from 'node:timers/promises';
import { parseArgs } from 'node:util';
import { demoAcademy, demoSignIn, library } from '@ulkret/demo';
import { createServer } from '@ulkret/server';
import { hashPassword } from '@ulkret/server/access/secrets';
import { loadAcademy } from '@ulkret/server/keeping/academies';
import { anyCoach } from '@ulkret/server/access/coaches';
import { connect, openAll, type Db, migrateForward } from '@ulkret/server/db/connect';
import { asServer } from '@ulkret/server/db/role';
import { watchDatabase, watchPool } from '@ulkret/server/db/watch';
import { listenForFacts } from '@ulkret/server/live/live';
import { Keeper } from '@ulkret/server/keeping/keeper';
import { keepErased } from '@ulkret/server/keeping/tombstones';
import { breakOffInThreads } from '@ulkret/server/threads/database';
import { readInThread, transferInThread } from '@ulkret/server/threads/desk';
import { lookInThread } from '@ulkret/server/threads/looking';
import { pino } from 'pino';
import { buildWeb } from './build';
import {
  checkReachable,
  defaultData,
  migrationsFolder,
  migrationsHere,
  takeLock,
  versionHere,
} from './data-folder';
import { houseIn } from './house-key';
import { type Cluster, newestPrograms, startCluster } from './postgres';
import { Trouble } from './trouble';

const usage = `npm start -- [options]
  --port N      the port to serve on (default 4780)
  --host H      the address to serve on (default 127.0.0.1; 0.0.0.0 lets tablets on the network in)
  --data DIR    where PostgreSQL keeps its data (default .data)
  --backups DIR where a backup a day is kept (default: backups in the data folder; none with DATABASE_URL)
  --cert FILE   serve HTTPS with this certificate (PEM) and
  --key FILE    this key: a tablet on the network needs it to work offline
  --security C  contact for security reports, in /.well-known/security.txt: a mailto: or https: address
  --trust-proxy a proxy of yours in front says who asks, and whether by HTTPS
  --empty       do not load the demo academy; the first coach is asked for in the browser
  --reset       delete everything in the data folder and start again
  DATABASE_URL  in the environment: use that PostgreSQL instead of a private one`;

function readOptions(args: string[]) {
  try {
    const { values } = parseArgs({
      args,
      options: {
        port: { type: 'string', default: '4780' },
        host: { type: 'string', default: '127.0.0.1' },
        data: { type: 'string' },
        backups: { type: 'string' },
        cert: { type: 'string' },
        key: { type: 'string' },
        security: { type: 'string' },
        'trust-proxy': { type: 'boolean', default: false },
        empty: { type: 'boolean', default: false },
        reset: { type: 'boolean', default: false },
        help: { type: 'boolean', default: false },
      },
    });
    const port = Number(values.port);
    if (!Number.isInteger(port) || port < 1 || port > 65_535)
      throw new Trouble(`"${values.port}" is not a port from 1 to 65535.`);
    if (values.security !== undefined && !/^(mailto:|https:\/\/)\S+$/.test(values.security))
      throw new Trouble(`"${values.security}" is not a mailto: or https: address.`);
    return { ...values, port, tls: readTls(values.cert, values.key) };
  } catch (error) {
    if (error instanceof Trouble) throw error;
    throw new Trouble(`${(error as Error).message}\n${usage}`);
  }
}

/** The certificate and key of HTTPS, or null where neither was given. */
function readTls(cert: string | undefined, key: string | undefined) {
  if (cert === undefined && key === undefined) return null;
  if (cert === undefined || key === undefined)
    throw new Trouble('HTTPS needs both --cert and --key: give the other one as well.');
  const read = (file: string) => {
    if (!existsSync(file)) throw new Trouble(`There is no file ${file}: give the path of a PEM file.`);
    return readFileSync(file);
  };
  return { cert: read(cert), key: read(key) };
}

/**
 * A resting connection is kept longer than a round lasts, and longer than a proxy keeps its own (common practice): the
 * next tap opens none, and meets none that is just closing.
 */
const keepAliveMs = 75_000;

/** A stop ends in ten seconds: the database has five of them (`stopSeconds`), all else the others. */
const stopMs = 4000;

/** Takes the port before anything else is made, so that a taken one costs nothing. */
function listen(port: number, host: string, tls: ReturnType<typeof readTls>) {
  const wait: RequestListener = (_, response) => {
    response.writeHead(503, { 'content-type': 'text/plain', 'retry-after': '2' }).end('Ulkret is starting …');
  };
  const http = tls ? createHttpsServer(tls, wait) : createHttpServer(wait);
  http.keepAliveTimeout = keepAliveMs;
  return new Promise<typeof http>((resolve, reject) => {
    http.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        new Trouble(
          error.code === 'EADDRINUSE'
            ? `Port ${port} is taken by another program: choose one with --port, or stop that program.`
            : `Cannot serve on ${host}:${port} (${error.message}): choose another with --host and --port.`,
        ),
      ),
    );
    http.listen(port, host, () => resolve(http));
  });
}

async function loadDemo(db: Db): Promise<void> {
  console.log('Loading the demo academy …');
  const { data } = demoAcademy(Date.now());
  const passwordHash = await hashPassword(demoSignIn.password);
  await loadAcademy(
    db,
    { ...data, coaches: data.coaches.map((coach) => ({ ...coach, passwordHash })) },
    true,
  );
}

export async function run(args: string[]): Promise<void> {
  const options = readOptions(args);
  if (options.help) {
    console.log(usage);
    return;
  }
  const external = process.env['DATABASE_URL'];
  if (external && options.reset)
    throw new Trouble(
      '--reset throws data away and is for the private PostgreSQL only: empty the database of DATABASE_URL yourself.',
    );
  const http = await listen(options.port, options.host, options.tls);
  const undo: (() => void | Promise<void>)[] = [];
  let stopping: Promise<void> | null = null;
  const stop = () =>
    (stopping ??= (async () => {
      http.close();
      http.closeAllConnections();
      const until = Date.now() + stopMs;
      // What does not end in time is left where it is: the process goes, and what was committed is there.
      for (const one of undo.reverse())
        await Promise.race([one(), rest(Math.max(0, until - Date.now()), undefined, { ref: false })]);
    })());
  const end = () => {
    if (stopping) return;
    console.log('\nStopping …');
    void stop().then(() => process.exit(0));
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, end);
  process.on('message', (said) => said === 'stop' && end());
  // The process that keeps it up is gone, as by a power cut.
  process.on('disconnect', () => process.exit(1));

  try {
    let url = external;
    let bin: string | null = null;
    let whatIsWrong: string | null = null;
    let noAnswer: string | null = null;
    let backups = options.backups ? path.resolve(options.backups) : null;
    if (!url) {
      const folder = options.data ? path.resolve(options.data) : defaultData();
      undo.push(takeLock(folder));
      const cluster: Cluster = await startCluster(folder);
      undo.push(() => cluster.stop());
      undo.push(
        cluster.keepUp((now) => {
          if (now) console.error(now);
          else console.log('The database is up again.');
          whatIsWrong = now;
        }),
      );
      if (options.reset) await cluster.dropDatabase('ulkret');
      await cluster.ensureDatabase('ulkret');
      url = cluster.url('ulkret');
      ({ bin } = cluster);
      backups ??= path.join(folder, 'backups');
    } else await checkReachable(url);
    await migrateForward(url, migrationsFolder);
    const owner = url;
    const server = await asServer(owner);
    if (server === null)
      console.error('The database’s owner may not make a role for the server: it works as the owner.');
    url = server ?? owner;
    const { db, pool, close, breakOff } = connect(url);
    undo.push(close);
    const database = url;
    undo.push(
      watchDatabase(
        database,
        () => {
          breakOff();
          breakOffInThreads(database);
        },
        (wrong) => {
          if (wrong) console.error(wrong);
          else console.log('The database answers again.');
          noAnswer = wrong;
        },
      ),
    );
    undo.push(
      watchPool(pool, (reason) => {
        console.error(reason);
        process.exit(1);
      }),
    );
    const house = await houseIn(options.data ? path.resolve(options.data) : defaultData());
    // Somebody who was erased does not come back with an older database.
    await keepErased(db, house.erased, house.erased);
    if (!options.empty && !(await anyCoach(db))) await loadDemo(db);
    const webRoot = await buildWeb();
    const log = pino({ level: 'warn' });
    const live = listenForFacts(url, db, log);
    undo.push(() => live.close());
    const version = versionHere();
    const readings = readInThread(url);
    undo.push(() => readings.close());
    const wrongNow = () => whatIsWrong ?? noAnswer;
    const trustProxy = options['trust-proxy'];
    const looking = lookInThread({ url, log: true, version, trustProxy, starter: library }, wrongNow);
    undo.push(() => looking.close());
    const transfers = transferInThread(url);
    undo.push(() => transfers.close());
    // Forty bits, in letters and figures that are not mistaken for each other.
    const alphabet = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';
    const firstCode = (await anyCoach(db))
      ? null
      : Array.from({ length: 8 }, () => alphabet[randomInt(alphabet.length)]).join('');
    const keeper =
      backups === null
        ? null
        : new Keeper(
            { url: owner, bin: bin ?? newestPrograms() },
            backups,
            version,
            migrationsHere(),
            log,
            house.key,
          );
    if (keeper) undo.push(() => keeper.close());
    const app = createServer(db, {
      version,
      webRoot,
      demoSignIn,
      starter: library,
      log,
      live,
      readings,
      transfers,
      keeper,
      firstCode,
      trustProxy,
      looks: looking.hand,
      security: options.security ?? null,
      whatIsWrong: wrongNow,
    });
    await openAll(pool);
    http.removeAllListeners('request');
    http.on('request', app);
    keeper?.open();
    console.log(
      `Ulkret is at ${options.tls ? 'https' : 'http'}://${options.host === '0.0.0.0' ? 'localhost' : options.host}:${options.port}`,
    );
    if (firstCode !== null)
      console.log(
        `It is empty: open it and name the first coach. From another machine this code is asked for: ${firstCode}`,
      );
    else if (!options.empty)
      console.log(`Demo sign-in: ${demoSignIn.email} with the password ${demoSignIn.password}`);
    console.log('Ctrl-C stops all of it.');
    process.send?.('up');
  } catch (error) {
    await stop();
    throw error;
  }
}
