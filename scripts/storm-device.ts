import 'fake-indexeddb/auto';
import { type Entry, factsIn } from '@ulkret/core/facts';
import { uuidv7 } from 'uuidv7';

/** What a device of the storm is told. */
export interface DeviceOrder {
  url: string;
  cookie: string;
  academy: string;
  observer: string;
  session: string;
  technique: string;
  checkpoints: string[];
  causes: Record<string, string[]>;
  pair: [string, string];
  taps: number;
  /** Milliseconds between two taps. */
  pace: number;
}

/** What it says, again and again. */
export type DeviceReport =
  | { is: 'tapped'; n: number }
  | { is: 'done'; reps: string[]; voids: string[]; tags: string[]; refused: number; failedCalls: number };

const order = JSON.parse(process.env['STORM_ORDER']!) as DeviceOrder;

// The browser that the outbox lives in, as far as it looks at it.
Object.assign(globalThis, {
  window: { addEventListener: () => undefined, removeEventListener: () => undefined },
});
const realFetch = globalThis.fetch;
let failedCalls = 0;
globalThis.fetch = async (address, options) => {
  try {
    const response = await realFetch(order.url + String(address), {
      ...options,
      headers: { ...(options?.headers as Record<string, string>), cookie: order.cookie },
    });
    if (response.status >= 500) failedCalls++;
    return response;
  } catch (error) {
    failedCalls++;
    throw error;
  }
};

const { Outbox } = await import('../web/device/outbox');
const { factsInState } = await import('../web/device/entries');
const { clock } = await import('../web/api/clock');

const say = (report: DeviceReport) => process.send!(report);
const rest = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const outbox = new Outbox(order.academy, order.observer);
outbox.open();

const made = { reps: [] as string[], voids: [] as string[], tags: [] as string[] };
const record = async (entry: Entry) => {
  await outbox.record(order.session, entry);
  (made[entry.is as keyof typeof made] ??= []).push(entry.fact.id);
};
const told = () => ({ id: uuidv7(), at: clock.stamp(), observer: order.observer });

for (let i = 0; i < order.taps; i++) {
  const stop = i % 3 === 0 ? null : order.checkpoints[i % order.checkpoints.length]!;
  const rep = {
    ...told(),
    session: order.session,
    technique: order.technique,
    edition: 1,
    student: order.pair[i % 2]!,
    partner: order.pair[(i + 1) % 2]!,
    side: i % 4 < 2 ? ('right' as const) : ('left' as const),
    rung: 2 as const,
    from: null,
    to: null,
    soft: [],
    cause: null,
    source: 'mat' as const,
    note: '',
    ...(stop ? { outcome: 'stopped' as const, stop } : { outcome: 'finished' as const }),
  };
  await record({ is: 'reps', fact: rep });
  const cause = stop && order.causes[stop]?.[0];
  if (cause && i % 5 === 0)
    await record({ is: 'tags', fact: { ...told(), rep: rep.id, cause, words: null } });
  if (i % 31 === 30) await record({ is: 'voids', fact: { ...told(), rep: rep.id, ofImport: false } });
  if (i % 50 === 49) {
    say({ is: 'tapped', n: i + 1 });
    await rest(order.pace * 50);
  }
}
while (outbox.current().waiting > 0) {
  await outbox.flush();
  await rest(200);
}

/** The answer to facts that are sent until there is one: the server may be away. */
async function sentAtLast(facts: ReturnType<typeof factsIn>): Promise<{ items: { answer: string }[] }> {
  for (;;) {
    const response = await fetch('/api/reps', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(facts),
    }).catch(() => null);
    if (response?.ok) return (await response.json()) as { items: { answer: string }[] };
    if (response && response.status < 500) throw new Error(`${response.status}: ${await response.text()}`);
    await rest(500);
  }
}

// Everything once more, three times, in no order: nothing may come of it.
const saved = await factsInState(order.academy, 'saved');
for (let time = 0; time < 3; time++) {
  const shuffled = saved
    .map((row) => [Math.sin(row.order * (time + 7.3)), row] as const)
    .sort(([a], [b]) => a - b);
  for (let i = 0; i < shuffled.length; i += 500) {
    const facts = factsIn(shuffled.slice(i, i + 500).map(([, row]) => row));
    const { items } = await sentAtLast(facts);
    if (items.some(({ answer }) => answer !== 'known')) throw new Error('something known was taken for new');
  }
}
say({ is: 'done', ...made, refused: outbox.current().refused.length, failedCalls });
process.exit(0);
