import type { Entry, Standing } from '@ulkret/core/facts';
import {
  type CauseAsked,
  type Common,
  type Entered,
  isOwn,
  type MatAction,
  type MatState,
  onMat,
  type OpenScene,
  openScene,
  type PairView,
  PairViews,
  type Scene,
  sessionNow,
  type SessionNow,
  turningOf,
} from '@ulkret/core/session';
import type { Rep } from '@ulkret/core/rep';
import { uuidv7 } from 'uuidv7';
import { clock } from '../../api/clock';
import { stamp } from '../../device/session-log';
import type { OpenSession } from '../../device/session-log';
import { thisDevice } from '../../device/this-device';
import { dateOf } from '../../ui/zone';
import { keepState, recalled } from './kept-state';

/** What the Mat knows besides the facts of its class: the roster, the library, the rules, the day. */
export type MatContext = Omit<Common, 'log' | 'now' | 'turning'> & {
  coach: string;
  nameOf(id: string): string;
  /** Of a coach. */
  observerName(id: string): string;
};

/** The Mat at one moment, for every part of it to take from what it shows. */
export interface MatNow {
  state: MatState;
  log: Standing;
  common: Common;
  views: readonly PairView[];
  /** The open pair as it drills; null where none is open, or it is no pair any more. */
  open: OpenScene | null;
}

/** Signals that a tap asks for, and the cause of a stop that is asked for: both are shown past React. */
interface Heard {
  ask(asked: CauseAsked | null): void;
  signal(): void;
}

/**
 * The Mat of one class on this device: what is open and begun here, and the facts of the class as they come in. An action is taken
 * by `onMat` on what is known at that very moment, so two taps in one frame never see the same turn.
 */
export class MatStore {
  private known: MatContext;
  private state: MatState;
  /** A guest whom the server does not know yet drops out of the roster for a moment: their name stays. */
  private readonly names = new Map<string, string>();
  private readonly pairViews = new PairViews();
  private readonly listeners = new Set<() => void>();
  private current: MatNow | null = null;
  private changes: { of: Standing['changes']; now: SessionNow } | null = null;
  private readonly heard = new Set<Heard>();

  constructor(
    readonly work: OpenSession,
    known: MatContext,
  ) {
    this.known = this.remembering(known);
    this.state = recalled(work.session.id);
    // A class that is kept on this device is here with all its facts.
    if (work.store.session()) this.state = this.begun();
    this.current = null;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Follows the facts of the class; the answer ends it. */
  readonly follow = (): (() => void) => this.work.store.subscribe(() => this.changed());

  /** A class that this device opens for the first time starts at the first pair once its facts are here. */
  readonly begin = (): void => {
    const before = this.state;
    this.state = this.begun();
    keepState(this.work.session.id, before, this.state);
    this.changed();
  };

  readonly hear = (one: Heard): (() => void) => {
    this.heard.add(one);
    return () => this.heard.delete(one);
  };

  /** Takes what the roster, the library or the day say by now. */
  readonly know = (known: MatContext): void => {
    this.known = this.remembering(known);
    this.changed();
  };

  /** All that the Mat knows besides the facts of its class. */
  readonly knows = (): MatContext => this.known;

  /** Looks at the clock: by it sides and roles may have changed. */
  readonly look = (): void => this.changed();

  /** The current knowledge: the same object until something changes. */
  readonly now = (): MatNow => {
    if (this.current) return this.current;
    const log = this.work.store.standing();
    const { session } = this.work;
    if (this.changes?.of !== log.changes)
      this.changes = { of: log.changes, now: sessionNow(session, log.changes) };
    const { now } = this.changes;
    const { coach: _, nameOf: __, observerName: ___, ...known } = this.known;
    const common: Common = { ...known, log, now, turning: turningOf(session, now.clock, clock.now()) };
    const views = this.pairViews.all(common);
    this.current = { state: this.state, log, common, views, open: openScene(this.state, { common, views }) };
    return this.current;
  };

  /** Does something: enters its facts, and shows what comes of it. */
  readonly act = (action: MatAction): void => {
    // A key that comes before the first pause is a rep as well.
    const before = this.state;
    const begun = this.begun();
    if (begun !== before) [this.state, this.current] = [begun, null];
    const { enter, ask, signal, state } = onMat(begun, action, this.scene());
    this.state = state;
    this.current = null;
    keepState(this.work.session.id, before, state);
    for (const one of enter) this.work.add(this.entry(one));
    if (ask !== undefined) for (const one of this.heard) one.ask(ask);
    if (signal) for (const one of this.heard) one.signal();
    this.changed();
  };

  /** Was a rep logged on this device? */
  readonly isOwn = (rep: Rep): boolean => isOwn(rep, { coach: this.known.coach, device: thisDevice() });

  /** A new fact of this class, without what it says. */
  readonly made = () => ({
    id: uuidv7(),
    session: this.work.session.id,
    at: stamp(),
    observer: this.known.coach,
  });

  private remembering(known: MatContext): MatContext {
    for (const { id } of known.students.values()) this.names.set(id, known.nameOf(id));
    return { ...known, nameOf: (id) => this.names.get(id) ?? id };
  }

  /** With the first pair open, where none ever was. */
  private begun(): MatState {
    const first = this.state.open === null ? this.now().views[0] : undefined;
    return first ? { ...this.state, open: first.members } : this.state;
  }

  private scene(): Scene {
    // By the clock a turn may have ended since the last look.
    if (this.work.session.repsPerSide === null) this.current = null;
    const { common, views, log } = this.now();
    return {
      session: this.work.session,
      startedOn: dateOf(Date.parse(this.work.session.startedAt)),
      common,
      views,
      reps: log,
      coach: this.known.coach,
      device: thisDevice(),
      nameOf: this.known.nameOf,
      now: clock.now(),
      made: () => ({ id: uuidv7(), at: stamp() }),
    };
  }

  private entry(one: Entered): Entry {
    const { session: _, ...aboutRep } = this.made();
    switch (one.is) {
      case 'rep':
        return { is: 'reps', fact: one.rep };
      case 'change':
        return { is: 'changes', fact: { ...this.made(), set: one.set } };
      case 'void':
        return {
          is: 'voids',
          fact: {
            ...aboutRep,
            rep: one.rep,
            ofImport: false,
            device: thisDevice(),
            ...(one.restores && { restores: true }),
          },
        };
      case 'look':
        return { is: 'looks', fact: { ...aboutRep, rep: one.rep, stop: one.stop } };
      case 'note':
        return { is: 'notes', fact: one.note };
    }
  }

  private changed(): void {
    this.current = null;
    for (const listener of this.listeners) listener();
  }
}
