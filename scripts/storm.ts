import { fork } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { setTimeout as rest } from 'node:timers/promises';
import { library } from '@ulkret/demo';
import pg from 'pg';
import { uuidv7 } from 'uuidv7';
import { freePort, startThrowawayCluster } from './postgres';
import { ended, keptBy, started } from './started';
import type { DeviceOrder, DeviceReport } from './storm-device';
import { smallDisk } from './small-disk';
import { Trouble } from './trouble';

const devices = 8;
const frozenMs = 15_000;
const fullDiskMs = 8_000;
const coach = { academy: 'Quay', name: 'Nina', email: 'nina@quay.example', password: 'a long password' };
const students = Array.from({ length: devices * 2 }, (_, i) => `s${i}`);

/** What became of the storm. */
export interface StormReport {
  tapped: number;
  stored: number;
  distinct: number;
  missing: number;
  voids: [made: number, stored: number];
  tags: [made: number, stored: number];
  refused: number;
  /** Calls of devices that failed while the server was killed or the database away. */
  failedCalls: number;
  /** Reps that were tapped and not yet stored when the server was killed. */
  waitingAtKill: number;
  /** Connections that were thrown out in the middle of what they did. */
  thrownOut: number;
  /** Milliseconds that the database's disk was full; null where no small disk could be made. */
  fullDiskMs: number | null;
  /** Days that the server's clock was ahead between two starts; null where libfaketime is not installed. */
  daysAhead: number | null;
  /** Whole files that were taken out all the time: those that came, and those that were refused; none breaks off. */
  files: [came: number, refused: number, brokeOff: number];
}

/**
 * `npm run storm -- [REPS] [--hard]`: eight devices with the real outbox tap REPS reps into one session while the server is killed
 * in the middle of batches, PostgreSQL is thrown out and comes back, and everything is sent three times more out of order. A hard one also
 * throws connections out every 0.7 s, lets the server die on its own, freezes PostgreSQL, fills its disk, sets the server's clock ahead
 * and back, and takes whole files out next to the taps. Prints as JSON what was tapped and what is stored.
 */
export async function run(args: string[]): Promise<void> {
  const hard = args.includes('--hard');
  const [reps = '20800'] = args.filter((one) => one !== '--hard');
  const taps = Math.ceil(Number(reps) / devices);
  const disk = hard ? smallDisk(400) : null;
  const cluster = await startThrowawayCluster(disk ? path.join(disk.folder, 'data') : undefined);
  await cluster.ensureDatabase('storm');
  const database = cluster.url('storm');
  const port = await freePort();
  const url = `http://127.0.0.1:${port}`;
  const start = (env: Record<string, string> = {}) =>
    started(['--port', String(port), '--empty'], { DATABASE_URL: database, ...env });
  const ahead = hard ? daysAhead() : null;
  let server = await start();
  try {
    const called = async (method: string, address: string, body: unknown, cookie = '') => {
      const response = await fetch(url + address, {
        method,
        headers: { 'content-type': 'application/json', cookie },
        body: JSON.stringify(body),
      });
      if (!response.ok) throw new Trouble(`${address}: ${await response.text()}`);
      return response;
    };
    const first = await called('POST', '/api/coaches/first', { ...coach, starter: true });
    const cookie = first.headers.get('set-cookie')!.split(';')[0]!;
    const who = (await first.json()) as { coach: { id: string }; academy: { id: string } };
    for (const id of students)
      await called(
        'PUT',
        `/api/students/${id}`,
        {
          id,
          name: id.toUpperCase(),
          born: null,
          mainSide: 'right',
          experienceMonths: 12,
          statureCm: null,
          massKg: 70,
          armSpanCm: null,
          neckGirthCm: null,
          chestGirthCm: null,
          hipMobility: null,
          injuries: [],
          archived: false,
        },
        cookie,
      );
    const breakdown = library.find(({ technique }) => technique.id === 'rear-strangle')!.editions[0]!;
    const pairs = Array.from({ length: devices }, (_, i): [string, string] => [
      students[2 * i]!,
      students[2 * i + 1]!,
    ]);
    const session = uuidv7();
    await called(
      'PUT',
      `/api/sessions/${session}`,
      {
        id: session,
        technique: breakdown.technique,
        edition: 1,
        startedAt: new Date().toISOString(),
        endedAt: null,
        pairs,
        rung: 2,
        from: null,
        to: null,
        repsPerSide: 10,
        roundSeconds: 300,
        rounds: 3,
        prescribed: [],
      },
      cookie,
    );

    const counts = new Map<number, number>();
    const reports = pairs.map((pair, i) => {
      const order: DeviceOrder = {
        url,
        cookie,
        academy: who.academy.id,
        observer: who.coach.id,
        session,
        pair,
        taps,
        pace: hard ? 20 : 3,
        technique: breakdown.technique,
        checkpoints: breakdown.checkpoints.map(({ id }) => id),
        causes: Object.fromEntries(
          breakdown.checkpoints.map(({ id }) => [
            id,
            breakdown.mistakes.filter(({ at }) => at === id).map((mistake) => mistake.id),
          ]),
        ),
      };
      const device = fork('scripts/storm-device.ts', {
        execArgv: ['--import', 'tsx'],
        env: { ...process.env, STORM_ORDER: JSON.stringify(order) },
      });
      return new Promise<Extract<DeviceReport, { is: 'done' }>>((resolve, reject) => {
        device.on('message', (report: DeviceReport) => {
          if (report.is === 'tapped') counts.set(i, report.n);
          else resolve(report);
        });
        device.once('exit', (code) => reject(new Trouble(`A device ended with ${code} before it was done.`)));
      });
    });
    const anyFails = Promise.all(reports);
    const tappedShare = () => [...counts.values()].reduce((sum, n) => sum + n, 0) / (devices * taps);
    const until = async (share: number) => {
      while (tappedShare() < share) await Promise.race([rest(20), anyFails]);
    };
    const stored = async () => {
      const client = new pg.Client({ connectionString: database });
      await client.connect();
      const { rows } = await client.query<{ n: string }>('select count(*) as n from reps');
      await client.end();
      return Number(rows[0]!.n);
    };

    let over = false;
    const files: StormReport['files'] = [0, 0, 0];
    const takingOut = (async () => {
      for (let i = 0; hard && !over; i++) {
        const path = ['reps.csv', 'facts.json', 'academy.zip'][i % 3]!;
        await fetch(`${url}/api/export/${path}`, { headers: { cookie } })
          .then(async (response) => {
            const came = response.ok;
            await response.arrayBuffer().then(
              () => files[came ? 0 : 1]++,
              () => files[2]++,
            );
          })
          // Where no server is, nothing has begun.
          .catch(() => rest(200));
        await rest(100);
      }
    })();

    /** How many connections were thrown out, before it dies on its own and its database is frozen. */
    const hardships = async (): Promise<number> => {
      let thrownOut = 0;
      const admin = new pg.Client({ connectionString: cluster.url('postgres') });
      await admin.connect();
      for (let i = 0; i < 12; i++) {
        await rest(700);
        const { rows } = await admin.query(
          `select pg_terminate_backend(pid) from pg_stat_activity where datname = 'storm' and pid <> pg_backend_pid()`,
        );
        thrownOut += rows.length;
      }
      await admin.end();
      // It dies on its own, and nobody starts it but who keeps it up.
      process.kill(keptBy(server), 'SIGKILL');
      await until(0.6);
      cluster.freeze(true);
      await rest(frozenMs);
      cluster.freeze(false);
      await until(0.65);
      if (disk) {
        disk.fill(true);
        await rest(fullDiskMs);
        disk.fill(false);
        // Where it could not write its log it has ended.
        cluster.restart();
      }
      await ended(server);
      server = await start();
      return thrownOut;
    };

    await until(0.3);
    await ended(server, 'SIGKILL');
    const atKill = await stored();
    const tappedAtKill = tappedShare() * devices * taps;
    await rest(1500);
    server = await start(ahead?.env);
    const thrownOut = hard ? await hardships() : 0;
    await until(0.7);
    cluster.restart();
    const done = await Promise.all(reports);
    over = true;
    await takingOut;

    const client = new pg.Client({ connectionString: database });
    await client.connect();
    const ids = async (table: string) =>
      (await client.query<{ id: string }>(`select id from ${table}`)).rows.map(({ id }) => id);
    const [repIds, voidIds, tagIds] = [await ids('reps'), await ids('voids'), await ids('cause_tags')];
    await client.end();
    const of = (list: 'reps' | 'voids' | 'tags') => done.flatMap((device) => device[list]);
    const inStore = new Set(repIds);
    const report: StormReport = {
      tapped: of('reps').length,
      stored: repIds.length,
      distinct: inStore.size,
      missing: of('reps').filter((id) => !inStore.has(id)).length,
      voids: [of('voids').length, voidIds.length],
      tags: [of('tags').length, tagIds.length],
      refused: done.reduce((sum, device) => sum + device.refused, 0),
      failedCalls: done.reduce((sum, device) => sum + device.failedCalls, 0),
      waitingAtKill: Math.round(tappedAtKill - atKill),
      thrownOut,
      fullDiskMs: disk && fullDiskMs,
      daysAhead: ahead && ahead.days,
      files,
    };
    console.log(JSON.stringify(report));
  } finally {
    await ended(server, 'SIGKILL');
    cluster.stop();
    disk?.gone();
  }
}

/** What sets the clock of a process ahead; null where libfaketime is not installed. */
function daysAhead(): { days: number; env: Record<string, string> } | null {
  const library = readdirSync('/usr/lib')
    .map((one) => path.join('/usr/lib', one, 'faketime/libfaketimeMT.so.1'))
    .find((file) => existsSync(file));
  return library === undefined ? null : { days: 2, env: { LD_PRELOAD: library, FAKETIME: '+2d' } };
}
