import { describe, expect, test } from '@jest/globals';
import { bestDrill, drillClass, forget, hazardsOf, season, seasonSquad, trueFinish } from './season';

const mean = (list: readonly number[]): number => list.reduce((sum, x) => sum + x, 0) / list.length;

describe('the squad of a season', () => {
  test('is the same from the same seed, and every root is an earlier checkpoint', () => {
    const [one, other] = [seasonSquad(0.3), seasonSquad(0.3)];
    expect(one.learners).toEqual(other.learners);
    one.roots.slice(1).forEach((root, i) => expect(root).toBeLessThanOrEqual(i));
  });
  test('breaks as often as its hazards say, and is seen in every second rep', () => {
    const squad = seasonSquad(0.2, 0);
    const seen = Array.from({ length: 60 }, () => drillClass(squad, () => null)).flat();
    expect(seen).toHaveLength((60 * season.students * season.repsAClass) / 2);
    const [first] = hazardsOf(squad.learners[0]!, squad);
    const own = seen.filter(({ student }) => student === 0);
    expect(mean(own.map(({ stop }) => (stop === 0 ? 1 : 0)))).toBeCloseTo(first!, 1);
    const finished = mean(own.map(({ stop }) => (stop === null ? 1 : 0)));
    expect(finished).toBeCloseTo(trueFinish(squad.learners[0]!, squad), 1);
    // Half of the stops carry a tag.
    const stops = own.filter(({ stop }) => stop !== null);
    expect(mean(stops.map(({ tag }) => (tag === null ? 0 : 1)))).toBeCloseTo(0.5, 1);
  });
  test('learns what it drills most, a little of what it passes, and forgets what it leaves', () => {
    const squad = seasonSquad(0.7);
    drillClass(squad, () => ({ checkpoint: 2, rung: 2 }));
    const learnt = squad.learners.map(({ now, start }) => now.map((x, at) => start[at]! - x));
    expect(mean(learnt.map((list) => list[2]!))).toBeGreaterThan(3 * mean(learnt.map((list) => list[0]!)));
    expect(learnt.flat().every((x) => x >= 0)).toBe(true);
    const before = squad.learners.map(({ now }) => [...now]);
    for (let week = 0; week < 6; week++) forget(squad, (_, checkpoint) => checkpoint === 2);
    squad.learners.forEach(({ now, start }, i) => {
      expect(now[2]).toBe(before[i]![2]);
      // Half of it is gone after six weeks.
      expect(now[0]! - start[0]!).toBeCloseTo((before[i]![0]! - start[0]!) / 2, 6);
    });
  });
  test('the best drill raises the finish rate for any student', () => {
    const squad = seasonSquad(0.4);
    const then = squad.learners.map((learner) => bestDrill(learner, squad));
    const before = squad.learners.map((learner) => trueFinish(learner, squad));
    drillClass(squad, (student) => then[student]!);
    squad.learners.forEach((learner, i) => expect(trueFinish(learner, squad)).toBeGreaterThan(before[i]!));
  });
  test('of the harder kind loses half of its stops to defences, learns answers apart, and spares the last checkpoint', () => {
    const still = seasonSquad(0.6, 0, true);
    const seen = Array.from({ length: 40 }, () => drillClass(still, () => null)).flat();
    const tagged = seen.filter(({ tag }) => tag !== null);
    expect(mean(tagged.map(({ tag }) => (tag === 'defence' ? 1 : 0)))).toBeGreaterThan(0.35);
    const squad = seasonSquad(0.6, 1, true);
    const last = season.checkpoints - 1;
    const drilled = drillClass(squad, () => ({ checkpoint: 2, rung: 2, answer: true }));
    expect(drilled.filter(({ drilled: for2, to }) => for2 && to === last)).toEqual([]);
    const learnt = (of: 'now' | 'answers') =>
      mean(
        squad.learners.map(({ now, start, answers }) =>
          of === 'now' ? start[2]! - now[2]! : answers.start[2]! - answers.now[2]!,
        ),
      );
    expect(learnt('answers')).toBeGreaterThan(3 * learnt('now'));
    const atLast = drillClass(squad, () => ({ checkpoint: last, rung: 2 }));
    const ofOne = atLast.filter(({ student, drilled: forIt }) => student === 0 && forIt);
    expect(ofOne.length).toBeLessThanOrEqual(4);
  });
});
