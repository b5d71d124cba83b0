import { type Endpoint, endpoints } from '@ulkret/contract';
import type { Method, ReadingSettings, Slice, SquadRates, SquadReading } from '@ulkret/core/reading';
import { expose } from 'comlink';
import { ApiRefusal, ask, type Input } from '../api/ask';
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
  /** Of the squad as one, or of everybody in it. */
  of: 'squad' | 'everybody';
  /** Of everybody this one alone. */
  student?: string;
  /** At once, plainly where the full reading is not made yet. */
  now: boolean;
}

export interface Answer {
  reading: SquadReading;
  settings: ReadingSettings;
}

/** Of everybody the rates alone. */
export interface Rated {
  reading: SquadRates;
  settings: ReadingSettings;
}

/** Errors lose their class on the way to the page, so a refusal travels as data. */
export type Reply<T> =
  { is: 'read'; value: T } | { is: 'refused'; status: number; message: string; todo: string };

/** Fetches and checks readings for the pages, off their thread: one of a squad is a thousand numbers. */
class Reader {
  readings(order: Order): Promise<Reply<Answer>> {
    return replied(async () => {
      const query = { ...queryOf(order), prescriptions: 'no' as const };
      const { settings, students, ...rest } = await asked(order, endpoints.readings, { query });
      return { reading: { ...rest, students: students.map((one) => one.reading) }, settings };
    });
  }

  rates(order: Order): Promise<Reply<Rated>> {
    return replied(async () => {
      const { settings, ...reading } = await asked(order, endpoints.rates, {
        query: { ...queryOf(order), of: order.of, student: order.student },
      });
      return { reading, settings };
    });
  }
}

const queryOf = ({ technique, method, slice: { rung, side, partner }, period, now }: Order) => ({
  technique,
  method,
  rung: rung ?? undefined,
  side: side ?? undefined,
  partner: partner ?? undefined,
  ...period,
  now: now ? ('yes' as const) : ('no' as const),
});

/** Asks; what is looked at most is kept for when there is no network. */
function asked<E extends Endpoint>({ academy, slice, period }: Order, endpoint: E, input: Input<E>) {
  const everything = Object.values(slice).every((one) => one === null) && period.asOf === undefined;
  return everything ? askOrRecall(academy, endpoint, input) : ask(endpoint, input);
}

async function replied<T>(make: () => Promise<T>): Promise<Reply<T>> {
  try {
    return { is: 'read', value: await make() };
  } catch (error) {
    if (!(error instanceof ApiRefusal)) throw error;
    return { is: 'refused', status: error.status, message: error.message, todo: error.todo };
  }
}

export type { Reader };
expose(new Reader());
