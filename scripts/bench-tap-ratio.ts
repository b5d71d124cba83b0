import type { CDPSession, Page } from '@playwright/test';

/** What a kind of tap costs: milliseconds from the finger to the next paint, processor time, and tasks over 50 ms. */
export interface TapCost {
  paint: number;
  cpu: number;
  long: number;
}

export type TapKind = 'bare' | 'pair' | 'knot' | 'finish';
export type TapCosts = Readonly<Record<TapKind, TapCost>>;

const rounds = 3;
const tapsARound = 12;
const betweenMs = 420;
const fingerMs = 60;

const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

/** Notes how long each click takes until its paint, and every task over 50 ms. */
const watching = `window.seen = []; window.long = 0;
new PerformanceObserver((list) => {
  for (const entry of list.getEntries()) if (entry.name === 'click') window.seen.push(entry.duration);
}).observe({ type: 'event', durationThreshold: 16 });
new PerformanceObserver((list) => { window.long += list.getEntries().length; }).observe({ type: 'longtask' });`;

/** A button that says how often it was pressed, on a page with nothing else. */
const bare = `<button style="font-size:3rem;width:400px;height:200px" onclick="this.textContent = ++this.n" >0</button>
<script>document.querySelector('button').n = 0</script>`;

async function cpuOf(client: CDPSession): Promise<number> {
  const { metrics } = await client.send('Performance.getMetrics');
  return (metrics.find(({ name }) => name === 'TaskDuration')?.value ?? 0) * 1000;
}

async function tapsOn(
  page: Page,
  at: readonly { x: number; y: number }[],
  slowdown: number,
): Promise<TapCost> {
  const client = await page.context().newCDPSession(page);
  await client.send('Performance.enable');
  const tap = async (i: number) => {
    const { x, y } = at[i % at.length]!;
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.waitForTimeout(fingerMs);
    await page.mouse.up();
    await page.waitForTimeout(betweenMs);
  };
  for (let i = 0; i < 4; i++) await tap(i);
  // Processor time without a slowdown, which would be part of it.
  const before = await cpuOf(client);
  for (let i = 0; i < tapsARound; i++) await tap(i);
  const cpu = ((await cpuOf(client)) - before) / tapsARound;
  await client.send('Emulation.setCPUThrottlingRate', { rate: slowdown });
  await page.waitForTimeout(500);
  await page.evaluate(watching);
  for (let i = 0; i < tapsARound; i++) await tap(i);
  const { seen, long } = await page.evaluate(() => {
    const { seen: durations, long: tasks } = window as unknown as { seen: number[]; long: number };
    return { seen: durations, long: tasks };
  });
  await client.send('Emulation.setCPUThrottlingRate', { rate: 1 });
  await client.detach();
  // Event Timing tells only of events over 16 ms; the others took less.
  const all = [...seen, ...Array<number>(Math.max(0, tapsARound - seen.length)).fill(16)];
  return { paint: median(all), cpu, long: long / tapsARound };
}

/**
 * Taps on a pair, a knot and the ring of the Mat next to taps on a bare button of an empty page, in turns on the same
 * machine: the median of three rounds each. A single time says little if the machine's speed swings; the ratios do.
 */
export async function tapRatios(page: Page, mat: string, slowdown: number): Promise<TapCosts> {
  const costs: Record<TapKind, TapCost[]> = { bare: [], pair: [], knot: [], finish: [] };
  const middle = async (of: ReturnType<Page['getByRole']>) => {
    const box = (await of.boundingBox())!;
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  };
  for (let round = 0; round < rounds; round++) {
    await page.goto('about:blank');
    await page.setContent(bare);
    costs.bare.push(await tapsOn(page, [await middle(page.getByRole('button'))], slowdown));
    await page.goto(mat);
    await page.getByTestId('pair').first().waitFor();
    await page.waitForTimeout(3000);
    const pairs = [
      await middle(page.getByTestId('pair').nth(1)),
      await middle(page.getByTestId('pair').nth(2)),
    ];
    costs.pair.push(await tapsOn(page, pairs, slowdown));
    const knots = await Promise.all(
      [2, 3, 4, 5].map((n) => middle(page.getByRole('button', { name: new RegExp(`^Stopped at ${n} `) }))),
    );
    costs.knot.push(await tapsOn(page, knots, slowdown));
    costs.finish.push(
      await tapsOn(page, [await middle(page.getByRole('button', { name: /^Finished/ }))], slowdown),
    );
  }
  const of = (kind: TapKind): TapCost => ({
    paint: median(costs[kind].map(({ paint }) => paint)),
    cpu: median(costs[kind].map(({ cpu }) => cpu)),
    long: median(costs[kind].map(({ long }) => long)),
  });
  return { bare: of('bare'), pair: of('pair'), knot: of('knot'), finish: of('finish') };
}
