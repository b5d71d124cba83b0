import { setImmediate as rest } from 'node:timers/promises';
import type { Id } from '@ulkret/core/breakdown';
import type { FitProgress } from '@ulkret/core/hazard';
import {
  type Cell,
  defaultHalfLifeDays,
  fitAcademy,
  fold,
  modelVersion,
  weekOf,
  weeksBefore,
} from '@ulkret/core/reading';
import type { Posterior } from '@ulkret/core/hazard';
import type { Db } from '../db/connect';
import { fitOf, keepFit } from './fits';
import { mainSidesOf } from '../people/roster';
import { talliesOf } from './tallies';

/** Which weeks are asked for, as the contract has it. */
export interface Period {
  asOf?: string | undefined;
  weeks?: number | undefined;
  halfLife?: number | undefined;
}

/** The weeks that are read, spelled out. A half-life of 0 is none: `halfLifeDays` is then too long to matter. */
export function windowOf({ asOf = new Date().toISOString(), weeks = 0, halfLife }: Period) {
  return {
    asOf,
    since: weeks === 0 ? null : weeksBefore(asOf, weeks - 1),
    halfLifeDays: halfLife === 0 ? 1e9 : (halfLife ?? defaultHalfLifeDays),
  };
}

/** An academy's cells in a window, of one technique or of all. */
export async function cellsOf(
  db: Db,
  academyId: Id,
  window: ReturnType<typeof windowOf>,
  technique?: Id,
): Promise<Cell[]> {
  const { asOf, halfLifeDays } = window;
  const since = window.since ?? undefined;
  const tallies = await talliesOf(db, academyId, { technique, since, until: weekOf(asOf) });
  return fold(tallies, { asOf, since, halfLifeDays });
}

/** Runs a long computation a step at a time, so that other requests are answered in between. */
async function rested<T>(steps: Generator<FitProgress, T>): Promise<T> {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
    await rest();
  }
}

const dayMs = 86_400_000;

/**
 * The model of the whole academy. With the usual settings the scales of the last day's fit are used again, because they
 * move slowly and searching for them is most of the work; all else is always of the reps as they stand.
 */
export async function academyPosterior(db: Db, academyId: Id, period: Period): Promise<Posterior> {
  const usual = period.asOf === undefined && period.halfLife === undefined;
  const [cells, mainSides, kept] = await Promise.all([
    cellsOf(db, academyId, windowOf(period)),
    mainSidesOf(db, academyId),
    usual ? fitOf(db, academyId) : null,
  ]);
  const fresh = kept !== null && kept.model === modelVersion && Date.now() - Date.parse(kept.madeAt) < dayMs;
  const posterior = await rested(fitAcademy(cells, mainSides, fresh ? { at: kept.scales } : {}));
  if (usual && !fresh) await keepFit(db, academyId, modelVersion, posterior.mode.scales);
  return posterior;
}
