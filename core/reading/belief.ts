import type { Breakdown, Id } from '../breakdown';
import { kendallTauB } from '../math';
import type { Reading } from './reading';

/** What the coach believes of a checkpoint and what the reps say, both as shares of 100. */
export interface BeliefRow {
  checkpoint: Id;
  belief: number;
  /** Its share of everything that fixing would gain. */
  evidence: number;
  low: number;
  high: number;
  reached: number;
}

export interface BeliefReading {
  rows: BeliefRow[];
  /** Kendall's τ-b of the two orders; null where one of them is flat. */
  tau: number | null;
  /** Where belief and evidence are farthest apart; null where nothing would gain. */
  farthest: BeliefRow | null;
}

/** Is each checkpoint worth what the coach believes? The evidence is the squad's root gains, scaled to 100. */
export function beliefReading(breakdown: Breakdown, squad: Reading): BeliefReading {
  const total = squad.checkpoints.reduce((sum, { rootGain }) => sum + rootGain.value, 0);
  const beliefs = breakdown.checkpoints.reduce((sum, { belief }) => sum + belief, 0);
  const scaled = (gain: number): number => (total > 0 ? (100 * gain) / total : 0);
  const rows = breakdown.checkpoints.map(({ id, belief }, i): BeliefRow => {
    const { rootGain, reached } = squad.checkpoints[i]!;
    return {
      checkpoint: id,
      belief: beliefs > 0 ? (100 * belief) / beliefs : 0,
      reached,
      evidence: scaled(rootGain.value),
      low: scaled(rootGain.low),
      high: scaled(rootGain.high),
    };
  });
  const gap = ({ belief, evidence }: BeliefRow) => Math.abs(belief - evidence);
  return {
    rows,
    tau: kendallTauB(
      rows.map(({ belief }) => belief),
      rows.map(({ evidence }) => evidence),
    ),
    farthest: total > 0 ? rows.reduce((a, b) => (gap(b) > gap(a) ? b : a)) : null,
  };
}
