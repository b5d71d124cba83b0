import { describe, expect, test } from '@jest/globals';
import { followersOf, type Rep, sequenceFrom } from '../rep';
import { aRep, sayingAllBreakdown, sayingBreakdown } from '../test';
import { chanceBetter, choicesOf } from '.';

const breakdown = sayingBreakdown();
const editions = new Map([[1, breakdown]]);
const read = (...reps: Rep[]) => choicesOf(breakdown, editions, reps);
const times = (count: number, fields: Parameters<typeof aRep>[0]): Rep[] =>
  Array.from({ length: count }, () => aRep(fields));

describe('the ways of a checkpoint', () => {
  const lost = { stop: 'c2', student: 'ben', partner: 'ada' } as const;
  const reps = [
    ...times(18, { ways: ['high'] }),
    ...times(2, { ways: ['high'], ...lost }),
    ...times(6, { ways: ['low'], student: 'cleo' }),
    ...times(6, { ways: ['low'], stop: 'c2', student: 'cleo' }),
    ...times(3, { ways: ['low'], ...lost }),
    ...times(3, { stop: 'c1', ways: ['low'] }),
    ...times(4, {}),
  ];

  test('are compared where they were reached, the better one first, each with its reps', () => {
    const [at] = read(...reps).ways;
    expect(at!.checkpoint).toBe('c2');
    expect(at!.ways.map(({ way, reached, failed, students }) => [way, reached, failed, students])).toEqual([
      ['high', 20, 2, 2],
      [null, 4, 0, 1],
      ['low', 15, 9, 2],
    ]);
    // Hardly anybody drilled both, so part of the difference may be the students’.
    expect(at!.better).toMatchObject({ first: 'high', second: 'low' });
    expect(at!.better!.chance).toBeGreaterThan(0.75);
    expect(at!.better!.chance).toBeLessThan(0.95);
    const [high] = at!.ways;
    expect(high!.behind.filter(({ well }) => !well)).toHaveLength(2);
    expect(high!.held.low).toBeLessThan(18 / 20);
  });

  test('say nothing of which is better on too few reps, nor where no answer recorded', () => {
    expect(read(...times(4, { ways: ['high'] }), ...times(9, { ways: ['low'] })).ways[0]!.better).toBeNull();
    expect(read(...times(9, {})).ways).toEqual([]);
  });

  test('are not told apart by one who drills much', () => {
    const of = (student: string, well: boolean, count: number) =>
      times(count, { student, partner: null }).map((rep) => ({ rep, well }));
    const alone = chanceBetter(of('ada', true, 40), [...of('ben', true, 3), ...of('cleo', false, 3)]);
    const many = chanceBetter(
      ['ada', 'ben', 'cleo', 'dan'].flatMap((id) => of(id, true, 10)),
      ['ada', 'ben', 'cleo', 'dan'].flatMap((id) => [...of(id, true, 5), ...of(id, false, 5)]),
    );
    expect(many).toBeGreaterThan(0.99);
    expect(alone ?? 0.5).toBeLessThan(many!);
    expect(chanceBetter(of('ada', true, 9), of('ada', true, 9))).toBeCloseTo(0.5);
  });
});

describe('the answers to a defence', () => {
  const met = (answer: string | null, worked: boolean) => [{ defence: 'd1', answer, worked }];

  test('have rates of the room and of each student; a stop by the defence counts as met', () => {
    const [d1, ...others] = read(
      ...times(5, { met: met('across', true) }),
      ...times(2, { met: met('across', false), stop: 'c1', cause: 'd1', student: 'ben', partner: 'ada' }),
      ...times(1, { met: met(null, true), task: ['d1'] }),
      ...times(3, { stop: 'c1', cause: 'd1' }),
    ).answers;
    expect(others).toEqual([]);
    expect(d1).toMatchObject({ defence: 'd1', met: 11, ended: 5, asked: 1 });
    const [across, unsaid] = d1!.answers;
    // Beta 2:2 and 5 of 7: 7 of 11.
    expect(across).toMatchObject({ answer: 'across', tried: 7, worked: 5 });
    expect(across!.works.value).toBeCloseTo(7 / 11, 12);
    expect(across!.students.map(({ student, tried, worked }) => [student, tried, worked])).toEqual([
      ['ada', 5, 5],
      ['ben', 2, 0],
    ]);
    expect(unsaid).toMatchObject({ answer: null, tried: 1 });
  });
});

describe('a sequence', () => {
  const left = () => aRep({ outcome: 'left', heldTo: 'c3', by: 'exit' });
  const goesOn = (from: Rep, fields: Parameters<typeof aRep>[0] = {}) =>
    aRep({ technique: 'other-lock', follows: { rep: from.id, by: 'exit' }, ...fields });

  test('ends where its last rep does: what begins here finishes more often than it does on its own', () => {
    const [one, two, three] = [left(), left(), left()];
    const { sequence } = read(
      ...times(2, {}),
      ...times(4, { stop: 'c2' }),
      one,
      goesOn(one),
      two,
      goesOn(two, { stop: 'c1' }),
      three,
      aRep({ from: 'c2' }),
    );
    expect(sequence).toMatchObject({ begun: 8, byItself: 2, finished: 3, open: 1 });
    expect(sequence.doors).toMatchObject([{ by: 'exit', to: 'other-lock', went: 2, finished: 1 }]);
    expect(sequence.together!.value).toBeGreaterThan(sequence.alone!.value);
  });

  test('is followed through several reps, never in a circle', () => {
    const first = left();
    const second = goesOn(first, { outcome: 'left', heldTo: 'c1' });
    const third = goesOn(second);
    const next = followersOf([third, first, second]);
    expect(sequenceFrom(first, next)).toEqual([first, second, third]);
    const round = { ...first, follows: { rep: third.id, by: null } };
    expect(sequenceFrom(round, followersOf([round, second, third]))).toHaveLength(3);
  });

  test('of a technique that nobody left is what it does on its own', () => {
    const { sequence } = read(...times(3, {}), ...times(1, { stop: 'c4' }));
    expect(sequence).toMatchObject({ begun: 4, byItself: 3, finished: 3, open: 0, doors: [] });
    expect(read().sequence.alone).toBeNull();
  });
});

describe('what else a rep says', () => {
  const all = sayingAllBreakdown();
  const told = (...reps: Rep[]) => choicesOf(all, new Map([[1, all]]), reps);

  test('is by which entry it began, and which finish ended it', () => {
    const { entries, finishes } = told(
      ...times(3, { from: 'c2', entry: 'from-turtle', finish: 'arch' }),
      ...times(1, { from: 'c2', entry: 'from-turtle', stop: 'c3' }),
      ...times(2, { stop: 'c1' }),
      ...times(5, { from: 'c3' }),
    );
    expect(entries.map(({ entry, begun, finished }) => [entry, begun, finished])).toEqual([
      ['from-turtle', 4, 3],
      [null, 2, 0],
    ]);
    expect(finishes.map(({ finish, ended }) => [finish, ended])).toEqual([['arch', 3]]);
    expect(told(...times(4, {})).entries).toEqual([]);
  });

  test('is a value, which is laid against its range and what came of it', () => {
    const measured = (value: number) => ({ measured: [{ checkpoint: 'c2', value }] });
    const timed = (seconds: number) => ({ timed: [{ checkpoint: 'c3', seconds }] });
    const [measure, time] = told(
      ...['ada', 'ben', 'cleo'].flatMap((student) => [
        ...times(8, { student, partner: null, ...measured(3), ...timed(1) }),
        ...times(8, { student, partner: null, ...measured(9), stop: 'c2' }),
        ...times(1, { student, partner: null, ...measured(3), ...timed(3), stop: 'c3' }),
      ]),
    ).measured;
    expect(measure).toMatchObject({
      checkpoint: 'c2',
      of: 'measure',
      low: 0,
      high: 4,
      unit: 'finger widths',
    });
    expect([measure!.inside, measure!.outside].map(({ reached, held }) => [reached, held])).toEqual([
      [27, 27],
      [24, 0],
    ]);
    expect(measure!.better).toBeGreaterThan(0.99);
    expect(measure!.values).toHaveLength(51);
    expect(time).toMatchObject({ checkpoint: 'c3', of: 'time', high: 2 });
    expect(time!.better).toBeNull();
  });
});
