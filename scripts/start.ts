import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer as createHttpServer, type RequestListener } from 'node:http';
import { createServer as createHttpsServer } from 'node:https';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { demoAcademy, demoSignIn, library } from '@ulkret/demo';
import { createServer } from '@ulkret/server';
import { hashPassword } from '@ulkret/server/access/secrets';
import { loadAcademy } from '@ulkret/server/keeping/academies';
import { anyCoach } from '@ulkret/server/access/coaches';
import { connect, openAll, type Db, migrateForward } from '@ulkret/server/db/connect';
import pg from 'pg';
import { listenForFacts } from '@ulkret/server/live/live';
import { readInThread } from '@ulkret/server/readings/desk';
import { pino } from 'pino';
import { buildWeb } from './build';
import { type Cluster, reachable, startCluster } from './postgres';
import { isRunning } from './running';
import { Trouble } from './trouble';

const usage = `npm start -- [options]
  --port N      the port to serve on (default 4780)
  --host H      the address to serve on (default 127.0.0.1; 0.0.0.0 lets tablets on the network in)
  --data DIR    where PostgreSQL keeps its data (default .data)
  --cert FILE   serve HTTPS with this certificate (PEM) and
  --key FILE    this key: a tablet on the network needs it to work offline
  --empty       do not load the demo academy; the first coach is asked for in the browser
  --reset       throw away what the data folder holds and start anew
  DATABASE_URL  in the environment: use that PostgreSQL instead of a private one`;

function readOptions(args: string[]) {
  try {
    const { values } = parseArgs({
      args,
      options: {
        port: { type: 'string', default: '4780' },
        host: { type: 'string', default: '127.0.0.1' },
        data: { type: 'string' },
        cert: { type: 'string' },
        key: { type: 'string' },
        empty: { type: 'boolean', default: false },
        reset: { type: 'boolean', default: false },
        help: { type: 'boolean', default: false },
      },
    });
    const port = Number(values.port);
    if (!Number.isInteger(port) || port < 1 || port > 65_535)
      throw new Trouble(`"${values.port}" is not a port from 1 to 65535.`);
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

/** Takes the port before anything else is made, so that a taken one costs nothing. */
function listen(port: number, host: string, tls: ReturnType<typeof readTls>) {
  const wait: RequestListener = (_, response) => {
    response.writeHead(503, { 'content-type': 'text/plain', 'retry-after': '2' }).end('Ulkret is starting …');
  };
  const http = tls ? createHttpsServer(tls, wait) : createHttpServer(wait);
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

/** The project's own folder, or one that the postgres user can reach where root started this in a closed place. */
function defaultData(): string {
  const own = path.resolve('.data');
  if (process.getuid?.() !== 0 || reachable(own)) return own;
  return path.join('/var/lib/ulkret', path.resolve('.').replaceAll(path.sep, '-').slice(1));
}

/** One process per data folder. A lock left by a process that is gone is taken over. */
function takeLock(folder: string): () => void {
  const file = path.join(folder, 'ulkret.pid');
  mkdirSync(folder, { recursive: true });
  const other = existsSync(file) ? Number(readFileSync(file, 'utf8')) : 0;
  if (other !== process.pid && isRunning(other, 'run.mjs', 'start'))
    throw new Trouble(
      `Another Ulkret (process ${other}) uses ${folder}: stop it, or choose another folder with --data.`,
    );
  writeFileSync(file, String(process.pid));
  return () => rmSync(file, { force: true });
}

async function checkReachable(url: string): Promise<void> {
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 5000 });
  try {
    await client.connect();
    await client.end();
  } catch (error) {
    throw new Trouble(
      `The database of DATABASE_URL cannot be reached (${(error as Error).message || 'no answer'}): start it, or fix the address.`,
    );
  }
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
      for (const one of undo.reverse()) await one();
    })());
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.once(signal, () => {
      console.log('\nStopping …');
      void stop().then(() => process.exit(0));
    });

  try {
    let url = external;
    if (!url) {
      const folder = options.data ? path.resolve(options.data) : defaultData();
      undo.push(takeLock(folder));
      const cluster: Cluster = await startCluster(folder);
      undo.push(() => cluster.stop());
      if (options.reset) await cluster.dropDatabase('ulkret');
      await cluster.ensureDatabase('ulkret');
      url = cluster.url('ulkret');
    } else await checkReachable(url);
    await migrateForward(url, path.resolve('server/db/migrations'));
    const { db, pool, close } = connect(url);
    undo.push(close);
    if (!options.empty && !(await anyCoach(db))) await loadDemo(db);
    const webRoot = await buildWeb();
    const { version } = JSON.parse(readFileSync('package.json', 'utf8')) as { version: string };
    const log = pino({ level: 'warn' });
    const live = listenForFacts(url, db, log);
    undo.push(() => live.close());
    const readings = readInThread(url);
    undo.push(() => readings.close());
    const app = createServer(db, { version, webRoot, demoSignIn, starter: library, log, live, readings });
    await openAll(pool);
    http.removeAllListeners('request');
    http.on('request', app);
    console.log(
      `Ulkret is at ${options.tls ? 'https' : 'http'}://${options.host === '0.0.0.0' ? 'localhost' : options.host}:${options.port}`,
    );
    if (!(await anyCoach(db))) console.log('It is empty: open it and name the first coach.');
    else if (!options.empty)
      console.log(`Demo sign-in: ${demoSignIn.email} with the password ${demoSignIn.password}`);
    console.log('Ctrl-C stops all of it.');
  } catch (error) {
    await stop();
    throw error;
  }
}
