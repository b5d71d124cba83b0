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
  /** Time on the processor, without what the thread waited for it. */
  tdur?: number;
  tid: number;
  pid: number;
  args?: { name?: string };
}

/** Milliseconds on the processor of the longest task of the main thread while somebody types into the field that has the focus, the processor slowed. */
async function longestTask(browser: Browser, page: Page, slowdown: number): Promise<number> {
  const client = await page.context().newCDPSession(page);
  await client.send('Emulation.setCPUThrottlingRate', { rate: slowdown });
  await browser.startTracing(page, {
    categories: ['toplevel', 'devtools.timeline', 'disabled-by-default-devtools.timeline'],
  });
  for (let word = 0; word < 4; word++) {
    await page.keyboard.type(' elbows', { delay: 90 });
    await page.waitForTimeout(600); // a pause, in which the page is told and the critique looks
  }
  const trace = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: TraceEvent[] };
  await client.send('Emulation.setCPUThrottlingRate', { rate: 1 });
  await client.detach();
  const main = trace.traceEvents.filter(
    ({ name, args }) => name === 'thread_name' && args?.name === 'CrRendererMain',
  );
  const on = new Set(main.map(({ pid, tid }) => `${pid} ${tid}`));
  const tasks = trace.traceEvents.filter(
    ({ name, ph, pid, tid }) => taskNames.has(name) && ph === 'X' && on.has(`${pid} ${tid}`),
  );
  return Math.max(...tasks.map(({ dur, tdur }) => (tdur ?? dur ?? 0) / 1000));
}

/** Opens the breakdown of 40 checkpoints to be written. */
export async function openLarge(page: Page, url: string): Promise<void> {
  await page.evaluate(
    async (body) => {
      const headers = { 'content-type': 'application/json' };
      await fetch('/api/import/breakdown', { method: 'POST', headers, body });
    },
    JSON.stringify({
      format: 'ulkret.breakdown/2',
      techniques: [
        { technique: { ...library[0]!.technique, id: 'large', name: 'Large' }, editions: [largeDraft()] },
      ],
    }),
  );
  await page.goto(`${url}/library/large?edit=1`);
  await page.getByLabel(/^Criterion: one/).waitFor();
}

/** Fields of every part of the form by their label, each with what is unfolded or pressed before. */
const fields: { label: string | RegExp; unfold?: string; press?: RegExp }[] = [
  { label: 'What you see', unfold: 'Mistakes' },
  { label: /^Signal/, unfold: 'Defences' },
  { label: 'Title, as a short order', press: /^40 / },
  { label: /^Criterion: one/ },
  { label: 'Sign 1' },
  { label: /^Name/, press: /^Technique/ },
  { label: 'Safety note' },
];
const rounds = 5;

/**
 * Typing in fields of a breakdown of 40 checkpoints, and in a bare text field on an empty page, which is the least that
 * can be: the longest task of every round, in milliseconds. All rounds have the same work, and whatever else the machine
 * does only adds to it: the quietest is the nearest to it.
 */
export async function typingTasks(browser: Browser, page: Page, url: string, slowdown: number) {
  await openLarge(page, url);
  await page.waitForTimeout(6000); // what the app prepares for the Mat once it was opened
  const seen: { field: string; longest: number[] }[] = [];
  for (const { label, unfold, press } of fields) {
    if (press) await page.getByRole('button', { name: press }).click();
    const part = page.locator('details').filter({ hasText: unfold ?? '' });
    if (unfold) await part.locator('details summary').first().click();
    const longest: number[] = [];
    for (let round = 0; round < rounds; round++) {
      await page.getByRole('textbox', { name: label }).first().fill('Now');
      await page.waitForTimeout(1500);
      longest.push(await longestTask(browser, page, slowdown));
    }
    seen.push({ field: `${String(label)}${press ? `, at ${String(press)}` : ''}`, longest });
  }
  const bare = await page.context().newPage();
  await bare.setContent('<textarea rows="2"></textarea>');
  const least: number[] = [];
  for (let round = 0; round < rounds; round++) {
    await bare.locator('textarea').fill('Now');
    await bare.waitForTimeout(1500);
    least.push(await longestTask(browser, bare, slowdown));
  }
  await bare.close();
  return { seen, least };
}
