import { randomBytes } from 'node:crypto';
import { chmod, mkdir, readdir, rm, stat, statfs } from 'node:fs/promises';
import path from 'node:path';
import { Cron } from 'croner';
import type { Logger } from 'pino';
import pg from 'pg';
import { BackupFault, makeBackup, restoreBackup, type Store, sweep } from './backup';
import { rotated } from './rotation';

/** A backup that lies in the data folder. */
export interface Backup {
  name: string;
  madeAt: string;
  bytes: number;
}

/** The state of a server's backups. */
export interface KeepingState {
  backups: Backup[];
  /** What went wrong with the last one, in words; null where nothing did. */
  trouble: string | null;
  /** The folder of the backups. */
  folder: string;
  diskFreeBytes: number;
}

const dayMs = 86_400_000;
/** How often to check that the daily backup is there. */
const checkEvery = '*/15 * * * *';
const shape = /^ulkret-(\d{4}-\d{2}-\d{2})T(\d{2})-(\d{2})-(\d{2})Z\.backup$/;

const nameAt = (at: string): string => `ulkret-${at.slice(0, 19).replaceAll(':', '-')}Z.backup`;

/** Makes a backup a day into a folder, lets the old ones go, and tries one when it is asked to. */
export class Keeper {
  private trouble: string | null = null;
  private busy: Promise<unknown> = Promise.resolve();
  private job: Cron | undefined;

  constructor(
    private readonly store: Store,
    private readonly folder: string,
    private readonly version: string,
    private readonly migrations: number,
    private readonly log: Logger | null,
  ) {}

  /** Makes the daily backup when it is due; checks at once, then every quarter of an hour. */
  open(): void {
    const check = () => this.daily().catch(() => undefined);
    this.job = new Cron(checkEvery, { protect: true, unref: true }, check);
    void check();
  }

  async close(): Promise<void> {
    this.job?.stop();
    await this.busy.catch(() => undefined);
  }

  /** The backups that are there, the latest first. */
  async backups(): Promise<Backup[]> {
    await mkdir(this.folder, { recursive: true, mode: 0o700 });
    const found = await Promise.all(
      (await readdir(this.folder)).map(async (name): Promise<Backup | null> => {
        const [, day, hour, minute, second] = shape.exec(name) ?? [];
        if (day === undefined) return null;
        const { size } = await stat(path.join(this.folder, name));
        return { name, madeAt: `${day}T${hour}:${minute}:${second}.000Z`, bytes: size };
      }),
    );
    return found.filter((one) => one !== null).sort((a, b) => (a.madeAt < b.madeAt ? 1 : -1));
  }

  async state(): Promise<KeepingState> {
    const backups = await this.backups();
    const { bavail, bsize } = await statfs(this.folder);
    return { backups, trouble: this.trouble, folder: this.folder, diskFreeBytes: bavail * bsize };
  }

  /** What is wrong with the keeping, in one sentence; null where nothing is. */
  async wrong(): Promise<string | null> {
    if (this.trouble !== null) return `The last backup failed: ${this.trouble}`;
    const [latest] = await this.backups();
    return latest && Date.now() - Date.parse(latest.madeAt) > 2 * dayMs
      ? `Last backup: ${latest.madeAt.slice(0, 10)}.`
      : null;
  }

  private async daily(): Promise<void> {
    const [latest] = await this.backups();
    if (!latest || Date.now() - Date.parse(latest.madeAt) >= dayMs) await this.make();
  }

  /** Makes one now. One at a time; throws a `BackupFault`. */
  make(): Promise<Backup> {
    return this.inTurn(async () => {
      try {
        await mkdir(this.folder, { recursive: true, mode: 0o700 });
        await chmod(this.folder, 0o700);
        await sweep(this.folder);
        const name = nameAt(new Date().toISOString());
        await makeBackup(this.store, path.join(this.folder, name), this.version);
        this.trouble = null;
        const all = await this.backups();
        const stay = rotated(all.map(({ madeAt }) => Date.parse(madeAt)));
        for (const one of all)
          if (!stay.has(Date.parse(one.madeAt))) await rm(path.join(this.folder, one.name), { force: true });
        return all.find((one) => one.name === name)!;
      } catch (error) {
        this.trouble = (error as Error).message;
        this.log?.error({ message: this.trouble }, 'a backup failed');
        throw error instanceof BackupFault ? error : new BackupFault(this.trouble);
      }
    });
  }

  /**
   * Makes a backup now and deletes the earlier ones: somebody has been erased. If it fails, the earlier ones stay, and
   * the answer says so.
   */
  async forgetBefore(): Promise<'remade' | 'not remade'> {
    try {
      const { name } = await this.make();
      for (const one of await this.backups())
        if (one.name !== name) await rm(path.join(this.folder, one.name), { force: true });
      return 'remade';
    } catch {
      return 'not remade';
    }
  }

  /** Restores one into a database of its own, verifies it, and throws that database away. Throws a `BackupFault`. */
  test(name: string): Promise<{ rows: number }> {
    return this.inTurn(async () => {
      if (!(await this.backups()).some((one) => one.name === name))
        throw new BackupFault('There is no such backup.');
      const scratch = `ulkret_try_${randomBytes(4).toString('hex')}`;
      const asOwner = async (query: string) => {
        const client = new pg.Client({ connectionString: this.store.url });
        await client.connect();
        await client.query(query).finally(() => client.end());
      };
      await asOwner(`create database "${scratch}"`);
      try {
        const url = new URL(this.store.url);
        url.pathname = `/${scratch}`;
        const { tables } = await restoreBackup(
          { ...this.store, url: url.href },
          path.join(this.folder, name),
          { migrations: this.migrations },
        );
        return { rows: Object.values(tables).reduce((sum, { rows }) => sum + rows, 0) };
      } finally {
        await asOwner(`drop database if exists "${scratch}" with (force)`);
      }
    });
  }

  private inTurn<T>(act: () => Promise<T>): Promise<T> {
    const next = this.busy.catch(() => undefined).then(act);
    this.busy = next;
    return next;
  }
}
