import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

/** A small disk of its own under a folder. */
export interface SmallDisk {
  folder: string;
  /** Fills it to the last byte, or gives what filled it back. */
  fill(is: boolean): void;
  gone(): void;
}

/** A disk in memory; null where this user may not make one. */
export function smallDisk(megabytes: number): SmallDisk | null {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'ulkret-disk-'));
  const { status } = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m`, 'none', folder]);
  if (status !== 0) {
    rmSync(folder, { recursive: true });
    return null;
  }
  chmodSync(folder, 0o755);
  const ballast = path.join(folder, 'ballast');
  return {
    folder,
    fill: (is) => {
      if (!is) return rmSync(ballast, { force: true });
      for (const size of [1 << 20, 1 << 12])
        try {
          for (;;) writeFileSync(ballast, Buffer.alloc(size), { flag: 'a' });
        } catch (error) {
          if ((error as { code?: string }).code !== 'ENOSPC') throw error;
        }
    },
    gone: () => {
      spawnSync('umount', ['-l', folder]);
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
