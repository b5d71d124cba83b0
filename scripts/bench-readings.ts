import { newStudent } from '@ulkret/core/people';
import type { Browser, Locator, Page } from '@playwright/test';
import { type Breakdown, Breakdown as BreakdownSchema, type Id, type Side } from '@ulkret/core/breakdown';
import { shippedDrills } from '@ulkret/core/drills';
import { finished, type TrialRow } from '@ulkret/core/hazard';
import { decide } from '@ulkret/core/prescription';
import {
  everything,
  fitAcademy,
  fold,
  fullReading,
  tallyWeeks,
  usualWeeks,
  weeksBefore,
} from '@ulkret/core/reading';
import type { Rep, Rung } from '@ulkret/core/rep';
import { maker } from '@ulkret/demo/simulate';
import { library } from '@ulkret/demo';
import { hashPassword } from '@ulkret/server/access/secrets';
import { loadAcademy } from '@ulkret/server/keeping/academies';
import { type Db } from '@ulkret/server/db/connect';
import { markAllStale } from '@ulkret/server/signals/stale';
import { refreshTallies, talliesOf } from '@ulkret/server/readings/tallies';
import { randomNormal } from 'd3-random';
import pg from 'pg';

const size = { students: 40, techniques: 12, checkpoints: 9, reps: 20_000 } as const;
const password = 'tap-early-tap-often';

const ids = Array.from({ length: size.checkpoints }, (_, i) => `c${i + 1}`);
const breakdownOf = (technique: Id): Breakdown =>
  BreakdownSchema.parse({
    technique,
    edition: 1,
    author: 'a benchmark',
    date: '2026-01-01',
    source: 'made up',
    checkpoints: ids.map((id) => ({
      id,
      kind: 'grip',
      title: id,
      criterion: 'It is there.',
      proofs: [],
      after: [],
      belief: 100 / ids.length,
      mendable: null,
      variants: [],
    })),
    mistakes: [],
    defences: [],
  });

/** An academy of the size of the benchmark, without reps. */
async function emptyAcademy(db: Db, id: Id): Promise<void> {
  const template = library[0]!.technique;
  await loadAcademy(
    db,
    {
      academy: { id, name: id, zone: 'UTC' },
      coaches: [
        {
          id: 'coach',
          name: 'Coach',
          email: `coach@${id}.example`,
          passwordHash: await hashPassword(password),
          role: 'head',
        },
      ],
      students: Array.from({ length: size.students }, (_, i) =>
        newStudent({ id: `s${i}`, name: `S${i}`, experienceMonths: 12, massKg: 52 + i }),
      ),
      techniques: Array.from({ length: size.techniques }, (_, t) => ({
        technique: { ...template, id: `t${t}`, name: `Technique ${t}` },
        editions: [breakdownOf(`t${t}`)],
      })),
      sessions: [],
      facts: {},
    },
    false,
  );
}

/** Reps made by PostgreSQL itself, spread over the weeks: chance decides who, on whom, how, and where each stops. */
async function fill(client: pg.Client, academy: Id, reps: number, weeks: number): Promise<void> {
  await client.query('select setseed(0.42)');
  await client.query(
    `insert into reps (academy_id, id, session, at, technique, edition, student, partner, side, rung, "from", "to",
       outcome, stop, failed, held_to, soft, cause, observer, source, note)
     select $1, gen_random_uuid(), null, now() - random() * $3 * interval '7 days', 't' || floor(random() * ${size.techniques})::int, 1,
       's' || who, 's' || ((who + 1 + floor(random() * ${size.students - 1})::int) % ${size.students}),
       case when random() < 0.5 then 'right' else 'left' end, 1 + floor(random() * 3)::int, null, null,
       case when stop > ${size.checkpoints} then 'finished' else 'stopped' end,
       case when stop > ${size.checkpoints} then null else 'c' || stop end, null, null, '{}', null, 'coach', 'mat', ''
     from (select floor(random() * ${size.students})::int as who, 1 + floor(-ln(1 - random()) / 0.17)::int as stop
       from generate_series(1, $2)) as made`,
    [academy, reps, weeks],
  );
}

const median = (list: number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;
async function timed(times: number, task: () => Promise<unknown>): Promise<number> {
  const spent: number[] = [];
  for (let i = 0; i < times; i++) {
    const start = performance.now();
    await task();
    spent.push(performance.now() - start);
  }
  return median(spent);
}

/** The squad page's queries with 100,000 and with 1,000,000 reps, and a bare scan of the tallies, in turns. */
export async function talliesAtScale(db: Db, url: string) {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const academies = { small: usualWeeks, large: 10 * usualWeeks } as const;
  for (const [academy, weeks] of Object.entries(academies)) {
    await emptyAcademy(db, academy);
    await fill(client, academy, (100_000 * weeks) / usualWeeks, weeks);
    await markAllStale(db, academy);
    await refreshTallies(db, academy);
  }
  await client.query('vacuum analyze tallies');
  const today = new Date().toISOString();
  const window = { since: weeksBefore(today, usualWeeks - 1), until: weeksBefore(today, 0) };
  const page = (academy: Id) => () => talliesOf(db, academy, window);
  const spent = { small: [] as number[], large: [] as number[], scan: [] as number[] };
  for (let round = 0; round < 7; round++) {
    spent.small.push(await timed(1, page('small')));
    spent.large.push(await timed(1, page('large')));
    spent.scan.push(await timed(1, () => client.query('select * from tallies')));
  }
  const { rows } = await client.query('select count(*)::int as n from tallies');
  await client.end();
  return {
    rows: rows[0].n as number,
    small: median(spent.small),
    large: median(spent.large),
    scan: median(spent.scan),
  };
}

/** Milliseconds from an address to what is waited for on it: the roster, and a squad's reading, first plain and then refined. */
export async function pageTimes(page: Page, url: string, technique: Id, name: RegExp) {
  const opened = async (address: string, painted: Locator) => {
    const start = performance.now();
    await page.goto(url + address);
    // The first look at twenty thousand reps that were never counted may take longer than a browser test waits.
    await painted.waitFor({ timeout: 180_000 });
    return performance.now() - start;
  };
  const [someone, refined] = [page.getByText(name).first(), page.getByText('Full reading.')];
  const squad = `/readings/${technique}`;
  // The first look after reps have come counts them, and fits once for everybody.
  const first = await opened(squad, refined);
  // In turns, since the machine is not always equally fast.
  const rounds: { roster: number; plain: number; refined: number }[] = [];
  for (let i = 0; i < 9; i++)
    rounds.push({
      roster: await opened('/people', someone),
      plain: await opened(squad, someone),
      refined: await opened(squad, refined),
    });
  const of = (take: (round: (typeof rounds)[number]) => number) => median(rounds.map(take));
  return {
    first,
    roster: of(({ roster }) => roster),
    refined: of(({ refined: ms }) => ms),
    ratio: of(({ roster, plain }) => plain / roster),
  };
}

/** The same in an academy of 20,000 reps, with the longest task of the main thread during it. */
export async function largeRoom(db: Db, database: string, url: string, browser: Browser) {
  const academy = 'fit';
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  await emptyAcademy(db, academy);
  await fill(client, academy, size.reps, 20);
  await client.end();
  await markAllStale(db, academy);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.goto(url);
  await page.getByLabel('Email').fill(`coach@${academy}.example`);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('heading', { name: 'Today' }).waitFor();
  await page.addInitScript(() => {
    const tasks: number[] = [];
    Object.assign(window, { tasks });
    new PerformanceObserver((list) => {
      for (const { duration } of list.getEntries()) tasks.push(duration);
    }).observe({ type: 'longtask', buffered: true });
  });
  const times = await pageTimes(page, url, 't0', /^S1$/);
  await page.waitForTimeout(300);
  const tasks = await page.evaluate(() => (window as unknown as { tasks: number[] }).tasks);
  await context.close();
  return { ...times, longest: Math.max(0, ...tasks) };
}

/** Trials of a large room, made up, of which no two are alike, so that nothing can be counted together. */
export function singleTrials(): TrialRow[] {
  const { chance } = maker(0.3);
  const normal = randomNormal.source(chance)(0, 1);
  const some = (n: number, spread: number) => Array.from({ length: n }, () => spread * normal());
  const places = size.techniques * size.checkpoints;
  const [skill, level, own] = [
    some(size.students, 0.45),
    some(places, 0.6),
    some(places * size.students, 0.7),
  ];
  const rows: TrialRow[] = [];
  for (let rep = 0; rep < size.reps; rep++) {
    const student = Math.floor(chance() * size.students);
    const technique = Math.floor(chance() * size.techniques);
    const [rung, off, mass] = [1 + Math.floor(chance() * 3), chance() < 0.5 ? 0 : 1, 0.2 * normal()];
    for (let at = technique * size.checkpoints; at < (technique + 1) * size.checkpoints; at++) {
      const logit =
        -1.7 +
        level[at]! +
        skill[student]! +
        own[at * size.students + student]! +
        0.5 * (rung - 2) +
        0.2 * off +
        0.8 * mass;
      const failed = chance() < 1 / (1 + Math.exp(-logit)) ? 1 : 0;
      rows.push({ student: `s${student}`, checkpoint: `c${at}`, level: rung, off, mass, reached: 1, failed });
      if (failed) break;
    }
  }
  return rows;
}

/**
 * Milliseconds of deciding for everybody on every technique once the model of the academy is there: from its readings, and
 * with making those. The techniques are copies of one that ships, with all its mistakes and defences.
 */
export function decidingTimes() {
  const { chance, id } = maker(0.6);
  const now = Date.now();
  const template = library[0]!.editions.at(-1)!;
  const last = template.checkpoints.length;
  const techniques = Array.from({ length: size.techniques }, (_, i) => ({ ...template, technique: `t${i}` }));
  const pick = (n: number) => Math.floor(chance() * n);
  const reps = Array.from({ length: size.reps }, (): Rep => {
    const at = Math.floor(now - chance() * usualWeeks * 7 * 86_400_000);
    const [student, stop] = [pick(size.students), Math.floor(-Math.log(1 - chance()) / 0.17)];
    const told = {
      id: id(at),
      session: null,
      at: new Date(at).toISOString(),
      technique: `t${pick(size.techniques)}`,
      edition: template.edition,
      student: `s${student}`,
      partner: `s${(student + 1 + pick(size.students - 1)) % size.students}`,
      side: chance() < 0.5 ? ('right' as const) : ('left' as const),
      rung: (1 + pick(3)) as Rung,
      from: null,
      to: null,
      soft: [],
      cause: null,
      observer: 'coach',
      source: 'mat' as const,
      note: '',
    };
    return stop < last
      ? { ...told, outcome: 'stopped', stop: template.checkpoints[stop]!.id }
      : { ...told, outcome: 'finished' };
  });
  const editions = new Map(techniques.map((one) => [one.technique, new Map([[one.edition, one]])]));
  const mainSides = new Map<Id, Side>();
  const period = { asOf: new Date(now).toISOString(), halfLifeDays: 28 };
  const cells = fold(
    tallyWeeks(editions, reps, () => 70),
    period,
  );
  const posterior = finished(fitAcademy(cells, mainSides));
  const readings = () =>
    techniques.map((breakdown) => ({
      breakdown,
      reading: fullReading({ breakdown, cells, slice: everything, mainSides }, posterior),
    }));
  const decisions = (made: ReturnType<typeof readings>) =>
    made.flatMap(({ breakdown, reading }) =>
      decide(breakdown, reading, () => ({ mainSide: 'right', drills: shippedDrills })),
    );
  const made = readings();
  const spentOn = (task: () => unknown) => {
    const spent = Array.from({ length: 5 }, () => {
      const start = performance.now();
      task();
      return performance.now() - start;
    });
    return median(spent);
  };
  return {
    students: new Set(decisions(made).map(({ student }) => student)).size,
    decided: decisions(made).length,
    deciding: spentOn(() => decisions(made)),
    reading: spentOn(readings),
  };
}
