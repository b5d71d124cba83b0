import type { Session } from '@ulkret/core/session';
import { type SomeFacts, SessionLog } from '@ulkret/core/facts';
import type { Entry } from '@ulkret/core/facts';
import { keepHeard, keptFacts, keptSession } from './entries';
import type { Outbox } from './outbox';

/** One session on this device: what was entered here and what came from others, merged by union, as React can follow it. */
export class SessionStore {
  private log = new SessionLog();
  /** Undefined until this device has looked. */
  private kept: { body: Session; state: string } | null | undefined = undefined;
  private readonly listeners = new Set<() => void>();
  /** What has come since each read began that is still under way: what is read does not have it yet. */
  private readonly meanwhile = new Set<SomeFacts[]>();

  constructor(
    private readonly academy: string,
    private readonly id: string,
    private readonly outbox: Pick<Outbox, 'record'>,
  ) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly standing = () => this.log.standing();
  readonly session = () => this.kept;

  /** Reads what the device has; again when waiting instants were corrected. */
  readonly read = async (): Promise<void> => {
    const log = new SessionLog();
    const come: SomeFacts[] = [];
    this.meanwhile.add(come);
    try {
      const [facts, kept] = [
        await keptFacts(this.academy, this.id),
        await keptSession(this.academy, this.id),
      ];
      for (const some of [facts, ...come]) log.add(some);
      this.kept = kept;
    } catch {
      // A device whose store cannot be opened still shows what the server and this page know.
      this.kept = null;
      this.tell();
      return;
    } finally {
      this.meanwhile.delete(come);
    }
    this.log = log;
    this.tell();
  };

  /** Takes facts from wherever they come; says whether one was new. */
  readonly take = (facts: SomeFacts): boolean => {
    for (const come of this.meanwhile) come.push(facts);
    const isNew = this.log.add(facts);
    if (isNew) this.tell();
    return isNew;
  };

  /** Takes what others have just sent, and keeps it: the server may be out of reach when this page is opened next. */
  readonly hear = (facts: SomeFacts): void => {
    // Its own come back as well. A device that is full goes without.
    if (this.take(facts)) void keepHeard(this.academy, this.id, facts).catch(() => undefined);
  };

  /** Enters something here: on the screen at once, on the device in the same breath, to the server when there is one. */
  readonly add = (entry: Entry): void => {
    const list = { [entry.is]: [entry.fact] } as SomeFacts;
    this.take(list);
    void this.outbox.record(this.id, entry);
  };

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}
