import { describe, expect, test } from '@jest/globals';
import { Breakdown } from '../breakdown';
import type { Rep } from '../rep';
import { aRep, aSession, sayingBreakdown } from '../test';
import { carriedOf, pairKey, sessionNow } from '.';

const lock = sayingBreakdown();
const other = Breakdown.parse({
  ...lock,
  technique: 'other-lock',
  exits: [{ id: 'home', at: 'c2', technique: 'test-lock', enteredAt: 'c4', how: 'Go back.', unsafe: false }],
});
lock.defences[0]!.answers.push({
  id: 'round',
  do: 'switch',
  technique: 'other-lock',
  enteredAt: 'c2',
  otherSide: true,
  how: 'Take the far arm.',
  bait: false,
});
const library = new Map([lock, other].map((one) => [one.technique, one]));
const pair = ['ada', 'ben'];

const at = (second: number) => `2026-03-05T18:30:${String(second).padStart(2, '0')}.000Z`;
const whole = (more: Partial<Rep> = {}) => aRep({ student: 'ada', partner: 'ben', side: 'right', ...more });
const left = (by: string | null, more: Partial<Rep> = {}) =>
  whole({ outcome: 'left', heldTo: 'c3', by, ...more } as Partial<Rep>);

const carried = (reps: readonly Rep[], back?: string, of: ReadonlyMap<string, Breakdown> = library) =>
  carriedOf(
    pair,
    (student) => reps.filter((one) => one.student === student),
    (technique) => of.get(technique),
    back,
  );

describe('where a pair has gone on to', () => {
  test('is told from its last rep, by the way that it left', () => {
    const went = left('exit', { at: at(1) });
    expect(carried([went])).toEqual({
      technique: 'other-lock',
      from: null,
      side: 'right',
      follows: { rep: went.id, by: 'exit' },
    });
    expect(carried([left('round')])).toMatchObject({ from: 'c2', side: 'left' });
    expect(carried([])).toBeNull();
    expect(carried([whole()])).toBeNull();
    expect(carried([left(null)])).toBeNull();
    expect(carried([left('gone')])).toBeNull();
  });

  test('ends with what goes on from it, which may go on itself', () => {
    const went = left('exit', { at: at(1) });
    const follows = { rep: went.id, by: 'exit' };
    const ended = whole({ technique: 'other-lock', at: at(2), follows });
    expect(carried([went, ended])).toBeNull();
    const home = left('home', { technique: 'other-lock', heldTo: 'c2', at: at(2), follows });
    expect(carried([went, home])).toMatchObject({
      technique: 'test-lock',
      from: 'c4',
      follows: { by: 'home' },
    });
    // Undone, the pair is where it was.
    expect(carried([went])).not.toBeNull();
  });

  test('is of this pair alone, no matter who attacked last, and of techniques that are loaded', () => {
    const bens = left('exit', { student: 'ben', partner: 'ada', at: at(5) });
    expect(carried([whole({ at: at(1) }), bens])).toMatchObject({ follows: { rep: bens.id } });
    expect(carried([whole({ at: at(9) }), bens])).toBeNull();
    expect(carried([left('exit', { partner: 'cleo' })])).toBeNull();
    expect(carried([left('exit')], undefined, new Map([['test-lock', lock]]))).toBeNull();
  });

  test('is over where a coach has brought the pair back from that very rep, on any device', () => {
    const went = left('exit');
    const set = { is: 'back' as const, pair: ['ben', 'ada'], rep: went.id };
    const session = aSession({ pairs: [pair] });
    const change = { id: 'change-1', session: session.id, at: at(9), observer: 'coach', set };
    const back = sessionNow(session, [change]).settings.get(pairKey(pair))?.back;
    expect(carried([went], back)).toBeNull();
    expect(carried([left('exit', { at: at(20) })], back)).not.toBeNull();
  });
});
