import { endpoints } from '@ulkret/contract';
import type { Breakdown, Id, Side } from '@ulkret/core/breakdown';
import type { Posterior, Scales } from '@ulkret/core/hazard';
import { type Prescription, prescribe } from '@ulkret/core/prescription';
import {
  type Cell,
  fitAcademy,
  fullReading,
  type Method,
  modelVersion,
  plainReading,
  type ReadingSettings,
  type Slice,
  type SquadReading,
} from '@ulkret/core/reading';
import { expose } from 'comlink';
import { ApiRefusal, ask } from '../api/ask';

/** Which weeks, and how fast a rep loses weight; see the contract. */
export interface Period {
  asOf?: string | undefined;
  weeks: number;
  halfLife: number;
}

/** What a page wants read. */
export interface Order {
  breakdown: Breakdown;
  mainSides: [Id, Side][];
  method: Method;
  slice: Slice;
  period: Period;
}

export interface Answer {
  reading: SquadReading;
  settings: ReadingSettings;
  prescriptions: [Id, Prescription][];
}

/** Errors lose their class on the way to the page, so a refusal travels as data. */
export type Reply<T> =
  | { is: 'read'; value: T }
  | { is: 'refused'; status: number; message: string; todo: string }
  | { is: 'cancelled' };

interface Window {
  cells: Cell[];
  settings: Pick<ReadingSettings, 'asOf' | 'since' | 'halfLifeDays'>;
}

const mostWindows = 6;

/**
 * Reads for the pages, off their thread. The academy's tallies are fetched once for a period, and the model is fitted to
 * them once; any technique, rung, side or partner is then read from the same fit. New reps are read with the scales of
 * the last fit, without searching for them again.
 */
class Reader {
  private windows = new Map<string, Promise<Window>>();
  private fits = new Map<string, { window: Window; posterior: Promise<Posterior | null> }>();
  private scales = new Map<string, Scales>();
  private cancelled = 0;

  /** Forgets the tallies: the next reading asks for them again. */
  forget(): void {
    this.windows.clear();
  }

  /** Stops the fit that is being made. */
  cancel(): void {
    this.cancelled += 1;
  }

  async read(order: Order, progress: (share: number) => void): Promise<Reply<Answer>> {
    try {
      const { breakdown, method, slice } = order;
      const mainSides = new Map(order.mainSides);
      const window = await this.window(order.period);
      const question = { breakdown, cells: window.cells, slice, mainSides };
      let reading: SquadReading;
      if (method === 'plain') reading = plainReading(question);
      else {
        const posterior = await this.fit(order.period, window, mainSides, progress);
        if (!posterior) return { is: 'cancelled' };
        reading = fullReading(question, posterior);
      }
      return {
        is: 'read',
        value: {
          reading,
          settings: { model: modelVersion, method, slice, ...window.settings },
          prescriptions: reading.students.map((one) => [
            one.student!,
            prescribe(breakdown, one, mainSides.get(one.student!) ?? 'right'),
          ]),
        },
      };
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      return { is: 'refused', status: error.status, message: error.message, todo: error.todo };
    }
  }

  private window(period: Period): Promise<Window> {
    const key = JSON.stringify(period);
    let window = this.windows.get(key);
    if (!window) {
      window = ask(endpoints.tallies, { query: period }).then(({ cells, ...settings }) => ({
        cells,
        settings,
      }));
      window.catch(() => this.windows.delete(key));
      this.windows.set(key, window);
      for (const old of [...this.windows.keys()].slice(0, -mostWindows)) this.windows.delete(old);
    }
    return window;
  }

  /** The fit of a window, made once for all who ask; null where it was cancelled. */
  private fit(
    period: Period,
    window: Window,
    mainSides: ReadonlyMap<Id, Side>,
    progress: (share: number) => void,
  ): Promise<Posterior | null> {
    const key = JSON.stringify(period);
    const known = this.fits.get(key);
    if (known?.window === window) return known.posterior;
    const posterior = this.search(key, window, mainSides, progress);
    this.fits.delete(key);
    this.fits.set(key, { window, posterior });
    for (const old of [...this.fits.keys()].slice(0, -mostWindows)) this.fits.delete(old);
    return posterior;
  }

  private async search(
    key: string,
    window: Window,
    mainSides: ReadonlyMap<Id, Side>,
    progress: (share: number) => void,
  ): Promise<Posterior | null> {
    const at = this.scales.get(key);
    const steps = fitAcademy(window.cells, mainSides, at ? { at } : {});
    const before = this.cancelled;
    for (;;) {
      const { done, value } = steps.next();
      if (done) {
        this.scales.set(key, value.mode.scales);
        return value;
      }
      progress(value.share);
      // A rest, in which a cancel can arrive.
      await new Promise((resolve) => setTimeout(resolve));
      if (this.cancelled !== before) {
        this.fits.delete(key);
        return null;
      }
    }
  }
}

export type { Reader };
expose(new Reader());
