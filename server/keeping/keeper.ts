import { randomBytes } from 'node:crypto';
import { chmod, mkdir, readdir, rm, stat, statfs } from 'node:fs/promises';
import path from 'node:path';
import { Cron } from 'croner';
import type { Logger } from 'pino';
import pg from 'pg';
import { sha256Of } from '../files';
import { BackupFault, makeBackup, restoreBackup, type Store, sweep } from './backup';
import { type Listed, readList, writeList } from './list';
import { rotated } from './rotation';
import type { HouseKey } from './sealed';

/** A backup that lies in the data folder. */
export interface Backup {
  name: string;
  madeAt: string;
  bytes: number;
  triedAt: string | null;
}

/** The state of a server's backups. */
export interface KeepingState {
  backups: Backup[];
  /** The folder of the backups. */
  folder: string;
  diskFreeBytes: number;
}

const hourMs = 3_600_000;
const dayMs = 24 * hourMs;
/** After this time without a new one something is wrong. */
const lateMs = 26 * hourMs;
const tryEveryMs = 30 * dayMs;
/** A clock may be set right by this much. */
const clockMs = 5 * 60_000;
/** How often to check that the daily backup is there. */
const checkEvery = '*/15 * * * *';
const shape = /^ulkret-(\d{4}-\d{2}-\d{2})T(\d{2})-(\d{2})-(\d{2})Z\.backup$/;
const scratchName = 'ulkret_try_';

const nameAt = (at: number): string =>
  `ulkret-${new Date(at).toISOString().slice(0, 19).replaceAll(':', '-')}Z.backup`;

/** Clocks, so that a test may move them. */
export interface Clocks {
  /** Milliseconds since the epoch, as far as the machine knows. */
  wall(): number;
  /** Milliseconds from any start, which nobody sets. */
  steady(): number;
}
const machine: Clocks = { wall: () => Date.now(), steady: () => performance.now() };

/** Makes a backup a day into a folder, lets the old ones go, and restores one a month to compare it. */
export class Keeper {
  private trouble: string | null = null;
  private busy: Promise<unknown> = Promise.resolve();
  private job: Cron | undefined;
  /** When this process has made one, by its steady clock. */
  private made: number | null = null;
  private readonly began: number;

  constructor(
    private readonly store: Store,
    private readonly folder: string,
    private readonly version: string,
    private readonly migrations: number,
    private readonly log: Logger | null,
    private readonly key: HouseKey,
    private readonly clocks: Clocks = machine,
  ) {
    this.began = clocks.steady();
  }

  /** Sweeps up what an end in the middle has left, makes the daily backup when it is due, and looks every quarter of an hour. */
  open(): void {
    const check = () => this.check().catch(() => undefined);
    this.job = new Cron(checkEvery, { protect: true, unref: true }, check);
    void this.inTurn(() => this.sweepUp())
      .catch(() => undefined)
      .then(check);
  }

  async close(): Promise<void> {
    this.job?.stop();
    await this.busy.catch(() => undefined);
  }

  /** The backups that are there, the latest made first. */
  async backups(): Promise<Backup[]> {
    return (await this.listed()).map(({ sha256: _, ...one }) => one).reverse();
  }

  async state(): Promise<KeepingState> {
    const backups = await this.backups();
    const { bavail, bsize } = await statfs(this.folder);
    return { backups, folder: this.folder, diskFreeBytes: bavail * bsize };
  }

  /** What is wrong with the keeping, in one sentence; null where nothing is. */
  async wrong(): Promise<string | null> {
    if (this.trouble !== null) return this.trouble;
    if (!(await readList(this.folder, this.key)).isOurs)
      return 'The list of the backups was changed, or is of another house: make a new backup.';
    const [latest] = await this.backups();
    if (!latest) return null;
    const sinceMs = this.clocks.wall() - Date.parse(latest.madeAt);
    // A server that has just been started makes it now.
    if (sinceMs > lateMs && this.clocks.steady() - this.began > hourMs)
      return `Last backup: ${latest.madeAt.slice(0, 10)}.`;
    return sinceMs < -dayMs
      ? `The last backup is dated ${latest.madeAt.slice(0, 10)}, which is still to come: look at this machine’s clock.`
      : null;
  }

  /** Makes the daily one, makes them again where somebody was erased since, and tries one where none was for a month. */
  async check(): Promise<void> {
    if (await this.isDue()) await this.make();
    if (await this.awaitsErasure()) await this.forgetBefore();
    const [latest, ...others] = await this.backups();
    const tried = [latest, ...others].flatMap((one) => (one?.triedAt ? [Date.parse(one.triedAt)] : []));
    const age = this.clocks.wall() - Math.max(0, ...tried);
    if (latest && (age > tryEveryMs || age < -clockMs)) await this.test(latest.name);
  }

  /** Whatever the wall clock says: what counts is when one was made. */
  private async isDue(): Promise<boolean> {
    const [latest] = await this.backups();
    if (!latest) return true;
    if (this.made !== null && this.clocks.steady() - this.made >= dayMs) return true;
    const sinceMs = this.clocks.wall() - Date.parse(latest.madeAt);
    return sinceMs >= dayMs || sinceMs < -clockMs;
  }

  /** Makes one now. One at a time; throws a `BackupFault`. */
  make(): Promise<Backup> {
    return this.inTurn(async () => {
      try {
        await this.sweepUp();
        let at = this.clocks.wall();
        const taken = new Set(await readdir(this.folder));
        while (taken.has(nameAt(at))) at += 1000;
        const name = nameAt(at);
        const file = path.join(this.folder, name);
        await makeBackup(this.store, file, this.version, this.key);
        const madeAt = new Date(this.clocks.wall()).toISOString();
        const { size: bytes } = await stat(file);
        const one = { name, madeAt, bytes, sha256: await sha256Of(file), triedAt: null };
        await this.keepOnly(stayOf([...(await this.listed()).filter((other) => other.name !== name), one]));
        this.made = this.clocks.steady();
        this.trouble = null;
        return one;
      } catch (error) {
        throw this.failed(error, 'The last backup failed');
      }
    });
  }

  /** Makes a backup now and deletes the earlier ones: somebody has been erased. If it fails, it is tried again until it is done. */
  async forgetBefore(): Promise<'remade' | 'not remade'> {
    try {
      const madeFrom = new Date().toISOString();
      const { name } = await this.make();
      await this.inTurn(async () => this.keepOnly((await this.listed()).filter((one) => one.name === name)));
      await this.asOwner('update erasures set remade_at = now() where remade_at is null and at <= $1', [
        madeFrom,
      ]);
      return 'remade';
    } catch {
      return 'not remade';
    }
  }

  private async awaitsErasure(): Promise<boolean> {
    const found = await this.asOwner('select 1 from erasures where remade_at is null limit 1');
    return found.length > 0;
  }

  /** Restores one into a database of its own, compares it, and throws that database away. Throws a `BackupFault`. */
  test(name: string): Promise<{ rows: number }> {
    return this.inTurn(async () => {
      const all = await this.listed();
      const one = all.find((listed) => listed.name === name);
      if (!one) throw new BackupFault('There is no such backup.');
      const file = path.join(this.folder, name);
      const scratch = `${scratchName}${randomBytes(4).toString('hex')}`;
      await this.asOwner(`create database "${scratch}"`);
      try {
        if (one.sha256 !== '' && (await sha256Of(file)) !== one.sha256)
          throw new BackupFault('It is damaged: it is not as it was made. Use another backup.');
        const url = new URL(this.store.url);
        url.pathname = `/${scratch}`;
        const to = { migrations: this.migrations, keys: [this.key] };
        const { tables } = await restoreBackup({ ...this.store, url: url.href }, file, to);
        const triedAt = new Date(this.clocks.wall()).toISOString();
        await writeList(
          this.folder,
          all.map((listed) => (listed === one ? { ...one, triedAt } : listed)),
          this.key,
        );
        return { rows: Object.values(tables).reduce((sum, { rows }) => sum + rows, 0) };
      } catch (error) {
        throw this.failed(error, 'A backup could not be restored');
      } finally {
        await this.asOwner(`drop database if exists "${scratch}" with (force)`);
      }
    });
  }

  private failed(error: unknown, said: string): BackupFault {
    const { message } = error as Error;
    this.trouble = `${said}: ${message}`;
    this.log?.error({ message }, said);
    return error instanceof BackupFault ? error : new BackupFault(message);
  }

  /** What lies in the folder, as the list tells it, in the order in which it was made; before it what an earlier release has made. */
  private async listed(): Promise<Listed[]> {
    await mkdir(this.folder, { recursive: true, mode: 0o700 });
    const { backups } = await readList(this.folder, this.key);
    const there = new Set(await readdir(this.folder));
    const known = new Set(backups.map(({ name }) => name));
    const earlier = await Promise.all(
      [...there].sort().map(async (name): Promise<Listed | null> => {
        const [, day, hour, minute, second] = shape.exec(name) ?? [];
        if (day === undefined || known.has(name)) return null;
        const { size: bytes } = await stat(path.join(this.folder, name));
        return { name, madeAt: `${day}T${hour}:${minute}:${second}.000Z`, bytes, sha256: '', triedAt: null };
      }),
    );
    return [...earlier.filter((one) => one !== null), ...backups.filter(({ name }) => there.has(name))];
  }

  /** Lets all others go, and only what it has made itself. */
  private async keepOnly(stay: readonly Listed[]): Promise<void> {
    const names = new Set(stay.map(({ name }) => name));
    await writeList(this.folder, stay, this.key);
    for (const name of await readdir(this.folder))
      if (shape.test(name) && !names.has(name)) await rm(path.join(this.folder, name), { force: true });
  }

  /** Takes away what an end in the middle has left: half-made files, and databases that were only for a try. */
  private async sweepUp(): Promise<void> {
    await mkdir(this.folder, { recursive: true, mode: 0o700 });
    await chmod(this.folder, 0o700);
    await sweep(this.folder);
    for (const { datname } of await this.asOwner<{ datname: string }>(
      `select datname from pg_database where starts_with(datname, '${scratchName}')
       and not exists (select 1 from pg_stat_activity a where a.datname = pg_database.datname)`,
    ))
      await this.asOwner(`drop database if exists "${datname}"`);
  }

  private async asOwner<R extends pg.QueryResultRow>(query: string, values: unknown[] = []): Promise<R[]> {
    const client = new pg.Client({ connectionString: this.store.url });
    await client.connect();
    try {
      return (await client.query<R>(query, values)).rows;
    } finally {
      await client.end();
    }
  }

  private inTurn<T>(act: () => Promise<T>): Promise<T> {
    const next = this.busy.catch(() => undefined).then(act);
    this.busy = next;
    return next;
  }
}

/** Those that stay: by when they were made, where a clock that was set back puts none before the one that came before it. */
function stayOf(made: readonly Listed[]): Listed[] {
  const at: number[] = [];
  for (let i = made.length - 1; i >= 0; i--)
    at[i] = Math.min(Date.parse(made[i]!.madeAt), (at[i + 1] ?? Infinity) - 1);
  const stay = rotated(at);
  return made.filter((_, i) => stay.has(at[i]!));
}
