import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { faultOf, Rep, stepWith } from '../rep';
import { factId, plainBreakdown, sayingAllBreakdown, sayingBreakdown } from '../test';
import {
  type Begun,
  doorsIn,
  isDrilled,
  movedRep,
  movedStep,
  nothingBegun,
  type OpenPair,
  repOf,
  type Tap,
  tapped,
} from '.';

const breakdown = plainBreakdown(5);
const pair: OpenPair = {
  breakdown,
  members: ['ada', 'ben'],
  turn: { student: 'ada', partner: 'ben', side: 'right', done: 3 },
  span: { from: null, to: null },
};
const logged = {
  id: factId(1),
  session: factId(2),
  at: '2026-03-05T18:30:00.000Z',
  observer: 'coach',
  technique: 'test-lock',
  edition: 1,
  rung: 2 as const,
};
/** What was begun after some taps, and what the last one came to. */
const after = (...taps: Tap[]) =>
  taps.reduce(
    (so, tap) => tapped(so.begun, tap, pair),
    tapped(nothingBegun, { do: 'mean', tapping: 'stop' }, pair),
  );
const knot = (checkpoint: string): Tap => ({ do: 'knot', checkpoint });

describe('one tap', () => {
  test('on a knot is a rep that stopped there, on the ring one that finished; then nothing is begun', () => {
    expect(after(knot('c3'))).toEqual({
      begun: nothingBegun,
      ending: { outcome: 'stopped', stop: 'c3' },
      turned: null,
      refused: null,
    });
    expect(after({ do: 'ring' }).ending).toEqual({ outcome: 'finished' });
  });

  test('outside the span, or on a knot that is not there, is nothing', () => {
    const entry = { ...pair, span: { from: 'c2', to: 'c4' } };
    expect(['c1', 'c2', 'c4', 'c5', 'c9'].map((id) => isDrilled(entry, id))).toEqual([
      false,
      true,
      true,
      false,
      false,
    ]);
    expect(tapped(nothingBegun, knot('c1'), entry).ending).toBeNull();
    expect(tapped(nothingBegun, { do: 'soften', checkpoint: 'c5' }, entry).begun.soft.size).toBe(0);
  });
});

describe('what is begun', () => {
  test('a forced finish is knots and then the ring, in the order of the breakdown; without a knot it is none', () => {
    const forced: Tap = { do: 'mean', tapping: 'forced' };
    expect(after(forced, { do: 'ring' }).ending).toBeNull();
    expect(after(forced, knot('c4'), knot('c2'), { do: 'ring' }).ending).toEqual({
      outcome: 'forced',
      failed: ['c2', 'c4'],
    });
    expect(after(forced, knot('c4'), knot('c4'), { do: 'ring' }).ending).toBeNull();
  });

  test('not judged is the last knot that held, or the ring where nothing was seen', () => {
    const open: Tap = { do: 'mean', tapping: 'not judged' };
    expect(after(open, knot('c2')).ending).toEqual({ outcome: 'not judged', heldTo: 'c2' });
    expect(after(open, { do: 'ring' }).ending).toEqual({ outcome: 'not judged', heldTo: null });
  });

  test('soft marks wait for the ending, and a checkpoint that failed is not soft as well', () => {
    const { begun } = after({ do: 'soften', checkpoint: 'c1' }, { do: 'soften', checkpoint: 'c3' });
    expect(repOf({ outcome: 'stopped', stop: 'c4' }, begun, pair, logged).soft).toEqual(['c1', 'c3']);
    const both: Begun = { ...begun, failed: new Set(['c3']) };
    expect(repOf({ outcome: 'forced', failed: ['c3'] }, both, pair, logged).soft).toEqual(['c1']);
    expect(
      after({ do: 'soften', checkpoint: 'c1' }, { do: 'soften', checkpoint: 'c1' }).begun.soft.size,
    ).toBe(0);
  });

  test('a swap and a change of side say whose turn it is to be, and leave what is begun as it is', () => {
    const swapped = after({ do: 'soften', checkpoint: 'c2' }, { do: 'swap' });
    expect(swapped.turned).toEqual({ student: 'ben', partner: 'ada', side: 'right', done: 0 });
    expect([...swapped.begun.soft]).toEqual(['c2']);
    expect(after({ do: 'change side' }).turned).toEqual({
      student: 'ada',
      partner: 'ben',
      side: 'left',
      done: 0,
    });
  });

  test('in a three the next one attacks the one after; alone there is nobody to swap with', () => {
    const three = { ...pair, members: ['ada', 'ben', 'cleo'] };
    expect(tapped(nothingBegun, { do: 'swap' }, three).turned).toMatchObject({
      student: 'ben',
      partner: 'cleo',
    });
    const alone = { ...pair, members: ['ada'], turn: { ...pair.turn, partner: null } };
    expect(tapped(nothingBegun, { do: 'swap' }, alone).turned).toMatchObject({
      student: 'ada',
      partner: null,
    });
  });
});

describe('what the partner plays', () => {
  const met = (answer: string | null): Tap => ({ do: 'meet', defence: 'd3', answer });
  const of = (...taps: Tap[]) => {
    const last = after(...taps);
    const before = after(...taps.slice(0, -1)).begun;
    return {
      ...last,
      rep: last.ending && repOf(last.ending, before, { ...pair, task: ['d3', 'd4'] }, logged),
    };
  };

  test('is met by one tap, lost to by a second, and not met after all by a third', () => {
    expect(of(met('a'), { do: 'ring' }).rep).toMatchObject({
      task: ['d3', 'd4'],
      met: [{ defence: 'd3', answer: 'a', worked: true }],
      cause: null,
    });
    expect(of(met('a'), met('b'), { do: 'ring' }).rep!.met).toEqual([
      { defence: 'd3', answer: 'b', worked: true },
    ]);
    expect(of(met('a'), met('a'), met('a'), { do: 'ring' }).rep).not.toHaveProperty('met');
  });

  test('that was lost to ends the rep where it is open, and in no other way', () => {
    const lost = [met('a'), met('a')];
    for (const end of [{ do: 'ring' } as Tap, knot('c2')])
      expect(of(...lost, end)).toMatchObject({ ending: null, refused: 'an answer failed' });
    expect(of(...lost, knot('c3')).rep).toMatchObject({
      outcome: 'stopped',
      stop: 'c3',
      cause: 'd3',
      met: [{ defence: 'd3', answer: 'a', worked: false }],
    });
  });

  test('is what was called, where one is called', () => {
    expect(of({ do: 'call', defence: 'd4' }, { do: 'ring' }).rep!.task).toEqual(['d4']);
    expect(after({ do: 'call', defence: 'd4' }, { do: 'ring' }).begun).toBe(nothingBegun);
  });
});

test('one goes on from what is drilled: not from beyond its end, and with nothing seen from before its beginning', () => {
  const saying = sayingBreakdown();
  const ways = (from: string | null, to: string | null) =>
    doorsIn(saying, { from, to }).map(({ by, heldTo }) => [by, heldTo]);
  expect(ways(null, null)).toEqual([
    ['exit', 'c3'],
    ['other', null],
  ]);
  expect(ways(null, 'c2')).toEqual([['other', null]]);
  expect(ways('c4', null)).toEqual([
    ['exit', null],
    ['other', null],
  ]);
  const measured = new Map([
    ['c1', 1],
    ['c4', 2],
  ]);
  const span = { from: 'c3', to: null };
  expect(
    repOf({ outcome: 'finished' }, { ...nothingBegun, measured }, { ...pair, span }, logged).measured,
  ).toEqual([{ checkpoint: 'c4', value: 2 }]);
});

test('a defence that turns into another one says so by a third tap, and its rep goes on', () => {
  const all = { ...pair, breakdown: sayingAllBreakdown() };
  const meet: Tap = { do: 'meet', defence: 'd3', answer: null };
  const begun = [meet, meet, meet].reduce((so, tap) => tapped(so, tap, all).begun, nothingBegun);
  const { ending } = tapped(begun, { do: 'ring', finish: 'arch' }, all);
  expect(repOf(ending!, begun, all, logged)).toMatchObject({
    outcome: 'finished',
    finish: 'arch',
    // Whether what it became was answered, nobody has said.
    met: [{ defence: 'd3', answer: null, worked: false, became: 'd4' }],
    cause: null,
  });
  expect(tapped(begun, meet, all).begun.met.has('d3')).toBe(false);
});

test('an entry and times go with the rep, where it starts and as far as it gets', () => {
  const all = { ...pair, breakdown: sayingAllBreakdown(), entry: 'from-turtle' };
  const timed: Tap = { do: 'time', checkpoint: 'c3', seconds: 1 };
  const { begun } = tapped(nothingBegun, timed, all);
  const rep = (stop: string, span: OpenPair['span']) =>
    repOf({ outcome: 'stopped', stop }, begun, { ...all, span }, logged);
  expect(rep('c4', { from: 'c2', to: null })).toMatchObject({
    entry: 'from-turtle',
    timed: [{ checkpoint: 'c3', seconds: 1 }],
  });
  expect(rep('c2', { from: null, to: null })).not.toHaveProperty('entry');
  expect(rep('c2', { from: null, to: null })).not.toHaveProperty('timed');
  expect(tapped(begun, { ...timed, seconds: null }, all).begun.timed.size).toBe(0);
});

test('a measure, a way and what a rep goes on from are told with it', () => {
  const { begun } = after(
    { do: 'measure', checkpoint: 'c2', value: 4 },
    { do: 'measure', checkpoint: 'c3', value: 1 },
    { do: 'measure', checkpoint: 'c3', value: null },
  );
  const follows = { rep: factId(9), by: 'exit' };
  const rep = repOf(
    { outcome: 'finished' },
    begun,
    { ...pair, breakdown: sayingBreakdown(), ways: ['high'], follows },
    logged,
  );
  expect(repOf({ outcome: 'finished' }, begun, pair, { ...logged, rung: 0 }).partner).toBeNull();
  expect(rep).toMatchObject({ measured: [{ checkpoint: 'c2', value: 4 }], ways: ['high'], follows });
  expect(after({ do: 'leave', heldTo: 'c2', by: null }).ending).toEqual({
    outcome: 'left',
    heldTo: 'c2',
    by: null,
  });
  // A plain tap says nothing more than before.
  expect(Object.keys(repOf({ outcome: 'finished' }, nothingBegun, pair, logged))).toHaveLength(17);
});

test('a rep that is moved keeps what happened, and changes whose it is', () => {
  const rep = repOf({ outcome: 'stopped', stop: 'c3' }, nothingBegun, pair, logged);
  const to = { student: 'ben', partner: 'ada', side: 'left' } as const;
  expect(movedRep({ ...rep, cause: 'm3' }, to, { id: factId(5), observer: 'other' })).toEqual({
    ...rep,
    ...to,
    cause: 'm3',
    id: factId(5),
    observer: 'other',
  });
});

test('a step that is moved is moved whole: its reps still go on from each other, and each is on its side', () => {
  const one = repOf({ outcome: 'left', heldTo: 'c3', by: null }, nothingBegun, pair, logged);
  const two: Rep = {
    ...one,
    id: factId(20),
    outcome: 'finished',
    side: 'left',
    follows: { rep: one.id, by: 'x' },
  } as Rep;
  let made = 30;
  const to = { student: 'ben', partner: 'ada', side: 'left' } as const;
  const [first, second] = movedStep([one, two], one, to, { observer: 'other', id: () => factId(made++) });
  expect(first).toMatchObject({ ...to, id: factId(30), observer: 'other' });
  expect(second).toMatchObject({ student: 'ben', side: 'right', follows: { rep: factId(30), by: 'x' } });
  for (const rep of [one, two]) expect(stepWith(rep, [two, one])).toEqual([one, two]);
});

test('whatever is tapped, the rep that comes of it can be true', () => {
  const all = sayingAllBreakdown();
  const checkpoint = fc.constantFrom('c1', 'c2', 'c3', 'c4', 'c5');
  const tap: fc.Arbitrary<Tap> = fc.oneof(
    checkpoint.map(knot),
    fc.constant<Tap>({ do: 'ring' }),
    checkpoint.map((id): Tap => ({ do: 'soften', checkpoint: id })),
    fc.constantFrom<Tap>(
      { do: 'mean', tapping: 'forced' },
      { do: 'mean', tapping: 'not judged' },
      { do: 'mean', tapping: 'stop' },
      { do: 'swap' },
      { do: 'change side' },
      { do: 'meet', defence: 'd2', answer: null },
      { do: 'meet', defence: 'd3', answer: null },
      { do: 'meet', defence: 'd4', answer: null },
      { do: 'ring', finish: 'arch' },
      { do: 'time', checkpoint: 'c3', seconds: 1 },
      { do: 'measure', checkpoint: 'c2', value: 3 },
      { do: 'call', defence: 'd1' },
      { do: 'leave', heldTo: 'c3', by: null },
    ),
  );
  fc.assert(
    fc.property(
      fc.array(tap, { maxLength: 30 }),
      fc.constantFrom({ from: null, to: null }, { from: 'c2', to: null }, { from: null, to: 'c3' }),
      (taps, span) => {
        let begun = nothingBegun;
        const drilled = { ...pair, breakdown: all, entry: 'from-turtle', ways: ['high'], span };
        for (const one of taps) {
          const before = begun;
          const { begun: next, ending } = tapped(begun, one, drilled);
          begun = next;
          if (!ending) continue;
          const rep = repOf(ending, before, drilled, logged);
          expect(Rep.safeParse(rep).success).toBe(true);
          expect(faultOf(all, rep)).toBeNull();
        }
      },
    ),
  );
});
