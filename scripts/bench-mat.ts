import { setTimeout as rest } from 'node:timers/promises';
import type { BrowserContext, Page } from '@playwright/test';
import type { Id } from '@ulkret/core/breakdown';
import { Student } from '@ulkret/core/people';
import { Rep } from '@ulkret/core/rep';
import { pairByMass, Session } from '@ulkret/core/session';
import type { Db } from '@ulkret/server/db/connect';
import { roster, saveStudent } from '@ulkret/server/people/roster';
import { saveSession } from '@ulkret/server/class/sessions';
import { takeFacts } from '@ulkret/server/intake/take';
import pg from 'pg';
import { uuidv7 } from 'uuidv7';
import { drilled, someStudents, tapped } from './bench-taps';
import { freePort } from './postgres';
import { ended, started } from './started';
import { Trouble } from './trouble';

const taps = 80;
const pairCount = 20;
const repCount = 2000;

/** A session of twenty pairs in which two thousand reps are logged already; answers with its id. */
export async function fullSession(db: Db, academy: Id): Promise<string> {
  for (let i = 0; (await roster(db, academy)).length < 2 * pairCount; i++)
    await saveStudent(
      db,
      academy,
      Student.parse({
        id: `more-${i}`,
        name: `More ${i}`,
        born: null,
        mainSide: 'right',
        experienceMonths: 24,
        statureCm: null,
        massKg: 60 + i,
        armSpanCm: null,
        neckGirthCm: null,
        chestGirthCm: null,
        hipMobility: null,
        injuries: [],
        archived: false,
      }),
    );
  const people = (await roster(db, academy)).slice(0, 2 * pairCount);
  const start = Date.now() - 3_600_000;
  const session = Session.parse({
    id: uuidv7(),
    technique: drilled.technique,
    edition: drilled.edition,
    endedAt: null,
    rung: 2,
    startedAt: new Date(start).toISOString(),
    pairs: pairByMass(people).pairs,
    from: null,
    to: null,
    repsPerSide: 10,
    roundSeconds: 300,
    rounds: 3,
    prescribed: people.map(({ id }) => ({ student: id, checkpoint: 'arm-under-chin', rung: 2 })),
  });
  await saveSession(db, academy, session);
  const reps = Array.from({ length: repCount }, (_, i) => {
    const pair = session.pairs[i % pairCount]!;
    const turn = Math.floor(i / pairCount / 10) % 4;
    return Rep.parse({
      id: uuidv7(),
      session: session.id,
      at: new Date(start + i * 1500).toISOString(),
      technique: drilled.technique,
      edition: drilled.edition,
      student: pair[turn < 2 ? 0 : 1],
      partner: pair[turn < 2 ? 1 : 0],
      rung: 2,
      from: null,
      to: null,
      side: turn % 2 === 0 ? 'right' : 'left',
      soft: [],
      cause: null,
      observer: 'maren',
      source: 'mat',
      note: '',
      ...(i % 3 === 0
        ? { outcome: 'stopped', stop: drilled.checkpoints[i % drilled.checkpoints.length]!.id }
        : { outcome: 'finished' }),
    });
  });
  const sender = { id: 'maren', decides: true, forOthers: true };
  const answers = await takeFacts(db, academy, { reps }, sender);
  const bad = answers.find(({ answer }) => answer !== 'accepted');
  if (bad) throw new Trouble(`A rep of the class was not taken: ${bad.reason}`);
  return session.id;
}

/** Duration of each tap from the finger to the next paint (Event Timing), on a page whose processor is slowed. */
export async function tapToPaint(
  page: Page,
  mat: string,
  slowdown: number,
): Promise<{ durations: number[]; painted: boolean }> {
  await page.goto(mat);
  await page.getByTestId('pair').first().waitFor();
  const client = await page.context().newCDPSession(page);
  await client.send('Emulation.setCPUThrottlingRate', { rate: slowdown });
  await page.evaluate(() => {
    const seen: number[] = [];
    Object.assign(window, { seen });
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) if (entry.name === 'click') seen.push(entry.duration);
    }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit);
  });
  // The mark must be in the frame that ends the tap, or the durations would speak of something else.
  const painted = await page.evaluate(async () => {
    const words = document.querySelector('[data-testid=count]')!;
    const before = words.textContent;
    window.dispatchEvent(
      new KeyboardEvent('keydown', { key: 'Enter', code: 'Enter', bubbles: true, cancelable: true }),
    );
    await new Promise(requestAnimationFrame);
    return words.textContent !== before;
  });
  // Where the knots are is asked once: to find them by their names costs the page more than a tap does.
  const knots = await Promise.all(
    Array.from({ length: 8 }, async (_, place) => {
      const knot = page.getByRole('button', { name: new RegExp(`^Stopped at ${place + 1} `) });
      return (await knot.boundingBox())!;
    }),
  );
  for (let i = 0; i < taps; i++) {
    const knot = knots[i % knots.length]!;
    await page.mouse.move(knot.x + knot.width / 2, knot.y + knot.height / 2);
    await page.waitForTimeout(80);
    await page.mouse.down();
    await page.waitForTimeout(60); // a finger stays about that long
    await page.mouse.up();
    await page.waitForTimeout(160);
  }
  const slow = await page.evaluate(() => (window as unknown as { seen: number[] }).seen);
  await client.send('Emulation.setCPUThrottlingRate', { rate: 1 });
  // Event Timing tells only of events over 16 ms; the others took less.
  const durations = [...slow, ...Array<number>(Math.max(0, taps - slow.length)).fill(16)].sort(
    (a, b) => a - b,
  );
  return { durations, painted };
}

/** Presses the key of a tap as soon as a pair is there, and says when its mark was painted, in milliseconds of the page. */
const pressAtOnce = `window.marked = (async () => {
  const words = () => document.querySelector('[data-testid=count]')?.textContent;
  const frame = () => new Promise(requestAnimationFrame);
  while (words() === undefined) await frame();
  const before = words();
  dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', code: 'Enter', bubbles: true, cancelable: true }));
  while (words() === before) await frame();
  return performance.now();
})();`;

/**
 * Milliseconds from opening the address of a session, without a network, on a page whose processor is slowed, to the
 * painted mark of the first tap: the median of five. The context has been on that page before. The page measures itself: to be
 * asked from outside whether it is there costs it a tenth of the time.
 */
export async function coldOfflineStart(
  context: BrowserContext,
  mat: string,
  slowdown: number,
): Promise<number> {
  const warm = await context.newPage();
  await warm.goto(mat);
  await warm.getByTestId('pair').first().waitFor();
  await warm.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  await warm.waitForTimeout(3000);
  await warm.close();
  await context.setOffline(true);
  const spent: number[] = [];
  for (let i = 0; i < 5; i++) {
    const page = await context.newPage();
    await page.addInitScript({ content: pressAtOnce });
    const client = await context.newCDPSession(page);
    await client.send('Emulation.setCPUThrottlingRate', { rate: slowdown });
    await page.goto(mat, { waitUntil: 'commit' });
    spent.push(await page.evaluate(() => (window as unknown as { marked: Promise<number> }).marked));
    await page.close();
  }
  await context.setOffline(false);
  return spent.sort((a, b) => a - b)[2]!;
}

const tapsSeen = 30;

/** Milliseconds from a tap on one device to its mark on another that has the same session open, in order. */
export async function seenElsewhere(here: Page, there: Page, mat: string): Promise<number[]> {
  for (const page of [here, there]) {
    await page.goto(mat);
    await page.getByTestId('pair').first().waitFor();
  }
  // Whichever pair was open before.
  await here.getByTestId('pair').first().click();
  const words = there.getByTestId('count').first();
  const spent: number[] = [];
  for (let i = 0; i < tapsSeen; i++) {
    const before = await words.textContent();
    const seen = there.waitForFunction(
      (old) => document.querySelector('[data-testid=count]')!.textContent !== old,
      before,
    );
    const start = performance.now();
    await here.keyboard.press('Enter');
    await seen;
    spent.push(performance.now() - start);
  }
  return spent.sort((a, b) => a - b);
}

const devices = 200;
const perBatch = 5;
const everyMs = 2000;
const forMs = 20_000;

/** Two hundred devices that each send a batch of five reps every two seconds to one server process of its own. */
export async function crowd(database: string, signIn: { email: string; password: string }) {
  const port = await freePort();
  const url = `http://127.0.0.1:${port}`;
  const server = await started(['--port', String(port)], { DATABASE_URL: database });
  const send = (address: string, body: unknown, cookie = '') =>
    fetch(url + address, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie },
      body: JSON.stringify(body),
    });
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  try {
    const cookie = (await send('/api/session', signIn)).headers.get('set-cookie')!.split(';')[0]!;
    const ids = await someStudents(client);
    const session = uuidv7();
    const batchOf = (device: number) =>
      Array.from({ length: perBatch }, (_, i) => tapped(session, ids, device + i, i));
    const latencies: number[] = [];
    let errors = 0;
    const end = performance.now() + forMs;
    const start = performance.now();
    await Promise.all(
      Array.from({ length: devices }, async (_, device) => {
        await rest((device * everyMs) / devices);
        while (performance.now() < end) {
          const asked = performance.now();
          try {
            const response = await send('/api/reps', { reps: batchOf(device) }, cookie);
            const { items } = (await response.json()) as { items: { answer: string }[] };
            if (items.length !== perBatch || items.some(({ answer }) => answer !== 'accepted')) errors++;
          } catch {
            errors++;
          }
          latencies.push(performance.now() - asked);
          await rest(Math.max(0, everyMs - (performance.now() - asked)));
        }
      }),
    );
    const rate = (latencies.length * perBatch * 1000) / (performance.now() - start);
    // The same rows by a plain INSERT each, one after the other, on the same quiet database.
    await client.query('create table crowd_plain (like reps including all)');
    const plain: number[] = [];
    for (let i = 0; i < 200; i++) {
      const rows = batchOf(i).map((rep) => ({ ...rep, academy_id: 'x' }));
      const columns = Object.keys(rows[0]!).filter((name) => name !== 'stop');
      const holes = rows.map(
        (_, r) => `(${columns.map((__, c) => `$${r * columns.length + c + 1}`).join()})`,
      );
      const asked = performance.now();
      await client.query(
        `insert into crowd_plain (${columns.map((name) => `"${name}"`).join()}) values ${holes.join()}`,
        rows.flatMap((row) => columns.map((name) => (row as Record<string, unknown>)[name])),
      );
      plain.push(performance.now() - asked);
    }
    latencies.sort((a, b) => a - b);
    plain.sort((a, b) => a - b);
    const plainRate = (plain.length * perBatch * 1000) / plain.reduce((sum, ms) => sum + ms, 0);
    return {
      devices,
      perBatch,
      everyMs,
      batches: latencies.length,
      errors,
      p50: latencies[Math.floor(latencies.length * 0.5)]!,
      p99: latencies[Math.floor(latencies.length * 0.99)]!,
      plain: plain[100]!,
      share: rate / plainRate,
    };
  } finally {
    await client.end();
    await ended(server);
  }
}
