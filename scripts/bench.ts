import { createServer as createHttpServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { gzipSync } from 'node:zlib';
import { chromium as browserType, type Page } from '@playwright/test';
import { repColumns } from '@ulkret/core/formats';
import { demoAcademy, demoSignIn, library } from '@ulkret/demo';
import { createServer } from '@ulkret/server';
import { hashPassword } from '@ulkret/server/access/secrets';
import { loadAcademy } from '@ulkret/server/keeping/academies';
import { connect, migrateForward } from '@ulkret/server/db/connect';
import { listenForFacts } from '@ulkret/server/live/live';
import { readInThread, transferInThread } from '@ulkret/server/threads/desk';
import pg from 'pg';
import { searchTimes, typingTasks } from './bench-library';
import { coldOfflineStart, crowd, fullSession, seenElsewhere, tapToPaint } from './bench-mat';
import { tapRatios } from './bench-tap-ratio';
import { fitTimes } from './bench-fit';
import { wallCost } from './bench-wall';
import { underPressure, type UnderPressure } from './bench-pressure';
import { startTimes } from './bench-start';
import { decidingTimes, singleTrials, largeRoom, pageTimes, talliesAtScale } from './bench-readings';
import { buildWeb } from './build';
import { startThrowawayCluster } from './postgres';
import { chromium } from './test';

const line = (what: string, value: string, bound: string) =>
  console.log(`${what.padEnd(58)} ${value.padStart(14)}   ${bound}`);

const slowdown = 4;

/** Bytes of JavaScript that a page loads, compressed with gzip. */
async function scriptBytes(page: Page, url: string): Promise<number> {
  let bytes = 0;
  const pending: Promise<void>[] = [];
  page.on('response', (response) => {
    if (response.url().endsWith('.js') && response.status() === 200)
      pending.push(response.body().then((body) => void (bytes += gzipSync(body).length)));
  });
  await page.goto(url);
  await page.getByRole('heading').first().waitFor();
  await page.waitForLoadState('networkidle');
  await Promise.all(pending);
  page.removeAllListeners('response');
  return bytes;
}

const perBatch = 500;

/** Reps a second through the API, and by a plain multi-row INSERT of the same rows, in turns. */
async function ingestRates(url: string, cookie: string, database: string, academy: string) {
  const { data } = demoAcademy(Date.now(), 0.77);
  const reps = data.facts.reps.map((rep) => ({
    ...rep,
    at: new Date(Date.parse(rep.at) - 90 * 86_400_000).toISOString(),
    // Nobody sends what another one has noted.
    observer: 'maren',
  }));
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  await client.query('create table plain (like reps including all)');
  const names = repColumns.slice(0, repColumns.indexOf('stop'));
  const columns = ['academy_id', ...names, 'stop', 'soft', 'cause', 'observer', 'source', 'note'];
  const spent = { api: 0, plain: 0 };
  let stored = 0;
  for (let i = 0; i < reps.length; i += perBatch) {
    const part = reps.slice(i, i + perBatch);
    const one = async () => {
      const start = performance.now();
      const response = await fetch(`${url}/api/reps`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', cookie },
        body: JSON.stringify({ reps: part }),
      });
      const { items } = (await response.json()) as { items: { answer: string }[] };
      spent.api += performance.now() - start;
      stored += items.filter(({ answer }) => answer === 'accepted').length;
    };
    const two = async () => {
      const rows = part.map((rep) => [
        academy,
        ...names.map((name) => (rep as unknown as Record<string, unknown>)[name]),
        rep.outcome === 'stopped' ? rep.stop : null,
        rep.soft,
        rep.cause,
        rep.observer,
        rep.source,
        rep.note,
      ]);
      const start = performance.now();
      const holes = rows.map((row, r) => `(${row.map((_, c) => `$${r * row.length + c + 1}`).join()})`);
      await client.query(
        `insert into plain (${columns.map((name) => `"${name}"`).join()}) values ${holes.join()}`,
        rows.flat(),
      );
      spent.plain += performance.now() - start;
    };
    if ((i / perBatch) % 2 === 0) await one().then(two);
    else await two().then(one);
  }
  await client.end();
  if (stored !== reps.length) throw new Error(`${stored} of ${reps.length} reps were accepted`);
  return { n: reps.length, api: (reps.length / spent.api) * 1000, plain: (reps.length / spent.plain) * 1000 };
}

/**
 * `npm run bench -- [mat|start|crowd|pressure|library|ingest|wall|fit|deciding|tallies]`: what must be fast, measured in one run, or the parts named; comparisons are
 * ratios of things measured side by side.
 */
export async function run(args: string[]): Promise<void> {
  const wanted = (part: string) => args.length === 0 || args.includes(part);
  const cluster = await startThrowawayCluster();
  await cluster.ensureDatabase('bench');
  const database = cluster.url('bench');
  await migrateForward(database, path.resolve('server/db/migrations'));
  const { db, close } = connect(database);
  const { data } = demoAcademy(Date.now());
  const passwordHash = await hashPassword(demoSignIn.password);
  await loadAcademy(
    db,
    { ...data, coaches: data.coaches.map((coach) => ({ ...coach, passwordHash })) },
    true,
  );
  const webRoot = await buildWeb();
  const live = listenForFacts(database, db);
  const readings = readInThread(database);
  const transfers = transferInThread(database);
  const http = createHttpServer(
    createServer(db, {
      version: 'bench',
      webRoot,
      demoSignIn,
      starter: library,
      log: null,
      live,
      readings,
      transfers,
      keeper: null,
      firstCode: null,
      trustProxy: false,
      security: null,
      looks: null,
      whatIsWrong: () => null,
    }),
  );
  await new Promise<void>((resolve) => http.listen(0, '127.0.0.1', resolve));
  const url = `http://127.0.0.1:${(http.address() as AddressInfo).port}`;
  const browser = await browserType.launch({
    executablePath: chromium(),
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    console.log();
    const enter = async (on: Page) => {
      await on.goto(url);
      await on.getByRole('button', { name: 'Enter the demo' }).click();
      await on.getByRole('heading', { name: 'Today' }).waitFor();
      // The first reading of an academy takes a core for some seconds: nothing is timed next to it.
      await on.waitForLoadState('networkidle');
    };
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    await enter(page);
    if (wanted('mat')) {
      // What a first visit loads: without the service worker, which then fetches all the rest in its own time.
      const plain = await browser.newContext({ serviceWorkers: 'block' });
      const visitor = await plain.newPage();
      const first = await scriptBytes(visitor, url);
      await enter(visitor);
      const today = await scriptBytes(visitor, url);
      await plain.close();
      line(
        'JavaScript of the first route (sign-in), gzip',
        `${(first / 1000).toFixed(0)} kB`,
        'under 180 kB',
      );
      line('JavaScript of Today, signed in, gzip', `${(today / 1000).toFixed(0)} kB`, 'under 205 kB');
      const session = await fullSession(db, data.academy.id);
      const { durations, painted } = await tapToPaint(page, `${url}/mat/${session}`, slowdown);
      const at = (share: number) =>
        durations[Math.min(durations.length - 1, Math.floor(durations.length * share))]!;
      line(
        `tap to painted mark, 20 pairs, 2,000 reps, slowed ${slowdown}×: p50`,
        `${at(0.5)} ms`,
        `${durations.length} taps`,
      );
      line('  p95', `${at(0.95)} ms`, 'under 50 ms');
      line('  the mark is in the frame that ends the tap', String(painted), 'true');
      const costs = await tapRatios(page, `${url}/mat/${session}`, slowdown);
      for (const kind of ['pair', 'knot', 'finish'] as const) {
        const { paint, cpu, long } = costs[kind];
        line(
          `tap on a ${kind} to its paint, next to a bare button, ${slowdown}×`,
          `${(paint / costs.bare.paint).toFixed(2)} ×`,
          `at most 1.5 × (${paint} ms, bare ${costs.bare.paint} ms)`,
        );
        line(
          '  processor time a tap, not slowed',
          `${cpu.toFixed(0)} ms`,
          `at most 25 ms (bare ${costs.bare.cpu.toFixed(0)} ms)`,
        );
        line('  tasks over 50 ms a tap', long.toFixed(2), `0 (bare ${costs.bare.long.toFixed(2)})`);
      }
      const second = await browser.newContext({ storageState: await context.storageState() });
      const seen = await seenElsewhere(page, await second.newPage(), `${url}/mat/${session}`);
      await second.close();
      line('tap to its mark on a second device: p50', `${seen[seen.length >> 1]!.toFixed(0)} ms`, '');
      line('  the longest', `${seen.at(-1)!.toFixed(0)} ms`, 'under 1 s');
      const cold = await coldOfflineStart(context, `${url}/mat/${session}`, slowdown);
      line(
        `cold offline start to the first painted tap, slowed ${slowdown}×`,
        `${(cold / 1000).toFixed(2)} s`,
        'under 2 s (median of 5)',
      );
    }
    if (wanted('start')) {
      const { first, second } = await startTimes();
      line('start with the demo, from nothing', `${(first / 1000).toFixed(1)} s`, '');
      line('  the second time', `${(second / 1000).toFixed(1)} s`, 'under 5 s');
    }
    if (wanted('crowd')) {
      const seen = await crowd(database, demoSignIn);
      line(
        `${seen.devices} devices, each ${seen.perBatch} reps every ${seen.everyMs / 1000} s: batches, errors`,
        `${seen.batches}, ${seen.errors}`,
        'no error',
      );
      line('  latency: p50', `${seen.p50.toFixed(0)} ms`, '');
      line('  p99', `${seen.p99.toFixed(0)} ms`, '');
      line('  p50 against a plain INSERT of the same rows', `${(seen.p50 / seen.plain).toFixed(1)} ×`, '');
      line('  reps a second, against the rate of plain INSERTs', `${(100 * seen.share).toFixed(0)} %`, '');
    }
    if (wanted('pressure')) {
      let alone: UnderPressure | null = null;
      for await (const one of underPressure(database, demoSignIn)) {
        line(`a batch of taps, ${one.name}: p50`, `${one.p50.toFixed(0)} ms`, `${one.taps} batches`);
        line('  p99', `${one.p99.toFixed(0)} ms`, 'under 1 s');
        if (alone) {
          const times = [one.p50 / alone.p50, one.p99 / alone.p99].map((ratio) => ratio.toFixed(1));
          line('  p50 and p99 against alone', `${times.join(', ')} ×`, one.told);
        }
        alone ??= one;
      }
    }
    if (wanted('library')) {
      const search = searchTimes();
      line('search over 500 techniques, mistyped: median', `${search.median.toFixed(1)} ms`, '');
      line('  worst', `${search.worst.toFixed(1)} ms`, 'under 30 ms');
      const typing = await typingTasks(browser, page, url, slowdown);
      const told = (longest: readonly number[]) => {
        const [quietest, , middle] = longest.toSorted((a, b) => a - b);
        return `${quietest!.toFixed(0)}, ${middle!.toFixed(0)} ms`;
      };
      line(
        `typing, 40 checkpoints, slowed ${slowdown}×: longest task of a round`,
        '',
        'quietest, median of 5',
      );
      for (const { field, longest } of typing.seen) line(`  ${field}`, told(longest), 'under 16 ms');
      line('  a bare field on an empty page', told(typing.least), '');
    }
    if (wanted('ingest')) {
      const cookie = (await context.cookies()).map(({ name, value }) => `${name}=${value}`).join('; ');
      const rates = await ingestRates(url, cookie, database, data.academy.id);
      line(
        `ingest through the API, ${rates.n} reps in batches of ${perBatch}`,
        `${rates.api.toFixed(0)} reps/s`,
        '',
      );
      line('  plain multi-row INSERT of the same rows', `${rates.plain.toFixed(0)} reps/s`, '');
      line('  share of the plain rate', `${((100 * rates.api) / rates.plain).toFixed(0)} %`, '');
    }
    if (wanted('wall')) {
      const { behind, without } = await wallCost(database, data.academy.id);
      line(
        'a batch of taps behind the wall between academies, against without',
        `${(behind / without).toFixed(3)} ×`,
        `at most 1.05 × (${behind.toFixed(1)} ms, without ${without.toFixed(1)} ms)`,
      );
    }
    if (wanted('fit')) {
      const toldOf = (where: string, times: Awaited<ReturnType<typeof pageTimes>>) => {
        line(`${where}: roster page painted`, `${times.roster.toFixed(0)} ms`, '');
        line('  squad page, plain numbers painted', `${times.ratio.toFixed(2)} ×`, 'under 1.3 ×');
        line('  refined in place', `${(times.refined / 1000).toFixed(2)} s`, 'under 2 s');
        line('  the first time after new reps', `${(times.first / 1000).toFixed(2)} s`, '');
      };
      toldOf('demo', await pageTimes(page, url, 'rear-strangle', /^Amara/));
      const large = await largeRoom(db, database, url, browser);
      toldOf('40 students, 12 × 9 checkpoints, 20,000 reps', large);
      line('  longest task of the main thread', `${large.longest.toFixed(0)} ms`, 'under 50 ms');
      const { trials, ours, lme4 } = fitTimes(singleTrials());
      const [fresh, ...warm] = ours.seconds as [number, ...number[]];
      const best = Math.min(...warm);
      const told = ({ student, deviation }: typeof ours.scales) =>
        `${student.toFixed(4)}, ${deviation.toFixed(4)}`;
      line(
        `packing and fitting ${trials} trials, no two alike: processor time, fresh, warm`,
        `${fresh.toFixed(2)}, ${best.toFixed(2)} s`,
        `scales ${told(ours.scales)} (true 0.45, 0.70), at most ${(ours.peakBytes / 1e6).toFixed(0)} MB`,
      );
      line(
        '  against R’s lme4 on the same, in the same run',
        lme4 ? [fresh, best].map((one) => `${(lme4.seconds / one).toFixed(0)} ×`).join(', ') : 'no R here',
        `at least 150 ×, 250 ×${lme4 ? ` (${lme4.seconds.toFixed(1)} s, scales ${told(lme4.scales)})` : ''}`,
      );
    }
    if (wanted('deciding')) {
      const { deciding, reading, decided, students } = decidingTimes();
      line(
        `deciding for ${students} students on 12 techniques`,
        `${deciding.toFixed(0)} ms`,
        `under 300 ms (${decided} decisions, once the readings are there)`,
      );
      line('  making those readings, once the model is there', `${reading.toFixed(0)} ms`, '');
    }
    if (wanted('tallies')) {
      const scale = await talliesAtScale(db, database);
      line(
        `squad page’s tallies of 1,000,000 reps (${scale.rows} rows kept)`,
        `${scale.large.toFixed(0)} ms`,
        '',
      );
      line(
        '  against a bare scan of the tallies',
        `${(scale.large / scale.scan).toFixed(2)} ×`,
        'at most 2 ×',
      );
      line('  against 100,000 reps', `${(scale.large / scale.small).toFixed(2)} ×`, 'about 1 ×');
    }
  } finally {
    await browser.close();
    http.close();
    http.closeAllConnections();
    await readings.close();
    await transfers.close();
    await live.close();
    await close();
    cluster.stop();
  }
}
