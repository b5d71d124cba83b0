import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { aRep, factId, plainBreakdown, sayingAllBreakdown } from '../test';
import { faultOf, followFault, observe, observing, oddMeasuresOf, onlySeen } from '.';

const breakdown = plainBreakdown(5);
const seen = (rep: Parameters<typeof observe>[1]) => [...observe(breakdown, rep).values()];

describe('a rep', () => {
  test('that finished held at every checkpoint', () => {
    expect(seen(aRep())).toEqual(['held', 'held', 'held', 'held', 'held']);
  });

  test('that stopped held before, failed there, and says nothing about what comes after', () => {
    expect(seen(aRep({ stop: 'c3' }))).toEqual(['held', 'held', 'failed', 'not seen', 'not seen']);
  });

  test('over a span says nothing about what is outside it', () => {
    expect(seen(aRep({ from: 'c2', to: 'c4' }))).toEqual(['not seen', 'held', 'held', 'held', 'not seen']);
    expect(seen(aRep({ from: 'c2', to: 'c4', stop: 'c3' }))).toEqual([
      'not seen',
      'held',
      'failed',
      'not seen',
      'not seen',
    ]);
  });

  test('that was forced failed where it says and held elsewhere', () => {
    expect(seen(aRep({ outcome: 'forced', failed: ['c2', 'c4'] }))).toEqual([
      'held',
      'failed',
      'held',
      'failed',
      'held',
    ]);
  });

  test('that was not judged is censored after the last checkpoint known to hold', () => {
    expect(seen(aRep({ outcome: 'not judged', heldTo: 'c2' }))).toEqual([
      'held',
      'held',
      'not seen',
      'not seen',
      'not seen',
    ]);
    expect(new Set(seen(aRep({ outcome: 'not judged', heldTo: null })))).toEqual(new Set(['not seen']));
  });

  test('that was left for something else is censored after the checkpoint it was left from', () => {
    expect(seen(aRep({ outcome: 'left', heldTo: 'c3' }))).toEqual([
      'held',
      'held',
      'held',
      'not seen',
      'not seen',
    ]);
  });

  test('may be shaky on the way, but a failure is a failure', () => {
    expect(seen(aRep({ stop: 'c3', soft: ['c1', 'c3', 'c5'] }))).toEqual([
      'soft',
      'held',
      'failed',
      'not seen',
      'not seen',
    ]);
  });
});

/** Any rep that can be true of the five points: how it ended, over which span, and where it was shaky. */
const anyRep = fc
  .record({
    first: fc.nat(4),
    length: fc.nat(4),
    end: fc.nat(4),
    outcome: fc.constantFrom('finished', 'stopped', 'forced', 'not judged'),
    soft: fc.subarray([0, 1, 2, 3, 4]),
  })
  .map(({ first, length, end, outcome, soft }) => {
    const last = Math.min(4, first + length);
    const at = Math.min(last, first + end);
    const id = (place: number) => `c${place + 1}`;
    const told = aRep({
      from: id(first),
      to: id(last),
      soft: soft.filter((one) => one >= first && one <= last).map(id),
      ...(outcome === 'stopped' && { stop: id(at) }),
      ...(outcome === 'forced' && { outcome, failed: [id(at)] }),
      ...(outcome === 'not judged' && { outcome, heldTo: id(at) }),
    });
    return { rep: onlySeen(breakdown, told), told, first, last, at };
  });

describe('whatever a rep was', () => {
  test('it can be true, and says the same of one place as of all', () => {
    fc.assert(
      fc.property(anyRep, ({ rep, told }) => {
        expect(faultOf(breakdown, rep)).toBeNull();
        // Marks of what a rep did not get to say nothing.
        expect(seen(rep)).toEqual(seen(told));
        const at = observing(breakdown, rep);
        expect(seen(rep)).toEqual([0, 1, 2, 3, 4].map(at));
        expect([at(-1), at(5)]).toEqual(['not seen', 'not seen']);
      }),
    );
  });

  test('nothing outside its span is seen, and inside there is no gap', () => {
    fc.assert(
      fc.property(anyRep, ({ rep, first, last, at }) => {
        const places = seen(rep).flatMap((one, place) => (one === 'not seen' ? [] : [place]));
        const end = rep.outcome === 'finished' || rep.outcome === 'forced' ? last : at;
        expect(places).toEqual(Array.from({ length: end - first + 1 }, (_, i) => first + i));
      }),
    );
  });

  test('it failed where it says and nowhere else: at most at one place', () => {
    fc.assert(
      fc.property(anyRep, ({ rep, at }) => {
        const failed = seen(rep).flatMap((one, place) => (one === 'failed' ? [place] : []));
        expect(failed).toEqual(rep.outcome === 'stopped' || rep.outcome === 'forced' ? [at] : []);
      }),
    );
  });
});

describe('a rep that cannot be true is refused for a reason', () => {
  const field = (rep: Parameters<typeof observe>[1]) => faultOf(breakdown, rep)?.field ?? null;

  test.each([
    ['a stop that the edition does not have', aRep({ stop: 'c9' }), 'stop'],
    ['a stop outside the span', aRep({ from: 'c3', stop: 'c1' }), 'stop'],
    ['a span that ends before it starts', aRep({ from: 'c3', to: 'c1' }), 'to'],
    ['a soft mark outside the span', aRep({ from: 'c3', soft: ['c1'] }), 'soft'],
    ['somebody who partners themselves', aRep({ partner: 'ada' }), 'partner'],
    ['a cause for a rep that finished', aRep({ cause: 'm1' }), 'cause'],
    ['a cause that is not open where it stopped', aRep({ stop: 'c1', cause: 'm3' }), 'cause'],
    ['a cause nobody has described', aRep({ stop: 'c1', cause: 'm77' }), 'cause'],
  ])('%s', (_, rep, expected) => expect(field(rep)).toBe(expected));

  const saying = sayingAllBreakdown();
  const said = (fields: Parameters<typeof aRep>[0]) => faultOf(saying, aRep(fields))?.field ?? null;
  const met = (defence: string, answer: string | null, worked = true) => ({
    met: [{ defence, answer, worked }],
  });

  test.each([
    ['a way that the edition does not have', { ways: ['wide'] }, 'ways'],
    ['a task that is no defence', { task: ['m1'] }, 'task'],
    [
      'a measure of a checkpoint that is not there',
      { measured: [{ checkpoint: 'c9', value: 1 }] },
      'measured',
    ],
    ['a defence met that is none', met('d9', null), 'met'],
    ['an answer to another defence', met('d2', 'across'), 'met'],
    ['an answer that failed, and a finish', met('d1', 'across', false), 'met'],
    [
      'an answer that failed, and another cause',
      { ...met('d1', null, false), stop: 'c1', cause: 'm1' },
      'met',
    ],
    ['two schools at one checkpoint', { ways: ['high', 'low'] }, 'ways'],
    ['a variant from outside the span', { ways: ['high'], from: 'c3' }, 'ways'],
    ['a variant of what the rep did not get to', { ways: ['high'], stop: 'c1' }, 'ways'],
    ['a partner for one who drills alone', { rung: 0 }, 'partner'],
    ['an entry that is not there', { entry: 'window' }, 'entry'],
    ['an entry that joins elsewhere', { entry: 'from-turtle' }, 'entry'],
    ['a finish that is not there', { finish: 'twist' }, 'finish'],
    ['a finish of a rep that stopped', { finish: 'arch', stop: 'c4' }, 'finish'],
    ['a finish of a span that ends before it', { finish: 'arch', to: 'c3' }, 'finish'],
    ['a time where there is none', { timed: [{ checkpoint: 'c4', seconds: 1 }] }, 'timed'],
    [
      'a time taken twice',
      {
        timed: [
          { checkpoint: 'c3', seconds: 1 },
          { checkpoint: 'c3', seconds: 2 },
        ],
      },
      'timed',
    ],
    [
      'a time of what the rep did not get to',
      { stop: 'c2', timed: [{ checkpoint: 'c3', seconds: 1 }] },
      'timed',
    ],
    [
      'a defence that became another one',
      { stop: 'c3', met: [{ defence: 'd3', answer: null, worked: false, became: 'd5' }] },
      'met',
    ],
    [
      'a defence that became one that the rep did not get to',
      { stop: 'c3', met: [{ defence: 'd3', answer: null, worked: false, became: 'd4' }] },
      'met',
    ],
    ['a measure where there is none', { measured: [{ checkpoint: 'c3', value: 1 }] }, 'measured'],
    [
      'a measure taken twice',
      {
        measured: [
          { checkpoint: 'c2', value: 1 },
          { checkpoint: 'c2', value: 2 },
        ],
      },
      'measured',
    ],
    ['a measure that cannot be', { measured: [{ checkpoint: 'c2', value: 400 }] }, 'measured'],
    [
      'a measure of what the rep did not get to',
      { stop: 'c1', measured: [{ checkpoint: 'c2', value: 1 }] },
      'measured',
    ],
    ['a defence met that was not open yet', { ...met('d4', null), stop: 'c2' }, 'met'],
    ['a defence met that had closed before the start', { ...met('d1', null), from: 'c3' }, 'met'],
    ['an answer that failed elsewhere', { ...met('d1', null, false), stop: 'c3' }, 'met'],
    ['a task from outside the span', { task: ['d1'], from: 'c3' }, 'task'],
    ['what was soft after the stop', { soft: ['c4'], stop: 'c2' }, 'soft'],
    ['what was soft and failed', { soft: ['c2'], stop: 'c2' }, 'soft'],
    ['an exit of a later checkpoint', { outcome: 'left', heldTo: 'c2', by: 'exit' }, 'by'],
    ['an answer that stays', { outcome: 'left', heldTo: 'c1', by: 'across' }, 'by'],
    ['a door that is not there', { outcome: 'left', heldTo: 'c2', by: 'window' }, 'by'],
  ] as const)('%s', (_, fields, expected) =>
    expect(said(fields as Parameters<typeof aRep>[0])).toBe(expected),
  );

  test('and whatever it says that can be true is kept', () => {
    const all = { ways: ['high'], task: ['d1'], measured: [{ checkpoint: 'c2', value: 4 }] };
    expect(said({ ...all, ...met('d1', 'across') })).toBeNull();
    // An answer that was written before answers had ids is called by its place.
    expect(said({ ...met('d2', 'd2-answer-1', false), stop: 'c2', cause: 'd2' })).toBeNull();
    expect(said({ outcome: 'left', heldTo: 'c3', by: 'exit' })).toBeNull();
    expect(said({ outcome: 'left', heldTo: 'c1', by: 'other' })).toBeNull();
    expect(said({ entry: 'from-turtle', from: 'c2', finish: 'arch' })).toBeNull();
    const timed = [
      { checkpoint: 'c2', seconds: 0 },
      { checkpoint: 'c3', seconds: 1.5 },
    ];
    expect(said({ timed, rung: 0, partner: null })).toBeNull();
    const became = { defence: 'd3', answer: null, worked: false, became: 'd4' };
    expect(said({ met: [became] })).toBeNull();
    expect(said({ met: [became, { defence: 'd4', answer: null, worked: true }] })).toBeNull();
    expect(said({ met: [became], stop: 'c4', cause: 'd4' })).toBeNull();
  });

  test('a value out of its range is asked about where the checkpoint held, and only there', () => {
    const measured = (value: number) => ({ measured: [{ checkpoint: 'c2', value }] });
    const asked = (fields: Parameters<typeof aRep>[0]) => oddMeasuresOf(saying, aRep(fields)).length;
    expect([asked(measured(3)), asked(measured(9))]).toEqual([0, 1]);
    expect(asked({ ...measured(9), stop: 'c2' })).toBe(0);
    expect(asked({ ...measured(9), soft: ['c2'] })).toBe(0);
  });

  test('nor can a rep follow itself, another student’s, a later or a finished one, or come through another door', () => {
    const before = aRep({ id: factId(801), outcome: 'left', heldTo: 'c3', by: 'exit' });
    const after = (fields: Parameters<typeof aRep>[0] = {}) =>
      aRep({ technique: 'other-lock', follows: { rep: before.id, by: 'exit' }, ...fields });
    expect(followFault(after(), before, saying)).toBeNull();
    expect(followFault(after({ id: before.id }), before, saying)).toMatch(/itself/);
    expect(followFault(after({ student: 'ben', partner: 'ada' }), before, saying)).toMatch(/another student/);
    expect(followFault(after({ at: '2026-03-04T18:00:00.000Z' }), before, saying)).toMatch(/later/);
    expect(followFault(after(), aRep(), saying)).toMatch(/finished/);
    expect(followFault(after({ technique: 'third-lock' }), before, saying)).toMatch(/leads to other-lock/);
  });

  test('and a rep that can be true is not', () => {
    expect(field(aRep({ from: 'c2', stop: 'c4', cause: 'd4', soft: ['c3'] }))).toBeNull();
  });
});
