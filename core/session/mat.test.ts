import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { neutralRules } from '../care';
import { type Entry, SessionLog } from '../facts';
import { newStudent } from '../people';
import type { Rep } from '../rep';
import { aRep, aSession, factId, plainBreakdown, plainTechnique as technique } from '../test';
import {
  type Common,
  doubleTapMs,
  type Entered,
  type GroupChange,
  matAtRest,
  type MatAction,
  type MatState,
  nothingEarlier,
  onMat,
  openScene,
  pairKey,
  PairViews,
  type Scene,
  type Session,
  sessionNow,
  type SessionChange,
  turningOf,
} from '.';

const breakdown = plainBreakdown(5);
const names = ['ada', 'ben', 'cleo', 'dan', 'eve', 'finn'];
const students = new Map(
  names.map((id) => [id, newStudent({ id, name: id, born: '1990-01-01', experienceMonths: 40, massKg: 70 })]),
);
const start = Date.parse('2026-03-05T18:00:00.000Z');
const library = new Map([['test-lock', { technique, breakdown }]]);

/** One device in a class: its own screen, and the facts that have reached it. */
class Device {
  state: MatState = matAtRest;
  readonly log = new SessionLog();
  readonly sent: Entry[] = [];
  private readonly views = new PairViews();
  private ids = 0;
  now = start + 60_000;

  constructor(
    readonly device: string,
    readonly coach: string,
    readonly session: Session,
    private readonly fields: Partial<Common> = {},
  ) {}

  scene(): Scene {
    const log = this.log.standing();
    const now = sessionNow(this.session, log.changes);
    const common: Common = {
      log,
      now,
      breakdown,
      technique,
      library,
      students,
      session: this.session,
      rules: neutralRules,
      units: 'kg and cm',
      today: '2026-03-05',
      earlierNotes: [],
      earlier: nothingEarlier,
      turning: turningOf(this.session, now.clock, this.now),
      ...this.fields,
    };
    return {
      session: this.session,
      startedOn: '2026-03-05',
      common,
      views: this.views.all(common),
      reps: log,
      coach: this.coach,
      device: this.device,
      nameOf: (id) => id,
      now: this.now,
      made: () => ({ id: this.id(), at: new Date(this.now).toISOString() }),
    };
  }

  private id(): string {
    this.ids += 1;
    return factId(1000 * (this.device.charCodeAt(0) - 96) + this.ids);
  }

  /** Does something a while later, and enters what comes of it here. */
  act(action: MatAction, afterMs = 2000): readonly Entered[] {
    this.now += afterMs;
    const step = onMat(this.state, action, this.scene());
    this.state = step.state;
    for (const one of step.enter) this.enter(one);
    return step.enter;
  }

  private enter(one: Entered): void {
    const made = { id: this.id(), at: new Date(this.now).toISOString(), observer: this.coach };
    const session = this.session.id;
    const entry: Entry =
      one.is === 'rep'
        ? { is: 'reps', fact: one.rep }
        : one.is === 'change'
          ? { is: 'changes', fact: { ...made, session, set: one.set } }
          : one.is === 'void'
            ? {
                is: 'voids',
                fact: { ...made, rep: one.rep, ofImport: false, device: this.device, restores: one.restores },
              }
            : one.is === 'look'
              ? { is: 'looks', fact: { ...made, rep: one.rep, stop: one.stop } }
              : { is: 'notes', fact: one.note };
    this.sent.push(entry);
    this.log.add({ [entry.is]: [entry.fact] });
  }

  hear(other: Device): void {
    for (const { is, fact } of other.sent) this.log.add({ [is]: [fact] });
  }

  get open() {
    return openScene(this.state, this.scene());
  }
  get reps(): readonly Rep[] {
    return this.log.standing().all();
  }
  get said(): string {
    return this.state.said?.words ?? '';
  }
}

const inPairs = (...pairs: string[][]) =>
  aSession({ startedAt: new Date(start).toISOString(), pairs, repsPerSide: 10 });
const mat = (
  session = inPairs(['ada', 'ben'], ['cleo', 'dan']),
  device = 'a',
  fields: Partial<Common> = {},
) => new Device(device, `coach-${device}`, session, fields);
const knot = (checkpoint: string, finger = false): MatAction => ({
  do: 'tap',
  tap: { do: 'knot', checkpoint },
  finger,
});
const ring = (finger = false): MatAction => ({ do: 'tap', tap: { do: 'ring' }, finger });
const opening = (...pair: string[]): MatAction => ({ do: 'open', pair });

describe('the open pair', () => {
  test('is a pair of people: another device that changes an earlier pair moves nobody’s rep', () => {
    const [a, b] = [mat(), mat(undefined, 'b')];
    a.act(opening('cleo', 'dan'));
    b.act({ do: 'regroup', changes: [{ is: 'apart', pair: ['ada', 'ben'] }] });
    a.hear(b);
    a.act(ring());
    expect(a.reps.map(({ student }) => student)).toEqual(['cleo']);
    expect(a.open?.view.members).toEqual(['cleo', 'dan']);
  });

  test('is none once it is gone: nothing is logged, and that is said', () => {
    const [a, b] = [mat(), mat(undefined, 'b')];
    a.act(opening('ada', 'ben'));
    b.act({ do: 'regroup', changes: [{ is: 'together', pair: ['ada', 'cleo'] }] });
    a.hear(b);
    expect(a.open).toBeNull();
    expect(a.act(ring())).toEqual([]);
    expect(a.said).toBe('Not logged: no pair is open. Tap a pair first.');
    a.act({ do: 'walk', by: -1 });
    expect(a.open?.view.members).toEqual(['ada', 'cleo']);
  });

  test('keeps what is begun on it while another is open', () => {
    const a = mat();
    a.act(opening('ada', 'ben'));
    a.act({ do: 'tap', tap: { do: 'soften', checkpoint: 'c2' } });
    expect(a.said).toBe('2 is soft in the next rep. No rep was logged.');
    a.act(opening('cleo', 'dan'));
    a.act(ring());
    a.act(opening('ada', 'ben'));
    a.act(ring());
    expect(a.reps.map(({ student, soft }) => [student, soft])).toEqual([
      ['cleo', []],
      ['ada', ['c2']],
    ]);
  });

  test('leaves what is said of it behind', () => {
    const a = mat();
    a.act(opening('ada', 'ben'));
    a.act(ring());
    expect(a.state.said).toMatchObject({ words: 'ada finished.', about: 'ada ben' });
    const before = a.state.said!.nth;
    a.act(ring());
    expect(a.state.said!.nth).toBe(before + 1);
    a.act(opening('cleo', 'dan'));
    expect(a.state.said).toMatchObject({ about: 'cleo dan' });
  });
});

describe('two taps', () => {
  test('of a finger at once are one rep, which is said; a moment later they are two', () => {
    const a = mat();
    a.act(opening('ada', 'ben'));
    a.act(ring(true));
    a.act(knot('c2', true), 80);
    expect(a.reps).toHaveLength(1);
    expect(a.said).toBe('Two taps at once: one rep was logged. Tap again if it was another.');
    a.act(ring(true), doubleTapMs);
    expect(a.reps).toHaveLength(2);
  });

  test('are two reps where the first was undone in between', () => {
    const a = mat();
    a.act(opening('ada', 'ben'));
    a.act(ring(true));
    a.act({ do: 'undo last' }, 60);
    a.act(knot('c2', true), 60);
    expect(a.reps.map(({ outcome }) => outcome)).toEqual(['stopped']);
  });

  test('on two pairs are two reps, however fast', () => {
    const a = mat();
    a.act(opening('ada', 'ben'));
    a.act(ring(true));
    a.act(opening('cleo', 'dan'), 40);
    a.act(ring(true), 40);
    expect(a.reps.map(({ student }) => student)).toEqual(['ada', 'cleo']);
  });
});

describe('the settings of a pair', () => {
  test('are facts of the class: two devices log the same pair at the same rung', () => {
    const [a, b] = [mat(), mat(undefined, 'b')];
    a.act(opening('ada', 'ben'));
    a.act({ do: 'rung', step: 1 });
    b.hear(a);
    b.act(opening('ada', 'ben'));
    b.act(ring());
    b.act(opening('cleo', 'dan'));
    b.act(ring());
    expect(b.reps.map(({ rung }) => rung)).toEqual([3, 2]);
  });

  test('follow one that is set for all pairs, until one is set for the pair again', () => {
    const a = mat();
    a.act(opening('ada', 'ben'));
    a.act({ do: 'rung', step: 1 });
    a.act({ do: 'change', set: { is: 'rung', pair: null, rung: 1 } });
    expect(a.open!.rung).toBe(1);
    a.act({ do: 'rung', step: -1 });
    expect([a.open!.rung, a.said]).toEqual([0, 'Rung 0 for ada and ben']);
    a.act({ do: 'rung', step: -1 });
    expect(a.said).toBe('Rung 0 is the lowest.');
  });

  test('one side alone swaps roles after its reps; at random every device draws the same side', () => {
    const session = aSession({
      startedAt: new Date(start).toISOString(),
      pairs: [['ada', 'ben']],
      repsPerSide: 2,
    });
    const a = mat(session);
    a.act(opening('ada', 'ben'));
    a.act({ do: 'change', set: { is: 'sides', pair: ['ada', 'ben'], sides: 'left' } });
    for (let i = 0; i < 4; i++) a.act(ring());
    expect(a.reps.map(({ student, side }) => `${student} ${side}`)).toEqual([
      'ada left',
      'ada left',
      'ben left',
      'ben left',
    ]);
    a.act({ do: 'change', set: { is: 'sides', pair: null, sides: 'random' } });
    const b = mat(session, 'b');
    b.hear(a);
    b.act(opening('ben', 'ada'));
    const sides = new Set<string>();
    for (let i = 0; i < 24; i++) {
      expect(b.open!.view.turn).toEqual(a.open!.view.turn);
      sides.add(a.open!.view.turn.side);
      a.act(ring());
      b.hear(a);
    }
    expect(sides.size).toBe(2);
  });

  test('whose turn it is can be set in one tap, and for everybody at once', () => {
    const a = mat();
    a.act(opening('ada', 'ben'));
    a.act({ do: 'tap', tap: { do: 'attack', student: 'ben', side: 'left' } });
    expect(a.said).toBe('ben attacks ada, left side');
    expect(a.open!.view.turn).toMatchObject({ student: 'ben', partner: 'ada', side: 'left' });
    a.act({ do: 'everybody switches' });
    expect(a.scene().views.map(({ turn }) => `${turn.student} ${turn.side}`)).toEqual([
      'ada left',
      'dan right',
    ]);
  });

  test('another attacks first also after the first rep', () => {
    const a = mat();
    a.act(opening('ada', 'ben'));
    a.act(ring());
    a.act({ do: 'regroup', changes: [{ is: 'together', pair: ['ben', 'ada'] }] });
    expect(a.open!.view.turn).toMatchObject({ student: 'ben', partner: 'ada', done: 0 });
  });
});

describe('an undo', () => {
  test('of the last rep is of this device, and of another’s rep it asks first', () => {
    const [a, b] = [mat(), mat(undefined, 'b')];
    // One account on two devices.
    const twin = new Device('c', a.coach, a.session);
    for (const one of [a, b, twin]) one.act(opening('ada', 'ben'));
    a.act(ring());
    twin.now += 5000;
    twin.act(knot('c2'));
    b.now += 9000;
    b.act(knot('c3'));
    for (const one of [b, twin]) a.hear(one);
    a.now = b.now;
    a.act({ do: 'undo last' });
    expect(a.reps.map(({ device }) => device)).toEqual(['c', 'b']);
    const theirs = a.reps[1]!;
    expect(a.act({ do: 'undo', rep: theirs })).toEqual([]);
    expect(a.state.over).toEqual({ is: 'undo', rep: theirs });
    a.act({ do: 'undo', rep: theirs, sure: true });
    expect(a.state.over).toBeNull();
    expect(a.reps.map(({ device }) => device)).toEqual(['c']);
  });

  test('can itself be undone, on every device, in whichever order they hear of it', () => {
    const [a, b] = [mat(), mat(undefined, 'b')];
    a.act(opening('ada', 'ben'));
    a.act(ring());
    const [rep] = a.reps;
    a.act({ do: 'undo last' });
    expect(a.reps).toEqual([]);
    expect(a.log.standing().undone()).toMatchObject([{ rep: { id: rep!.id } }]);
    a.act({ do: 'restore', rep: rep! });
    expect(a.reps).toEqual([rep]);
    for (const { is, fact } of a.sent.toReversed()) b.log.add({ [is]: [fact] });
    expect(b.reps).toEqual([rep]);
    expect(b.log.standing().undone()).toEqual([]);
  });
});

describe('a rep that was logged twice', () => {
  const both = () => {
    const [a, b] = [mat(), mat(undefined, 'b')];
    for (const one of [a, b]) one.act(opening('ada', 'ben'));
    a.act(knot('c4'));
    b.act(knot('c5'));
    a.hear(b);
    const two = a.reps as [Rep, Rep];
    return { a, b, two };
  };

  test('counts once towards the turn until a coach says that there were two', () => {
    const { a, b, two } = both();
    expect(a.open!.view.turn.done).toBe(1);
    a.act({ do: 'twice', two, keep: 'both' });
    expect(a.open!.view.turn.done).toBe(2);
    b.hear(a);
    expect(b.open!.view.turn.done).toBe(2);
  });

  test('is kept as one of them, the other as a second opinion on it', () => {
    const { a, two } = both();
    const [mine, theirs] = [
      two.find(({ device }) => device === 'a')!,
      two.find(({ device }) => device === 'b')!,
    ];
    a.act({ do: 'twice', two, keep: theirs, opinion: true });
    expect(a.reps).toEqual([theirs]);
    expect(a.log.standing().looks).toMatchObject([{ rep: theirs.id, stop: 'c4', observer: mine.observer }]);
  });
});

describe('what keeps a rep from being logged', () => {
  test('is said: a class that has ended, a stop for safety, a class of an earlier day', () => {
    const a = mat();
    a.act(opening('ada', 'ben'));
    a.act({ do: 'change', set: { is: 'end' } });
    expect(a.act(ring())).toEqual([]);
    expect(a.said).toContain('this class has ended');
    a.act({ do: 'change', set: { is: 'go on' } });
    a.act({ do: 'safety' });
    expect(a.state.over).toMatchObject({ is: 'care', note: { person: 'ben', why: 'not said' } });
    expect(a.act(ring())).toEqual([]);
    expect(a.said).toContain('stopped for safety');
    const late = mat(undefined, 'b', { today: '2026-03-06' });
    late.act(opening('ada', 'ben'));
    expect(late.act(ring())).toEqual([]);
    expect(late.state.over).toEqual({ is: 'earlier day' });
    late.act({ do: 'class goes on' });
    expect(late.act(ring())).toHaveLength(1);
  });

  test('a cap counts the whole day: what another class loaded is there from the first rep', () => {
    const before = Array.from({ length: 9 }, () =>
      aRep({ student: 'ada', partner: 'ben', session: factId(7) }),
    );
    const log = {
      exposureOf: () => ({
        byRegion: new Map([['shoulder' as const, { finish: before.length, firm: 0, light: 0 }]]),
        fast: 0,
        fastSpar: 0,
      }),
    };
    const a = mat(undefined, 'a', { earlier: log });
    a.act(opening('ada', 'ben'));
    a.act(ring());
    expect(a.open!.view.caps[0]).toMatchObject({ spent: 10, cap: neutralRules.caps.joint });
  });
});

describe('two coaches on one class', () => {
  const who = fc.constantFrom(...names);
  const groups = fc.oneof(
    fc
      .uniqueArray(who, { minLength: 2, maxLength: 3 })
      .map((pair): GroupChange => ({ is: 'together', pair })),
    who.map((about): GroupChange => ({ is: 'came', about })),
    who.map((about): GroupChange => ({ is: 'went home', about })),
    fc.constantFrom<GroupChange>(
      { is: 'apart', pair: ['ada', 'ben'] },
      { is: 'apart', pair: ['cleo', 'dan'] },
    ),
    fc.constant<GroupChange>({
      is: 'order',
      pairs: [
        ['cleo', 'dan'],
        ['ada', 'ben'],
      ],
    }),
  );
  const action: fc.Arbitrary<MatAction> = fc.oneof(
    groups.map((change): MatAction => ({ do: 'regroup', changes: [change] })),
    fc.constantFrom<MatAction>(
      ring(),
      knot('c2'),
      { do: 'walk', by: 1 },
      { do: 'walk', by: -1 },
      { do: 'rung', step: 1 },
      { do: 'everybody switches' },
      { do: 'partners rotate' },
      { do: 'tap', tap: { do: 'change side' } },
      { do: 'tap', tap: { do: 'swap' } },
      { do: 'undo last' },
    ),
  );
  const move = fc.record({ second: fc.boolean(), hears: fc.boolean(), action });

  test('any interleaving of their changes and taps gives the same class, and every rep to the pair that was on the tapping screen', () => {
    fc.assert(
      fc.property(fc.array(move, { maxLength: 40 }), (moves) => {
        const [a, b] = [mat(), mat(undefined, 'b')];
        b.now += 7;
        for (const { second, hears, action: does } of moves) {
          const [one, other] = second ? [b, a] : [a, b];
          if (hears) one.hear(other);
          const screen = one.open;
          for (const made of one.act(does, 1500)) {
            if (made.is !== 'rep') continue;
            // Who it is of, on whom, on which side and at which rung was on the screen when it was tapped.
            expect(screen).not.toBeNull();
            const { student, partner, side, rung } = made.rep;
            expect({ student, partner, side }).toEqual({
              student: screen!.view.turn.student,
              partner: screen!.view.turn.partner,
              side: screen!.view.turn.side,
            });
            expect(rung).toBe(screen!.rung);
            expect(screen!.view.members).toEqual(expect.arrayContaining([student]));
          }
        }
        a.hear(b);
        b.hear(a);
        const seen = (one: Device) => {
          const { now } = one.scene().common;
          return {
            pairs: now.pairs,
            waiting: now.waiting,
            settings: [...now.settings],
            everybody: now.everybody,
            reps: one.reps.map(({ id }) => id),
            turns: one.scene().views.map(({ key, turn }) => [key, turn]),
          };
        };
        expect(seen(a)).toEqual(seen(b));
      }),
      { numRuns: 200 },
    );
  });

  test('a sheet that was opened before somebody joined throws nobody out when it is saved', () => {
    const [a, b] = [mat(), mat(undefined, 'b')];
    // B opened the sheet; A adds the late-comer; then B saves only B's own changes.
    a.act({ do: 'regroup', changes: [{ is: 'together', pair: ['eve', 'finn'] }] });
    b.act({
      do: 'regroup',
      changes: [
        {
          is: 'order',
          pairs: [
            ['cleo', 'dan'],
            ['ada', 'ben'],
          ],
        },
      ],
    });
    b.hear(a);
    a.hear(b);
    const keys = (one: Device) => one.scene().views.map(({ members }) => pairKey(members));
    expect(keys(a)).toEqual(['cleo dan', 'ada ben', 'eve finn']);
    expect(keys(b)).toEqual(keys(a));
  });

  test('a whole list of an older device counts as of its moment, and later changes are added to it', () => {
    const a = mat();
    const at = (seconds: number) => new Date(start + seconds * 1000).toISOString();
    const old: SessionChange = {
      id: factId(5),
      session: a.session.id,
      at: at(30),
      observer: 'coach-z',
      set: { is: 'pairs', pairs: [['ada', 'cleo']] },
    };
    a.act({ do: 'regroup', changes: [{ is: 'together', pair: ['ben', 'dan'] }] });
    a.log.add({ changes: [old] });
    expect(a.scene().common.now.pairs).toEqual([
      ['ada', 'cleo'],
      ['ben', 'dan'],
    ]);
  });
});
