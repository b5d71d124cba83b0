import { readFileSync } from 'node:fs';
import { finished, fit, flatPriors, type TrialRow, trialsOf } from '@ulkret/core/hazard';

/** What a process of its own measures for `bench`. */
export interface Timed {
  /** Processor seconds of packing and fitting, in order: the first in a fresh process. */
  seconds: number[];
  scales: { student: number; deviation: number };
  /** The most memory that the process had, in bytes. */
  peakBytes: number;
}

const times = 6;

// Fits the rows of a file again and again, and says how long each took.
const rows = JSON.parse(readFileSync(process.argv[2]!, 'utf8')) as TrialRow[];
const timed: Timed = { seconds: [], scales: { student: 0, deviation: 0 }, peakBytes: 0 };
for (let n = 0; n < times; n++) {
  const before = process.cpuUsage();
  timed.scales = finished(fit(trialsOf(rows, 2), flatPriors)).scales;
  const { user, system } = process.cpuUsage(before);
  timed.seconds.push((user + system) / 1e6);
}
timed.peakBytes = process.resourceUsage().maxRSS * 1024;
console.log(JSON.stringify(timed));
