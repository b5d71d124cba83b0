import { describe, expect, test } from '@jest/globals';
import { aRep } from '../test';
import type { Rep } from '../rep';
import { partnerOf, repsOfPair, turnOf } from '.';

/** Lets a pair drill by itself and says who did what. */
function drill(pair: string[], repsPerSide: number, n: number): string[] {
  const reps: Rep[] = [];
  for (let i = 0; i < n; i++) {
    const { student, partner, side } = turnOf(pair, reps, { repsPerSide });
    reps.push(aRep({ student, partner, side }));
  }
  return reps.map(({ student, side }) => `${student} ${side}`);
}

describe('the turn of a pair', () => {
  test('is so many on each side, then the roles swap', () => {
    const twice = (turn: string) => [turn, turn];
    expect(drill(['ada', 'ben'], 2, 10)).toEqual([
      ...twice('ada right'),
      ...twice('ada left'),
      ...twice('ben right'),
      ...twice('ben left'),
      ...twice('ada right'),
    ]);
  });

  test('goes round three, one of whom waits', () => {
    expect(drill(['ada', 'ben', 'cleo'], 1, 6).map((turn) => turn.split(' ')[0])).toEqual([
      ...['ada', 'ada', 'ben', 'ben', 'cleo', 'cleo'],
    ]);
    expect(partnerOf(['ada', 'ben', 'cleo'], 'cleo')).toBe('ada');
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
