import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { aRep } from '../test';
import type { Rep } from '../rep';
import { partnerOf, repsOfPair, type SetTurn, turnOf } from '.';

/** Lets a pair drill on its own and says who did what. */
function drill(pair: string[], repsPerSide: number, n: number): string[] {
  const reps: Rep[] = [];
  for (let i = 0; i < n; i++) {
    const { student, partner, side } = turnOf(pair, reps, { repsPerSide });
    reps.push(aRep({ student, partner, side }));
  }
  return reps.map(({ student, side }) => `${student} ${side}`);
}

describe('the turn of a pair', () => {
  test('is this many on each side, then the roles swap', () => {
    const twice = (turn: string) => [turn, turn];
    expect(drill(['ada', 'ben'], 2, 10)).toEqual([
      ...twice('ada right'),
      ...twice('ada left'),
      ...twice('ben right'),
      ...twice('ben left'),
      ...twice('ada right'),
    ]);
  });

  test('keeps both sides and both roles even, whatever the number', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 8 }), fc.integer({ min: 0, max: 70 }), (repsPerSide, n) => {
        const turns = drill(['ada', 'ben'], repsPerSide, n);
        const count = (turn: string) => turns.filter((one) => one === turn).length;
        const counts = ['ada right', 'ada left', 'ben right', 'ben left'].map(count);
        expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(repsPerSide);
        expect(counts.reduce((sum, one) => sum + one, 0)).toBe(n);
      }),
    );
  });

  test('is told from the reps alone: a second device that has them says the same', () => {
    const rep = fc
      .record({ ben: fc.boolean(), left: fc.boolean(), second: fc.integer({ min: 0, max: 50 }) })
      .map(({ ben, left, second }) =>
        aRep({
          student: ben ? 'ben' : 'ada',
          partner: ben ? 'ada' : 'ben',
          side: left ? 'left' : 'right',
          at: `2026-03-05T18:30:${String(second).padStart(2, '0')}.000Z`,
        }),
      );
    fc.assert(
      fc.property(fc.array(rep, { maxLength: 12 }), fc.integer(), (reps, seed) => {
        const shuffled = reps.toSorted((a, b) => (a.id + seed < b.id + seed ? 1 : -1));
        const turn = (list: Rep[]) =>
          turnOf(
            ['ada', 'ben'],
            repsOfPair(['ada', 'ben'], (student) => list.filter((one) => one.student === student)),
            { repsPerSide: 3 },
          );
        expect(turn(shuffled)).toEqual(turn(reps));
        expect(turn(reps).done).toBeLessThan(3);
      }),
    );
  });

  test('goes round three, and one of them waits', () => {
    expect(drill(['ada', 'ben', 'cleo'], 1, 6).map((turn) => turn.split(' ')[0])).toEqual([
      'ada',
      'ada',
      'ben',
      'ben',
      'cleo',
      'cleo',
    ]);
    expect(partnerOf(['ada', 'ben', 'cleo'], 'cleo')).toBe('ada');
  });

  describe('that was set by hand', () => {
    const at = (second: number) => `2026-03-05T18:30:${String(second).padStart(2, '0')}.000Z`;
    const set = { student: 'ben', partner: 'ada', side: 'left', at: at(20), during: null } as const;
    const ada = (second: number) => aRep({ student: 'ada', partner: 'ben', side: 'right', at: at(second) });
    const ben = (second: number) => aRep({ student: 'ben', partner: 'ada', side: 'left', at: at(second) });
    const turn = (reps: Rep[], turned: SetTurn = set, perSide = 3) =>
      turnOf(['ada', 'ben'], reps, { repsPerSide: perSide }, turned);

    test('holds until reps make the next one, also where the first of them is undone', () => {
      const before = [ada(1), ada(2)];
      expect(turn(before)).toEqual({ student: 'ben', partner: 'ada', side: 'left', done: 0 });
      expect(turn([...before, ben(30)])).toMatchObject({ student: 'ben', done: 1 });
      // Undone: it is the same turn again, and not that of the reps before it.
      expect(turn(before)).toMatchObject({ student: 'ben', side: 'left', done: 0 });
      expect(turn([...before, ben(30), ben(31), ben(32)])).toMatchObject({ student: 'ben', side: 'right' });
    });

    test('starts its count again, on the turn that was on', () => {
      const again = { ...set, student: 'ada', partner: 'ben', side: 'right' } as const;
      expect(turn([ada(1), ada(2)], again)).toMatchObject({ student: 'ada', done: 0 });
      expect(turn([ada(1), ada(2), ada(30)], again)).toMatchObject({ student: 'ada', done: 1 });
    });

    test('is for nobody who is not in the pair, and by the clock only for that half of that round', () => {
      expect(turn([], { ...set, student: 'zoe' })).toMatchObject({ student: 'ada', side: 'right' });
      const clocked = { ...set, during: { round: 1, half: 'first' } } as const;
      const by = (round: number, half: 'first' | 'second') =>
        turnOf(['ada', 'ben'], [ada(1)], { repsPerSide: null, round, half }, clocked);
      expect(by(1, 'first')).toMatchObject({ student: 'ben', partner: 'ada', side: 'left', done: 0 });
      expect(by(1, 'second')).toMatchObject({ student: 'ada', side: 'left' });
      expect(by(2, 'first')).toMatchObject({ student: 'ben', side: 'right' });
      expect(turn([ada(1)], clocked)).toMatchObject({ student: 'ada', done: 1 });
    });
  });

  test('follows a coach who changed sides or roles by hand', () => {
    const reps = [
      aRep({ student: 'ada', side: 'right' }),
      aRep({ student: 'ben', partner: 'ada', side: 'left' }),
    ];
    expect(turnOf(['ada', 'ben'], reps, { repsPerSide: 3 })).toEqual({
      student: 'ben',
      partner: 'ada',
      side: 'left',
      done: 1,
    });
  });

  test('of somebody alone has no partner', () => {
    expect(turnOf(['ada'], [], { repsPerSide: 5 })).toEqual({
      student: 'ada',
      partner: null,
      side: 'right',
      done: 0,
    });
  });

  test('by the clock changes sides at half time and roles with the round', () => {
    const at = (round: number, half: 'first' | 'second', reps: Rep[] = []) =>
      turnOf(['ada', 'ben'], reps, { repsPerSide: null, round, half });
    expect(at(1, 'first')).toEqual({ student: 'ada', partner: 'ben', side: 'right', done: 0 });
    const right = [aRep({ side: 'right' }), aRep({ side: 'right' })];
    expect(at(1, 'first', right).done).toBe(2);
    expect(at(1, 'second', right)).toEqual({ student: 'ada', partner: 'ben', side: 'left', done: 0 });
    expect(at(2, 'first').student).toBe('ben');
    expect(at(3, 'first').student).toBe('ada');
  });

  test('of a new pair starts fresh: what its members did with others does not count', () => {
    const reps = [aRep({ student: 'ada', partner: 'ben' }), aRep({ student: 'ada', partner: 'cleo' })];
    const of = (student: string) => reps.filter((rep) => rep.student === student);
    expect(repsOfPair(['cleo', 'ada'], of)).toEqual([reps[1]]);
    expect(repsOfPair(['ada'], of)).toEqual([]);
  });
});
