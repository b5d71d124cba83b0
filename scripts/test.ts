import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { buildWeb } from './build';
import { installPackages } from './debian';
import { type Cluster, startThrowawayCluster } from './postgres';
import { processorSeconds } from './processor-time';

/** How one part of the tests ended. */
interface Count {
  name: string;
  passed: number;
  failed: number;
  /** What failed, each with the first lines of why. */
  why?: string[];
}

/** The first lines of what was thrown, without colours. */
const shortly = (thrown: string): string =>
  stripVTControlCharacters(thrown).split('\n').slice(0, 9).join('\n    ');

const report = mkdtempSync(path.join(os.tmpdir(), 'ulkret-tests-'));

/** Runs a program to its end; what it prints goes to the terminal. */
const call = (program: string, args: string[], env: Record<string, string> = {}): Promise<number> =>
  new Promise((resolve) => {
    const child = spawn(program, args, {
      stdio: ['ignore', 'inherit', 'inherit'],
      // Keys of houses that are only for a test stay among the tests.
      env: { ...process.env, XDG_DATA_HOME: path.join(report, 'own'), ...env },
    });
    child.once('error', () => resolve(1));
    child.once('close', (code) => resolve(code ?? 1));
  });
const bin = (name: string) => path.resolve('node_modules/.bin', name);
const part = (title: string) => console.log(`\n== ${title}`);

/** A step that either holds or does not counts as one test. */
async function step(name: string, program: string, args: string[]): Promise<Count> {
  part(name);
  const held = (await call(program, args)) === 0;
  return { name, passed: held ? 1 : 0, failed: held ? 0 : 1 };
}

/**
 * Whether a package that ships is known to be unsafe (high or critical). Where the registry does not say, it is told and
 * fails nobody.
 */
function audit(): Count | null {
  part('audit of what ships');
  const flags = ['audit', '--omit=dev', '--json', '--loglevel=silent'];
  const { stdout } = spawnSync('npm', flags, { encoding: 'utf8', timeout: 60_000 });
  const said = safely(stdout ?? '') as {
    vulnerabilities?: Record<string, { severity: string }>;
  } | null;
  if (!said?.vulnerabilities) {
    console.log('Warning: the registry does not say what is unsafe; it was not looked at.');
    return null;
  }
  const unsafe = Object.entries(said.vulnerabilities).filter(([, { severity }]) =>
    ['high', 'critical'].includes(severity),
  );
  for (const [name, { severity }] of unsafe) console.log(`${name}: ${severity}`);
  return { name: 'audit', passed: unsafe.length === 0 ? 1 : 0, failed: unsafe.length > 0 ? 1 : 0 };
}

function safely(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

async function jest(project: string, env: Record<string, string> = {}): Promise<Count> {
  part(`${project} tests`);
  const file = path.join(report, `${project}.json`);
  const jestBin = path.resolve('node_modules/jest/bin/jest.js');
  const flags = ['--experimental-vm-modules', '--no-warnings', jestBin, '--selectProjects', project];
  const code = await call(process.execPath, [...flags, '--json', `--outputFile=${file}`, '--silent'], env);
  if (!existsSync(file)) return { name: project, passed: 0, failed: 1 };
  const result = JSON.parse(readFileSync(file, 'utf8')) as {
    numPassedTests: number;
    numFailedTests: number;
    numRuntimeErrorTestSuites: number;
    testResults: {
      name: string;
      message: string;
      assertionResults: { status: string; fullName: string; failureMessages: string[] }[];
    }[];
  };
  const failed = result.numFailedTests + result.numRuntimeErrorTestSuites;
  const why = result.testResults.flatMap(({ name, message, assertionResults }) =>
    assertionResults.length === 0
      ? [`${path.relative('.', name)}: ${shortly(message)}`]
      : assertionResults
          .filter(({ status }) => status === 'failed')
          .map(({ fullName, failureMessages }) => `${fullName}: ${shortly(failureMessages.join('\n'))}`),
  );
  const { numPassedTests: passed } = result;
  return { name: project, passed, failed: code !== 0 ? Math.max(1, failed) : failed, why };
}

async function playwright(env: Record<string, string>, only: string | undefined): Promise<Count> {
  part('browser tests');
  const file = path.join(report, 'browser.json');
  const grep = only === undefined ? [] : ['--grep', only];
  const code = await call(bin('playwright'), ['test', '--config', 'e2e/playwright.config.ts', ...grep], {
    ...env,
    PLAYWRIGHT_JSON_OUTPUT_FILE: file,
  });
  if (!existsSync(file)) return { name: 'browser', passed: 0, failed: 1 };
  const { stats, suites, errors } = JSON.parse(readFileSync(file, 'utf8')) as {
    /** What went wrong outside of any test. */
    errors: { message?: string }[];
    stats: { expected: number; unexpected: number; flaky: number };
    suites: {
      specs: {
        ok: boolean;
        title: string;
        tests: { results: { error?: { message?: string; location?: { file: string; line: number } } }[] }[];
      }[];
    }[];
  };
  const failed = stats.unexpected + stats.flaky;
  const why = suites
    .flatMap(({ specs }) => specs)
    .filter(({ ok }) => !ok)
    .map(({ title, tests }) => {
      const error = tests.flatMap(({ results }) => results).find((result) => result.error)?.error;
      const { location, message = 'no reason was given' } = error ?? {};
      const where = location ? ` (${path.relative('.', location.file)}:${location.line})` : '';
      return `${title}${where}: ${shortly(message)}`;
    })
    .concat(errors.map(({ message = 'no reason was given' }) => `outside of any test: ${shortly(message)}`));
  const { expected: passed } = stats;
  return { name: 'browser', passed, failed: code !== 0 ? Math.max(1, failed) : failed, why };
}

/** Where Debian's Chromium is, the one without a screen before the whole one; installed where both are missing. */
export function chromium(): string {
  const names = ['chromium-headless-shell', 'chromium'];
  const found = () => spawnSync('which', names, { encoding: 'utf8' }).stdout.trim().split('\n')[0]!;
  if (!found()) installPackages([names[0]!], 'put a chromium on the PATH.');
  return found();
}

/** Processor time of everything that a part of the tests starts, with its database. */
class Meter {
  private readonly parts: [name: string, seconds: number][] = [];
  private before = processorSeconds();

  /** Everything used since the last call was this part. */
  mark(name: string, cluster?: Cluster): void {
    const now = processorSeconds() + (cluster?.processorSeconds() ?? 0);
    this.parts.push([name, now - this.before]);
    this.before = now;
  }

  print(): void {
    const whole = (seconds: number) => `${Math.round(seconds)} s`;
    const all = this.parts.reduce((sum, [, seconds]) => sum + seconds, 0);
    const each = this.parts.map(([name, seconds]) => `${name} ${whole(seconds)}`).join(', ');
    console.log(`processor time: ${whole(all)}, at most ${whole(budget)} (${each})`);
  }
}

/** Seconds of processor time that all tests may use, on a machine in a good hour. */
const budget = 1500;

/** `npm test -- [lint|unit|server|browser] [--only=PATTERN]`: everything, or the parts named, or the browser tests that fit. */
export async function run(args: string[]): Promise<void> {
  const only = args.find((arg) => arg.startsWith('--only='))?.slice('--only='.length);
  const parts = args.filter((arg) => !arg.startsWith('--'));
  const wanted = (name: string) => parts.length === 0 || parts.includes(name);
  const counts: Count[] = [];
  const meter = new Meter();
  const looked = async (): Promise<Count[]> => [
    await step('types', 'npm', ['run', '--silent', 'types']),
    await step('lint', 'npm', ['run', '--silent', 'lint']),
    ...[audit() ?? []].flat(),
  ];
  // Each takes one core, and neither needs anything of the other.
  counts.push(
    ...(
      await Promise.all([
        wanted('lint') ? looked() : [],
        wanted('unit') ? jest('unit').then((one) => [one]) : [],
      ])
    ).flat(),
  );
  meter.mark('lint and unit');
  if (wanted('server') || wanted('browser')) {
    const cluster = await startThrowawayCluster();
    const onSignal = () => {
      cluster.stop();
      process.exit(130);
    };
    process.once('SIGINT', onSignal).once('SIGTERM', onSignal);
    try {
      const env = { TEST_DATABASE_URL: cluster.url('postgres'), TEST_PG_BIN: cluster.bin };
      if (wanted('server')) counts.push(await jest('server', env));
      meter.mark('server', cluster);
      if (wanted('browser')) {
        await buildWeb();
        counts.push(await playwright({ ...env, CHROMIUM: chromium() }, only));
        meter.mark('browser', cluster);
      }
    } finally {
      cluster.stop();
    }
  }
  rmSync(report, { recursive: true, force: true });
  const sum = (of: 'passed' | 'failed') => counts.reduce((total, count) => total + count[of], 0);
  console.log();
  // Again at the end, so that it is among the last lines.
  for (const one of counts.flatMap(({ why }) => why ?? [])) console.log(`✗ ${one}`);
  for (const { name, passed, failed } of counts) console.log(`${name}: ${passed} passed, ${failed} failed`);
  meter.print();
  console.log(`${sum('passed')} passed, ${sum('failed')} failed`);
  process.exitCode = sum('failed') > 0 ? 1 : 0;
}
