import { type Batch, endpoints, type ItemAnswer } from '@ulkret/contract';
import { type Entry, factsIn, moved } from '@ulkret/core/facts';
import type { Student } from '@ulkret/core/people';
import { later } from '@ulkret/core/rep';
import type { Session } from '@ulkret/core/session';
import type { KeptDocument, KeptFact } from '../api/store';
import { afterPaint } from '../ui/after-paint';
import { ApiRefusal, ask } from '../api/ask';
import { clock } from '../api/clock';
import * as device from './entries';
import { journal, journaled, unjournal } from './journal';
import { tellOfNewFacts } from './new-facts';
import { calm, type SyncState } from './sync-state';

const mostInABatch = 500;
/** After this many failures in a row, assume the server is at fault. */
const mostAlone = 3;
/** What the server says when it would say the same again: it is not as it should be, it may not be, or it has met another. */
const settled: ReadonlySet<number> = new Set([400, 403, 409]);
const retryMs = 4000;
/** What breaks the server on its own goes again after this long at most. */
const longestRestMs = 600_000;
/** What is entered goes so soon, and not more often than that: each sending costs the device more than a tap does. */
const soonMs = 120;
const spacedMs = 700;
/** A batch is small: what takes longer hangs, and is sent again. */
const patienceMs = 15_000;
/** Clocks nearer than this are taken to agree. */
const agreeMs = 2000;

/**
 * Carries what was entered on this device to the server. Entries are written to the device first, sent when there is a
 * network, in any order and any number of times; the server answers each one, and nothing is dropped before it has. Where
 * the device is full, entries stay on the screen, are sent from there, and the words say so.
 */
export class Outbox {
  private state: SyncState = { ...calm, looked: false };
  private readonly listeners = new Set<() => void>();
  private readonly correctedListeners = new Set<() => void>();
  private unkept: { session: string; entry: Entry }[] = [];
  /** Entries handed in and not yet written: they count as waiting from the tap on. */
  private readonly writing = new Set<string>();
  /** The number of writes begun or ended. */
  private writes = 0;
  private sending: Promise<void> | null = null;
  private again = false;
  private closed = false;
  /** May something wait that was stamped before the server was heard? May a session or a person wait? What cannot be is not looked for. */
  private mayBeUnheard = true;
  private mayHaveDocuments = true;
  /** May something have been refused? */
  private mayHaveRefused = true;
  /** Entries that broke the server on their own: they wait, longer each time, and are never refused for it. */
  private readonly resting = new Map<string, { until: number; times: number; words: string }>();
  /** When it was last sent, by this page's own clock. */
  private flushedAt = -spacedMs;
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** Of an academy, for the coach who is signed in: what another has noted on this device waits until they are. */
  constructor(
    private readonly academy: string,
    private readonly observer: string,
  ) {}

  /** Starts sending; the answer stops it. */
  open(): () => void {
    this.closed = false;
    window.addEventListener('online', this.flushSoon);
    void this.recover()
      .then(() => this.count())
      .catch(() => undefined)
      .then(() => this.flush());
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
    // The first tap goes at once; what is tapped right after it goes together.
    const wait = Math.max(soonMs, this.flushedAt + spacedMs - performance.now());
    this.timer = setTimeout(() => void this.flush(), wait);
  };

  /** Calls back when instants of waiting entries were corrected, so that the screen can read them again. */
  readonly onCorrected = (listener: () => void): (() => void) => {
    this.correctedListeners.add(listener);
    return () => this.correctedListeners.delete(listener);
  };

  /** Keeps a fact on the device and sends it when it can. Where the device cannot keep it, it is sent from the screen. */
  async record(session: string, entry: Entry): Promise<void> {
    const made = this.clockNow();
    this.mayBeUnheard ||= !made.heard;
    journal(this.academy, { session, entry, clock: made });
    this.writing.add(entry.fact.id);
    this.writes++;
    // It is noted: the store, and the words about it, can have it when the screen has answered.
    await new Promise<void>((resolve) => void afterPaint(resolve));
    this.tell({ ...this.state, waiting: this.state.waiting + 1 });
    try {
      await device.keepFact(this.academy, session, entry, made);
      unjournal(this.academy, entry.fact.id);
    } catch {
      this.unkept.push({ session, entry });
      this.tell({ ...this.state, unkept: this.unkept.length });
    } finally {
      this.writing.delete(entry.fact.id);
      this.writes++;
    }
    this.flushSoon();
  }

  /** Brings in what a tab had noted when it was closed before the store had it. */
  private async recover(): Promise<void> {
    for (const { session, entry, clock: made } of journaled(this.academy)) {
      await device.keepFact(this.academy, session, entry, made);
      unjournal(this.academy, entry.fact.id);
    }
  }

  /** Keeps a session's set-up on the device and sends it when it can. Throws where the device cannot keep it. */
  keepSession = (body: Session): Promise<void> => this.keepDocument({ is: 'session', body });
  /** Keeps somebody who is new on the roster. Throws where the device cannot. */
  keepStudent = (body: Student): Promise<void> => this.keepDocument({ is: 'student', body });

  private async keepDocument(
    document: { is: 'session'; body: Session } | { is: 'student'; body: Student },
  ): Promise<void> {
    await device.keepDocument({
      ...document,
      id: document.body.id,
      academy: this.academy,
      state: 'waiting',
      clock: this.clockNow(),
    });
    this.mayHaveDocuments = true;
    this.mayBeUnheard ||= !clock.heard;
    await this.count();
    this.flushSoon();
  }

  /** Sends a refused entry again, as it was or as it has been fixed. */
  async fix(refused: KeptFact, fact: Entry['fact'] = refused.fact): Promise<void> {
    const { reason: _, ...row } = refused;
    await device.putFacts([{ ...row, fact, state: 'waiting' } as KeptFact]);
    await this.count();
    this.flushSoon();
  }

  /** Takes a refused entry out of the queue: the coach has read why, and lets it go. */
  async letGo(refused: KeptFact): Promise<void> {
    await device.dropFact(refused.order);
    await this.count();
  }

  /** Puts an entry back that was let go, with its reason. */
  async takeBack(refused: KeptFact): Promise<void> {
    this.mayHaveRefused = true;
    await device.putFacts([refused]);
    await this.count();
  }

  private clockNow = () => ({ offsetMs: clock.offsetMs, heard: clock.heard });

  private tell(state: SyncState): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }

  private async count(
    held: SyncState['held'] = this.state.held,
    trouble = held === 'server trouble' ? this.state.trouble : null,
  ): Promise<void> {
    const { academy } = this;
    const [refused, refusedDocuments] = this.mayHaveRefused
      ? await Promise.all([
          device.factsInState(academy, 'refused'),
          device.documentsInState(academy, 'refused'),
        ])
      : [[], []];
    this.mayHaveRefused = refused.length + refusedDocuments.length > 0;
    let stored = 0;
    let begun = -1;
    // An entry written during the count must count once: then it counts again, three times at most; the next sending counts
    // too.
    for (let tries = 0; tries < 3 && begun !== this.writes; tries++) {
      begun = this.writes;
      const [facts, documents, written] = await Promise.all([
        device.countIn('facts', academy, 'waiting'),
        device.countIn('documents', academy, 'waiting'),
        device.inStore(academy, [...this.writing]),
      ]);
      stored = facts + documents - written;
    }
    // Never "all saved" while something is on its way.
    const still = begun === this.writes ? 0 : 1;
    const waiting = Math.max(stored + this.unkept.length + this.writing.size, still);
    this.tell({
      looked: true,
      waiting,
      unkept: this.unkept.length,
      refused: [
        ...refused.map((fact) => ({ id: fact.id, reason: fact.reason ?? '', fact })),
        ...refusedDocuments.map(({ id, reason = '' }) => ({ id, reason, fact: null })),
      ],
      held: waiting > 0 ? held : null,
      trouble: waiting > 0 ? trouble : null,
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
      this.flushedAt = performance.now();
      await this.send();
    }
  }

  private async send(): Promise<void> {
    try {
      if (this.mayBeUnheard) {
        if ((await this.anythingWaits()) && !clock.heard) await ask(endpoints.health);
        await this.correctClocks();
        this.mayBeUnheard = !clock.heard;
      }
      if (this.mayHaveDocuments) {
        await this.sendDocuments('student');
        await this.sendDocuments('session');
        this.mayHaveDocuments = false;
      }
      await this.sendBatches();
      await this.sendUnkept();
      await this.count(null);
      if (this.state.waiting > 0 && (await this.onlyOthersWait())) await this.count('another coach');
      await this.tellOfResting();
    } catch (error) {
      const status = error instanceof ApiRefusal ? error.status : -1;
      const held = status === 0 ? 'no network' : status === 401 ? 'signed out' : 'server trouble';
      const trouble = held === 'server trouble' && error instanceof ApiRefusal ? error.message : null;
      await this.count(held, trouble).catch(() => undefined);
      clearTimeout(this.timer);
      if (!this.closed) this.timer = setTimeout(() => void this.flush(), retryMs);
    }
  }

  /** What broke the server goes again on its own, when its rest is over. */
  private async tellOfResting(): Promise<void> {
    const [first] = [...this.resting.values()].sort((a, b) => a.until - b.until);
    if (!first || this.state.waiting === 0) return;
    await this.count('server trouble', first.words);
    clearTimeout(this.timer);
    const wait = Math.max(retryMs, first.until - performance.now());
    if (!this.closed) this.timer = setTimeout(() => void this.flush(), wait);
  }

  private async onlyOthersWait(): Promise<boolean> {
    if ((await device.countIn('facts', this.academy, 'waiting')) === 0) return false;
    return (await device.waitingOf(this.academy, this.observer, 1)).length === 0;
  }

  private async anythingWaits(): Promise<boolean> {
    const [facts, documents] = await Promise.all([
      device.countIn('facts', this.academy, 'waiting'),
      device.countIn('documents', this.academy, 'waiting'),
    ]);
    return facts + documents > 0;
  }

  /** Reps that wait, were never sent, and were stamped by an unchecked clock: their instants are corrected. */
  private async correctClocks(): Promise<void> {
    const off = ({ clock: made, tried }: { clock?: KeptFact['clock']; tried?: boolean }): number => {
      if (!made || made.heard || tried) return 0;
      const difference = clock.offsetMs - made.offsetMs;
      return Math.abs(difference) > agreeMs ? difference : 0;
    };
    const waiting = await device.factsInState(this.academy, 'waiting');
    const wrong = waiting.filter((row) => off(row) !== 0);
    const documents = (await device.documentsInState(this.academy, 'waiting')).filter(
      (row) => off(row) !== 0,
    );
    if (wrong.length === 0 && documents.length === 0) return;
    const heard = this.clockNow();
    await device.putFacts(wrong.map((row) => ({ ...moved(row, off(row)), clock: heard })));
    for (const row of documents)
      await device.keepDocument(
        row.is === 'session'
          ? { ...row, clock: heard, body: { ...row.body, startedAt: later(row.body.startedAt, off(row)) } }
          : { ...row, clock: heard },
      );
    clock.settle();
    for (const listener of this.correctedListeners) listener();
  }

  private async sendDocuments(is: KeptDocument['is']): Promise<void> {
    for (const kept of await device.documentsInState(this.academy, 'waiting')) {
      if (kept.is !== is) continue;
      await device.keepDocument({ ...kept, tried: true });
      try {
        if (kept.is === 'session')
          await ask(endpoints.saveSession, { params: { id: kept.id }, body: kept.body });
        else
          await ask(endpoints.saveStudent, {
            params: { id: kept.id },
            // Guests are added even if the name is taken.
            body: { ...kept.body, namesake: true },
          });
        await device.keepDocument({ ...kept, tried: true, state: 'saved' });
      } catch (error) {
        if (!(error instanceof ApiRefusal) || !settled.has(error.status)) throw error;
        this.mayHaveRefused = true;
        await device.keepDocument({ ...kept, tried: true, state: 'refused', reason: error.message });
      }
    }
  }

  /**
   * Sends everything that waits. A batch that breaks the server is halved until the culprit is alone; it rests and goes again
   * later once another batch has gone through. If nothing goes through, the server is at fault, and all of it waits.
   */
  private async sendBatches(): Promise<void> {
    let most = mostInABatch;
    const alone = new Map<string, { row: KeptFact; error: ApiRefusal }>();
    for (;;) {
      const set = alone.size + this.resting.size;
      const found = await device.waitingOf(this.academy, this.observer, most + set);
      const rests = (id: string) => (this.resting.get(id)?.until ?? 0) > performance.now();
      const rows = found.filter(({ id }) => !alone.has(id) && !rests(id)).slice(0, most);
      if (rows.length === 0) break;
      try {
        if (!(await this.sendBatch(rows))) break;
        // What has come since then is sent for itself.
        if (alone.size === 0 && found.length < most + this.resting.size) break;
      } catch (error) {
        if (!(error instanceof ApiRefusal) || error.status !== 500) throw error;
        if (rows.length > 1) most = Math.ceil(rows.length / 2);
        else alone.set(rows[0]!.id, { row: rows[0]!, error });
        if (alone.size > mostAlone) throw error;
        continue;
      }
      for (const { row, error } of alone.values()) {
        const times = (this.resting.get(row.id)?.times ?? 0) + 1;
        const restMs = Math.min(longestRestMs, retryMs * 2 ** times);
        this.resting.set(row.id, { until: performance.now() + restMs, times, words: error.message });
      }
      alone.clear();
    }
    for (const { error } of alone.values()) throw error;
  }

  /** Sends one batch, and keeps what the server said of each; false where it said nothing of any. */
  private async sendBatch(rows: readonly KeptFact[]): Promise<boolean> {
    const untried = rows.filter(({ tried }) => !tried);
    if (untried.length > 0) await device.putFacts(untried.map((row) => ({ ...row, tried: true })));
    const answers = await this.sendFacts(rows);
    await device.putFacts(
      rows.map((row): KeptFact => {
        const answer = answers.get(row.id);
        if (answer) this.resting.delete(row.id);
        if (!answer) return { ...row, tried: true };
        return answer.answer === 'refused'
          ? { ...row, tried: true, state: 'refused', reason: answer.reason ?? 'no reason given' }
          : { ...row, tried: true, state: 'saved' };
      }),
    );
    this.mayHaveRefused ||= [...answers.values()].some(({ answer }) => answer === 'refused');
    // More waits: show how much.
    if (rows.length === mostInABatch) await this.count();
    return answers.size > 0;
  }

  /** Sends what the device could not keep; what the server refuses of it is tried on the device once more. */
  private async sendUnkept(): Promise<void> {
    const own = () => this.unkept.filter(({ entry }) => entry.fact.observer === this.observer);
    while (own().length > 0) {
      const part = own().slice(0, mostInABatch);
      const answers = await this.sendFacts(part.map(({ entry }) => entry));
      this.unkept = this.unkept.filter((one) => !part.includes(one));
      for (const { session, entry } of part)
        if (!answers.has(entry.fact.id) || answers.get(entry.fact.id)?.answer === 'refused')
          await device
            .keepFact(this.academy, session, entry, this.clockNow())
            .catch(() => this.unkept.push({ session, entry }));
        else unjournal(this.academy, entry.fact.id);
      await this.count();
    }
  }

  private async sendFacts(entries: readonly Entry[]): Promise<Map<string, ItemAnswer>> {
    const body = factsIn(entries) as unknown as Batch;
    const { items } = await ask(endpoints.sendReps, { body }, patienceMs);
    tellOfNewFacts();
    return new Map(items.map((item): [string, ItemAnswer] => [item.id, item]));
  }
}
