import type { Browser, Page } from '@playwright/test';
import { type Draft, libraryIndex, searchableOf } from '@ulkret/core/breakdown';
import { library } from '@ulkret/demo';

/** Words of the library, so that made-up techniques read like real ones. */
const words = library.flatMap(({ editions }) =>
  editions[0]!.checkpoints.flatMap(({ title, criterion }) => `${title} ${criterion}`.split(/\s+/)),
);

/** Time of a search over 500 techniques, mistyped words included: median and worst, in milliseconds. */
export function searchTimes(): { median: number; worst: number } {
  const list = Array.from({ length: 500 }, (_, i) => {
    const { technique, editions } = library[i % library.length]!;
    const own = Array.from({ length: 60 }, (__, k) => words[(i * 37 + k * 11) % words.length]!).join(' ');
    const [first] = editions[0]!.checkpoints;
    return {
      ...searchableOf({ ...technique, id: `t${i}`, name: `${technique.name} ${i}` }, { checkpoints: [] }),
      checkpoints: `${first!.title} ${own}`,
    };
  });
  const index = libraryIndex(list);
  const asked = [
    'stranlge',
    'armlok',
    'shoulder floor',
    'kne',
    'elbow ribs',
    'hips turned across',
    'wrsit',
    'h',
    'moutn neck',
    'collar deep',
  ];
  const spent = asked
    .flatMap((text) =>
      Array.from({ length: 5 }, () => {
        const start = performance.now();
        index.find(text);
        return performance.now() - start;
      }),
    )
    .sort((a, b) => a - b);
  return { median: spent[Math.floor(spent.length / 2)]!, worst: spent.at(-1)! };
}

/** A breakdown of 40 checkpoints, the largest to be expected. */
function largeDraft(): Draft {
  const { editions } = library[0]!;
  const one = editions[0]!;
  const checkpoints = Array.from({ length: 40 }, (_, i) => {
    const from = one.checkpoints[i % one.checkpoints.length]!;
    return {
      ...from,
      id: `p${i}`,
      title: `${from.title} ${i}`.slice(0, 60),
      after: i > 0 ? [`p${i - 1}`] : [],
      belief: 2.5,
      mendable: null,
    };
  });
  const spread = <T extends { id: string }>(
    list: readonly T[],
    n: number,
    place: (id: string) => object,
  ): T[] =>
    Array.from({ length: n }, (_, i) => ({
      ...list[i % list.length]!,
      id: `x${n}-${i}`,
      ...place(`p${i % 40}`),
    }));
  return {
    ...one,
    technique: 'large',
    checkpoints,
    mistakes: spread(one.mistakes, 60, (id) => ({ at: id, root: id })),
    defences: spread(one.defences, 30, (id) => ({
      opens: id,
      closes: id,
      answers: [],
      brokenDownIn: undefined,
    })),
  };
}

/** What Chromium calls a task of a thread, by its version. */
const taskNames = new Set(['RunTask', 'ThreadControllerImpl::RunTask']);

interface TraceEvent {
  name: string;
  ph: string;
  dur?: number;
  tid: number;
  pid: number;
  args?: { name?: string };
}

/** Tasks of the main thread, in milliseconds, while somebody types into the field that has the focus, the processor slowed. */
async function tasksOfTyping(browser: Browser, page: Page, slowdown: number): Promise<number[]> {
  await page.waitForTimeout(1500);
  const client = await page.context().newCDPSession(page);
  await client.send('Emulation.setCPUThrottlingRate', { rate: slowdown });
  await browser.startTracing(page, {
    categories: ['toplevel', 'devtools.timeline', 'disabled-by-default-devtools.timeline'],
  });
  for (let word = 0; word < 8; word++) {
    await page.keyboard.type(' elbows', { delay: 90 });
    await page.waitForTimeout(500); // a pause, in which the page is told and the critique looks
  }
  const trace = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: TraceEvent[] };
  await client.send('Emulation.setCPUThrottlingRate', { rate: 1 });
  const main = trace.traceEvents.filter(
    ({ name, args }) => name === 'thread_name' && args?.name === 'CrRendererMain',
  );
  const on = new Set(main.map(({ pid, tid }) => `${pid} ${tid}`));
  return trace.traceEvents
    .filter(
      ({ name, ph, pid, tid, dur }) =>
        taskNames.has(name) && ph === 'X' && dur !== undefined && on.has(`${pid} ${tid}`),
    )
    .map(({ dur }) => dur! / 1000)
    .sort((a, b) => a - b);
}

const told = (tasks: readonly number[]) => ({
  longest: tasks.at(-1) ?? NaN,
  most: tasks[Math.floor(tasks.length * 0.99)] ?? NaN,
});

/** Typing in a breakdown of 40 checkpoints, and in a bare text field on an empty page, which is the least that can be. */
export async function typingTasks(browser: Browser, page: Page, url: string, slowdown: number) {
  await page.evaluate(
    async (body) => {
      const headers = { 'content-type': 'application/json' };
      await fetch('/api/import/breakdown', { method: 'POST', headers, body });
    },
    JSON.stringify({
      format: 'ulkret.breakdown/1',
      techniques: [
        { technique: { ...library[0]!.technique, id: 'large', name: 'Large' }, editions: [largeDraft()] },
      ],
    }),
  );
  await page.goto(`${url}/library/large?edit=1`);
  await page.getByLabel(/^Criterion: one/).click();
  const here = told(await tasksOfTyping(browser, page, slowdown));
  const bare = await page.context().newPage();
  await bare.setContent('<textarea rows="2"></textarea>');
  await bare.locator('textarea').click();
  const least = told(await tasksOfTyping(browser, bare, slowdown));
  await bare.close();
  return { here, least };
}
