import { type Endpoint, endpoints } from '@ulkret/contract';
import type { Method, ReadingSettings, Slice, SquadRates, SquadReading } from '@ulkret/core/reading';
import { ask, type Input } from '../api/ask';
import { askOrRecall } from '../api/recall';

/** Which weeks, and how fast a rep loses weight; see the contract. */
export interface Period {
  asOf?: string | undefined;
  weeks: number;
  halfLife: number;
}

/** A page's request. */
export interface Order {
  academy: string;
  technique: string;
  method: Method;
  slice: Slice;
  period: Period;
  /** Of the squad as one, or of everybody in it. */
  of: 'squad' | 'everybody';
  /** This student alone. */
  student?: string;
  /** At once, plainly where the full reading is not made yet. */
  now: boolean;
}

export interface ReadingAnswer {
  reading: SquadReading;
  settings: ReadingSettings;
}

/** Everybody's rates, without the rest. */
export interface RatesAnswer {
  reading: SquadRates;
  settings: ReadingSettings;
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

/** Why everybody's reps end, and all that is known of each checkpoint: a thousand numbers. */
export async function readingsOf(order: Order): Promise<ReadingAnswer> {
  const query = { ...queryOf(order), prescriptions: 'no' as const };
  const { settings, students, ...rest } = await asked(order, endpoints.readings, { query });
  return { reading: { ...rest, students: students.map((one) => one.reading) }, settings };
}

/** The rates alone. */
export async function ratesOf(order: Order): Promise<RatesAnswer> {
  const query = { ...queryOf(order), of: order.of, student: order.student };
  const { settings, ...reading } = await asked(order, endpoints.rates, { query });
  return { reading, settings };
}
