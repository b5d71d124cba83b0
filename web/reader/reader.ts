import { endpoints } from '@ulkret/contract';
import type { Method, ReadingSettings, Slice, SquadReading } from '@ulkret/core/reading';
import { expose } from 'comlink';
import { ApiRefusal, ask } from '../api/ask';
import { askOrRecall } from '../api/recall';

/** Which weeks, and how fast a rep loses weight; see the contract. */
export interface Period {
  asOf?: string | undefined;
  weeks: number;
  halfLife: number;
}

/** What a page wants read. */
export interface Order {
  academy: string;
  technique: string;
  method: Method;
  slice: Slice;
  period: Period;
  /** At once, plainly where the full reading is not made yet. */
  now: boolean;
}

export interface Answer {
  reading: SquadReading;
  settings: ReadingSettings;
}

/** Errors lose their class on the way to the page, so a refusal travels as data. */
export type Reply<T> =
  { is: 'read'; value: T } | { is: 'refused'; status: number; message: string; todo: string };

/** Fetches and checks readings for the pages, off their thread: one of a squad is a thousand numbers. */
class Reader {
  async read({ academy, technique, method, slice, period, now }: Order): Promise<Reply<Answer>> {
    const { rung, side, partner } = slice;
    const query = {
      technique,
      method,
      rung: rung ?? undefined,
      side: side ?? undefined,
      partner: partner ?? undefined,
      ...period,
      now: now ? ('yes' as const) : ('no' as const),
      prescriptions: 'no' as const,
    };
    // What is looked at most is kept for when there is no network.
    const everything = Object.values(slice).every((one) => one === null) && period.asOf === undefined;
    try {
      const { settings, students, ...rest } = everything
        ? await askOrRecall(academy, endpoints.readings, { query })
        : await ask(endpoints.readings, { query });
      const reading = { ...rest, students: students.map((one) => one.reading) };
      return { is: 'read', value: { reading, settings } };
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      return { is: 'refused', status: error.status, message: error.message, todo: error.todo };
    }
  }
}

export type { Reader };
expose(new Reader());
