import { endpoints, type ItemAnswer } from '@ulkret/contract';
import type { Session } from '@ulkret/core/rep';
import { ApiRefusal, ask } from '../shell/ask';
import * as device from './device';
import { tellOfNewFacts } from './new-facts';

/** Where the entries of this device stand. `held` says why they are not being sent, if they are not. */
export interface SyncState {
  waiting: number;
  refused: { id: string; reason: string }[];
  held: 'no network' | 'signed out' | 'server trouble' | 'device full' | null;
}

const mostInABatch = 500;
const retryMs = 5000;

/**
 * Carries what was entered on this device to the server. Entries are written to the device first, sent when there is a
 * network, in any order and any number of times; the server answers each one, and nothing is dropped before it has.
 */
export class Outbox {
  private state: SyncState = { waiting: 0, refused: [], held: null };
  private readonly listeners = new Set<() => void>();
  private sending: Promise<void> | null = null;
  private again = false;
  private closed = false;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly academy: string) {}

  /** Starts sending; the answer stops it. */
  open(): () => void {
    this.closed = false;
    window.addEventListener('online', this.flushSoon);
    void this.count().then(() => this.flush());
    return () => {
      this.closed = true;
      window.removeEventListener('online', this.flushSoon);
      clearTimeout(this.timer);
    };
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly current = (): SyncState => this.state;
  readonly flushSoon = (): void => {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.flush(), 120);
  };

  /** Keeps a fact on the device and sends it when it can. Throws where the device cannot keep it. */
  async record(session: string, entry: device.Entry): Promise<void> {
    this.tell({ ...this.state, waiting: this.state.waiting + 1 });
    try {
      await device.keepFact(this.academy, session, entry);
    } catch (error) {
      this.tell({ ...this.state, waiting: this.state.waiting - 1, held: 'device full' });
      throw error;
    }
    this.flushSoon();
  }

  /** Keeps a session's set-up on the device and sends it when it can. */
  async keepSession(session: Session): Promise<void> {
    await device.keepSession({ id: session.id, academy: this.academy, session, state: 'waiting' });
    await this.count();
    this.flushSoon();
  }

  private tell(state: SyncState): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }

  private async count(held: SyncState['held'] = this.state.held): Promise<void> {
    const { academy } = this;
    const [facts, sessions, refused, refusedSessions] = await Promise.all([
      device.countIn('facts', academy, 'waiting'),
      device.countIn('sessions', academy, 'waiting'),
      device.factsIn(academy, 'refused'),
      device.sessionsIn(academy, 'refused'),
    ]);
    const waiting = facts + sessions;
    this.tell({
      waiting,
      refused: [...refused, ...refusedSessions].map(({ id, reason = '' }) => ({ id, reason })),
      held: waiting > 0 ? held : null,
    });
  }

  /** Sends what waits. Called while it is sending, it looks once more, and ends when all of that is done. */
  flush(): Promise<void> {
    if (this.closed) return Promise.resolve();
    this.again = true;
    this.sending ??= this.sendAll().finally(() => (this.sending = null));
    return this.sending;
  }

  private async sendAll(): Promise<void> {
    while (this.again && !this.closed) {
      this.again = false;
      await this.send();
    }
  }

  private async send(): Promise<void> {
    try {
      await this.sendSessions();
      while (await this.sendBatch());
      await this.count(null);
    } catch (error) {
      const status = error instanceof ApiRefusal ? error.status : -1;
      await this.count(status === 0 ? 'no network' : status === 401 ? 'signed out' : 'server trouble');
      clearTimeout(this.timer);
      if (!this.closed) this.timer = setTimeout(() => void this.flush(), retryMs);
    }
  }

  private async sendSessions(): Promise<void> {
    const { academy } = this;
    for (const kept of await device.sessionsIn(academy, 'waiting'))
      try {
        await ask(endpoints.saveSession, { params: { id: kept.id }, body: kept.session });
        await device.keepSession({ ...kept, state: 'saved' });
      } catch (error) {
        if (!(error instanceof ApiRefusal) || error.status !== 400) throw error;
        await device.keepSession({ ...kept, state: 'refused', reason: error.message });
      }
  }

  /** Sends one batch of what waits, oldest first; false where nothing waits. */
  private async sendBatch(): Promise<boolean> {
    const { academy } = this;
    const rows = await device.factsIn(academy, 'waiting', mostInABatch);
    if (rows.length === 0) return false;
    const of = (is: device.Entry['is']) =>
      rows.filter((row) => row.is === is).map(({ fact }) => ({ ...fact }));
    const { items } = await ask(endpoints.sendReps, {
      body: { reps: of('rep'), voids: of('void'), tags: of('tag'), looks: [] },
    });
    const answers = new Map(items.map((item): [string, ItemAnswer] => [item.id, item]));
    await device.settleFacts(
      rows.map((row): device.KeptFact => {
        const answer = answers.get(row.id);
        if (!answer) return row;
        return answer.answer === 'refused'
          ? { ...row, state: 'refused', reason: answer.reason ?? 'no reason given' }
          : { ...row, state: 'saved' };
      }),
    );
    await this.count();
    tellOfNewFacts();
    return answers.size > 0;
  }
}

/** The sync state in words that are always true. */
export function syncWords({ waiting, refused, held }: SyncState): string {
  const parts: string[] = [];
  if (held === 'device full') parts.push('this device is full: the last entry was not kept');
  if (waiting > 0)
    parts.push(
      `${waiting} waiting${held === 'no network' ? ' for a network' : held === 'signed out' ? ': sign in to send' : held === 'server trouble' ? ': the server has trouble' : ''}`,
    );
  if (refused.length > 0) parts.push(`${refused.length} refused`);
  return parts.length > 0 ? parts.join(', ') : 'all saved';
}
