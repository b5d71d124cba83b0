import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Rep } from '../rep';
import { aRep, factId, plainBreakdown } from '../test';
import {
  type SessionChange,
  doublesIn,
  lastClass,
  paperMark,
  readPaper,
  Session,
  sessionNow,
  stoppedClock,
  summaryOf,
} from '.';

const start = '2026-03-05T18:00:00.000Z';
const later = (seconds: number) => new Date(Date.parse(start) + seconds * 1000).toISOString();
const session = Session.parse({
  id: factId(3),
  technique: 'test-lock',
  edition: 1,
  startedAt: start,
  endedAt: null,
  pairs: [['ada', 'ben']],
  rung: 2,
  from: null,
  to: null,
  repsPerSide: 10,
  roundSeconds: 300,
});

describe('a session', () => {
  test.each([
    ['no pair', { pairs: [] }],
    ['four in a pair', { pairs: [['a', 'b', 'c', 'd']] }],
    [
      'somebody in two pairs',
      {
        pairs: [
          ['a', 'b'],
          ['b', 'c'],
        ],
      },
    ],
    ['no reps', { repsPerSide: 0 }],
    ['a round of a second', { roundSeconds: 1 }],
  ])('with %s is refused', (_, fields) =>
    expect(Session.safeParse({ ...session, ...fields }).success).toBe(false),
  );

  test('with pairs, a rotating three and somebody alone is taken, and may be led by the clock', () => {
    const pairs = [['a', 'b'], ['c', 'd', 'e'], ['f']];
    expect(Session.safeParse({ ...session, pairs, repsPerSide: null }).success).toBe(true);
  });

  test('is what its changes leave, in whichever order they came', () => {
    let n = 10;
    const change = (seconds: number, set: SessionChange['set']): SessionChange => ({
      id: factId(n++),
      session: session.id,
      at: later(seconds),
      observer: 'coach',
      set,
    });
    const changes = [
      change(1, { is: 'pairs', pairs: [['ada', 'cleo']] }),
      change(2, { is: 'pairs', pairs: [['ada', 'ben'], ['cleo']] }),
      change(3, { is: 'span', pair: ['ben', 'ada'], from: null, to: 'c4' }),
      change(4, { is: 'clock', clock: { round: 2, ranMs: 0, since: later(4) } }),
      change(5, { is: 'end' }),
      change(2, {
        is: 'turn',
        pair: ['ada', 'ben'],
        student: 'ada',
        partner: 'ben',
        side: 'left',
        during: null,
      }),
      change(6, {
        is: 'turn',
        pair: ['ben', 'ada'],
        student: 'ben',
        partner: 'ada',
        side: 'right',
        during: null,
      }),
      change(6, { is: 'words', about: 'ada', words: 'sharper than last week' }),
      change(2, { is: 'works', about: 'ada', on: { checkpoint: 'c2', rung: 1 } }),
      change(7, { is: 'works', about: 'ada', on: { checkpoint: 'c3', rung: 2, cue: 'Elbow in.' } }),
      change(7, { is: 'works', about: 'cleo', on: null }),
    ];
    const prescribed = ['ada', 'ben', 'cleo'].map((student) => ({
      student,
      checkpoint: 'c1',
      rung: 1 as const,
    }));
    fc.assert(
      fc.property(fc.shuffledSubarray(changes, { minLength: changes.length }), (any) => {
        const now = sessionNow({ ...session, prescribed }, any);
        expect(now.prescribed).toEqual([
          { student: 'ben', checkpoint: 'c1', rung: 1 },
          { student: 'ada', checkpoint: 'c3', rung: 2, cue: 'Elbow in.' },
        ]);
        expect(now.pairs).toEqual([['ada', 'ben'], ['cleo']]);
        const { span, turn } = now.settings.get('ada ben')!;
        expect(span).toEqual({ from: null, to: 'c4' });
        expect(turn).toMatchObject({ student: 'ben', side: 'right', at: later(6) });
        expect([now.clock.round, now.endedAt]).toEqual([2, later(5)]);
      }),
    );
    expect(sessionNow(session, [...changes, change(9, { is: 'go on' })]).endedAt).toBeNull();
    expect(sessionNow(session, []).clock).toEqual(stoppedClock);
  });

  test('to be repeated is the fullest of the last day', () => {
    const at = (startedAt: string, people: string[]) => ({ ...session, startedAt, pairs: [people] });
    const trial = at('2026-03-05T20:00:00Z', ['ada']);
    const full = at('2026-03-05T18:00:00Z', ['ada', 'ben']);
    expect(lastClass([at('2026-03-03T18:00:00Z', ['a', 'b', 'c']), trial, full])).toBe(full);
    expect(lastClass([])).toBeUndefined();
  });
});

describe('reps logged twice', () => {
  const rep = (seconds: number, fields: Partial<Rep> = {}) => aRep({ at: later(seconds), ...fields });

  test('are those of two observers on one turn within a few seconds', () => {
    const mine = rep(0);
    const theirs = rep(4, { observer: 'other' });
    expect(doublesIn([mine, theirs])).toEqual([[mine, theirs]]);
    expect(doublesIn([mine, rep(4)])).toEqual([]);
    expect(doublesIn([mine, rep(6, { observer: 'other' })])).toEqual([]);
    expect(doublesIn([mine, rep(4, { observer: 'other', side: 'left' })])).toEqual([]);
  });

  test('are the nearest in time: a rep a few seconds before is another one', () => {
    const [before, mine, theirs] = [rep(0), rep(3), rep(4, { observer: 'other' })];
    expect(doublesIn([before, mine, theirs])).toEqual([[mine, theirs]]);
  });

  test('are told in pairs, each rep once', () => {
    const reps = [rep(0), rep(1, { observer: 'other' }), rep(3), rep(4, { observer: 'other' })];
    expect(doublesIn(reps).flat()).toEqual(reps);
  });
});

describe('the summary', () => {
  test('counts what was done, and who was not seen enough', () => {
    const reps = [
      ...Array.from({ length: 8 }, () => aRep()),
      ...Array.from({ length: 6 }, () => aRep({ student: 'ben', partner: 'ada', side: 'left', stop: 'c1' })),
      aRep({ student: 'cleo', partner: 'dan', outcome: 'not judged', heldTo: null }),
      aRep({ student: 'ben', partner: 'ada', stop: 'c1', cause: 'm1' }),
    ];
    const summary = summaryOf(
      [
        ['ada', 'ben'],
        ['cleo', 'dan'],
      ],
      reps,
    );
    expect(summary).toMatchObject({ reps: 16, finished: 8, notJudged: 1, forced: 0 });
    expect(summary.untagged).toHaveLength(6);
    expect(summary.people.map(({ student }) => student)).toEqual(['dan', 'cleo', 'ben', 'ada']);
    const of = (id: string) => summary.people.find(({ student }) => student === id)!;
    expect(['ada', 'ben', 'cleo', 'dan'].map((id) => of(id).seldomSeen)).toEqual([false, false, true, true]);
    expect(of('ada')).toMatchObject({ finished: 8, asPartner: 7, uneven: true, reps: { right: 8, left: 0 } });
    expect(of('ben')).toMatchObject({ untagged: 6, uneven: true });
    const told = summaryOf([['ada', 'ben']], reps, (id) => (id === reps[8]!.id ? 'not seen' : null));
    expect(told.untagged).toHaveLength(5);
  });

  test('has everybody in it once, whether they were paired or came later, and no rep twice', () => {
    const people = ['ada', 'ben', 'cleo', 'dan', 'eve'];
    const rep = fc
      .tuple(
        fc.subarray(people, { minLength: 2, maxLength: 2 }),
        fc.constantFrom('left', 'right'),
        fc.boolean(),
      )
      .map(([[student, partner], side, stops]) =>
        aRep({ student: student!, partner: partner!, side: side as 'left', ...(stops && { stop: 'c2' }) }),
      );
    fc.assert(
      fc.property(fc.array(rep), (reps) => {
        const summary = summaryOf([['ada', 'ben']], reps);
        const ids = summary.people.map(({ student }) => student);
        expect(new Set(ids).size).toBe(ids.length);
        expect(ids).toEqual(
          expect.arrayContaining(['ada', 'ben', ...new Set(reps.map(({ student }) => student))]),
        );
        const sum = (of: (one: (typeof summary.people)[number]) => number) =>
          summary.people.reduce((total, one) => total + of(one), 0);
        expect(sum(({ reps: { left, right } }) => left + right)).toBe(reps.length);
        expect(sum(({ asPartner }) => asPartner)).toBe(reps.length);
        expect(sum(({ finished }) => finished)).toBe(summary.finished);
        expect(sum(({ untagged }) => untagged)).toBe(summary.untagged.length);
        expect(summary.finished + summary.untagged.length).toBe(reps.length);
      }),
    );
  });
});

describe('the sheet on the wall', () => {
  const breakdown = plainBreakdown(5);
  const whole = { first: 0, last: 4 };

  test('is read with or without spaces', () => {
    const expected = readPaper('3 3, f 2! 4? ?', breakdown, whole);
    expect(expected.endings).toEqual([
      { outcome: 'stopped', stop: 'c3' },
      { outcome: 'stopped', stop: 'c3' },
      { outcome: 'finished' },
      { outcome: 'forced', failed: ['c2'] },
      { outcome: 'not judged', heldTo: 'c4' },
      { outcome: 'not judged', heldTo: null },
    ]);
    expect(readPaper('33F2!4??', breakdown, whole)).toEqual(expected);
    expect(expected.endings.map((ending) => paperMark(breakdown, ending as Rep)).join('')).toBe('33f2!4??');
  });

  test('names what it cannot read, and keeps the rest', () => {
    const { endings, faults } = readPaper('1 7 x 5', breakdown, { first: 0, last: 3 });
    expect(endings).toHaveLength(1);
    expect(faults).toEqual([
      { mark: '7', reason: 'there is no checkpoint 7' },
      { mark: 'x', reason: 'not a mark of the sheet' },
      { mark: '5', reason: 'checkpoint 5 was not drilled' },
    ]);
  });

  test('comes back as it was written, with spaces, whatever was drilled', () => {
    const ids = breakdown.checkpoints.map(({ id }) => id);
    const ending = fc.oneof(
      fc.constant({ outcome: 'finished' as const }),
      fc.constantFrom(...ids).map((stop) => ({ outcome: 'stopped' as const, stop })),
      fc.constantFrom(...ids).map((id) => ({ outcome: 'forced' as const, failed: [id] })),
      fc.constantFrom(null, ...ids).map((heldTo) => ({ outcome: 'not judged' as const, heldTo })),
    );
    fc.assert(
      fc.property(fc.array(ending), fc.constantFrom(' ', ', '), (endings, between) => {
        const text = endings.map((one) => paperMark(breakdown, one as Rep)).join(between);
        expect(readPaper(text, breakdown, whole)).toEqual({ endings, faults: [] });
      }),
    );
  });

  test('with ten checkpoints or more needs its spaces', () => {
    expect(readPaper('12 1', plainBreakdown(12), { first: 0, last: 11 }).endings).toEqual([
      { outcome: 'stopped', stop: 'c12' },
      { outcome: 'stopped', stop: 'c1' },
    ]);
  });
});
