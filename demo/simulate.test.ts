import { describe, expect, test } from '@jest/globals';
import { observations } from '@ulkret/core/reading';
import { drillClass, library, maker, truthOf } from '.';
import { squadOf } from './squad';

const now = Date.parse('2026-03-05T00:00:00Z');
const squad = squadOf(now);
const breakdown = library[0]!.editions[0]!;
const levels = Object.fromEntries(breakdown.checkpoints.map(({ id }) => [id, 0.2]));
const setting = { lesson: 0, start: now, rungs: [2 as const], repsPerSide: 5, observers: ['coach'] };

describe('the simulated squad', () => {
  const truth = truthOf(breakdown, squad, 0.3, levels, [], []);

  test('drills the same way from the same seed, and another way from another', () => {
    const drill = (seed: number) => drillClass(maker(seed), truth, breakdown, squad, setting);
    expect(drill(0.1)).toEqual(drill(0.1));
    expect(drill(0.1)).not.toEqual(drill(0.2));
  });

  test('fails as often as it truly does', () => {
    const make = maker(0.7);
    const editions = new Map([[breakdown.edition, breakdown]]);
    let [expected, variance, failed] = [0, 0, 0];
    const byId = new Map(squad.map((student) => [student.id, student]));
    for (let lesson = 0; lesson < 12; lesson++) {
      const { reps } = drillClass(make, truth, breakdown, squad, { ...setting, lesson });
      for (const { rep, checkpoint, observation } of observations(editions, reps)) {
        if (observation === 'not seen') continue;
        const attempt = {
          student: byId.get(rep.student)!,
          partner: byId.get(rep.partner!)!,
          side: rep.side,
          rung: rep.rung,
          lesson,
        };
        const hazard = truth.hazard(attempt, checkpoint);
        expected += hazard;
        variance += hazard * (1 - hazard);
        if (observation === 'failed') failed++;
      }
    }
    // Four standard deviations: a right simulation is outside them once in sixteen thousand seeds.
    expect(Math.abs(failed - expected)).toBeLessThan(4 * Math.sqrt(variance));
  });

  test('finds it harder at a higher rung, on the off side, and with a heavier partner', () => {
    const [light, heavy] = [
      squad.find(({ name }) => name === 'Hana')!,
      squad.find(({ name }) => name === 'Leif')!,
    ];
    const attempt = { student: light, partner: light, side: light.mainSide, rung: 2 as const, lesson: 0 };
    const hazard = (more: object) => truth.hazard({ ...attempt, ...more }, 'arm-under-chin');
    expect(hazard({ rung: 3 })).toBeGreaterThan(hazard({}));
    expect(hazard({ side: 'left' })).toBeGreaterThan(hazard({}));
    expect(hazard({ partner: heavy })).toBeGreaterThan(hazard({}));
  });

  test('lets a story have the last word', () => {
    const told = truthOf(
      breakdown,
      squad,
      0.3,
      levels,
      [(_, checkpoint) => (checkpoint === 'hooks-inside' ? 1 : null)],
      [],
    );
    const { reps } = drillClass(maker(0.5), told, breakdown, squad, setting);
    expect(reps.every((rep) => rep.outcome === 'stopped')).toBe(true);
    expect(new Set(reps.map((rep) => rep.outcome === 'stopped' && rep.stop))).toEqual(
      new Set(['chest-to-back', 'hooks-inside']),
    );
  });

  test('pairs everybody who is present, and each attacks as often on both sides', () => {
    const { session, reps } = drillClass(maker(0.5), truth, breakdown, squad.slice(0, 7), setting);
    expect(session.pairs.flat().sort()).toEqual(
      squad
        .slice(0, 7)
        .map(({ id }) => id)
        .sort(),
    );
    for (const student of session.pairs.flat())
      for (const side of ['right', 'left'])
        expect(reps.filter((rep) => rep.student === student && rep.side === side)).toHaveLength(5);
  });
});
