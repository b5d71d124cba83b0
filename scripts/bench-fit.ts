import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { TrialRow } from '@ulkret/core/hazard';
import type { Timed } from './fit-timed';

/** The same model in R, with the processor seconds of the fit alone. */
const inR = `
suppressMessages(library(lme4))
rows <- read.csv(commandArgs(TRUE)[1], stringsAsFactors = TRUE)
rows$level <- relevel(factor(rows$level), ref = "2")
before <- proc.time()
made <- glmer(failed ~ 0 + checkpoint + level + off + mass + (1 | student) + (1 | student:checkpoint),
  family = binomial, data = rows, nAGQ = 0)
spent <- proc.time() - before
scales <- sapply(VarCorr(made), function(one) sqrt(one[1]))
cat(spent["user.self"] + spent["sys.self"], scales["student"], scales["student:checkpoint"])
`;

export interface FitTimes {
  trials: number;
  ours: Timed;
  /** Null where R's lme4 is not installed. */
  lme4: { seconds: number; scales: Timed['scales'] } | null;
}

/** Our fit of single trials, each in a process of its own, and R's lme4 on the same. */
export function fitTimes(rows: readonly TrialRow[]): FitTimes {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'ulkret-fit-'));
  try {
    const [json, csv] = [path.join(folder, 'rows.json'), path.join(folder, 'rows.csv')];
    writeFileSync(json, JSON.stringify(rows));
    const head = 'student,checkpoint,level,off,mass,failed';
    const line = ({ student, checkpoint, level, off, mass, failed }: TrialRow) =>
      [student, checkpoint, level, off, mass, failed].join();
    writeFileSync(csv, [head, ...rows.map(line)].join('\n'));
    const ours = spawnSync(process.execPath, ['--import', 'tsx', 'scripts/fit-timed.ts', json], {
      encoding: 'utf8',
    });
    if (ours.status !== 0) throw new Error(ours.stderr);
    const theirs = spawnSync('Rscript', ['--vanilla', '-e', inR, csv], { encoding: 'utf8' });
    const [seconds, student, deviation] = (theirs.stdout ?? '').trim().split(' ').map(Number);
    return {
      trials: rows.length,
      ours: JSON.parse(ours.stdout) as Timed,
      lme4:
        theirs.status === 0
          ? { seconds: seconds!, scales: { student: student!, deviation: deviation! } }
          : null,
    };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
