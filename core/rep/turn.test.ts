import { describe, expect, test } from '@jest/globals';
import { aRep } from '../test';
import { partnerOf, type Rep, turnOf } from '.';

/** Lets a pair drill by itself and says who did what. */
function drill(pair: string[], repsPerSide: number, n: number): string[] {
  const reps: Rep[] = [];
  for (let i = 0; i < n; i++) {
    const { student, partner, side } = turnOf(pair, reps, repsPerSide);
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
    expect(turnOf(['ada', 'ben'], reps, 3)).toEqual({
      student: 'ben',
      partner: 'ada',
      side: 'left',
      done: 1,
    });
  });

  test('of somebody alone has no partner', () => {
    expect(turnOf(['ada'], [], 5)).toEqual({ student: 'ada', partner: null, side: 'right', done: 0 });
  });
});
