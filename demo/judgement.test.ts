import { describe, expect, test } from '@jest/globals';
import { finished } from '@ulkret/core/hazard';
import { everything, fitAcademy, fold, fullReading, tallyWeeks } from '@ulkret/core/reading';
import { drill, informedChoice, judgedTarget, knownSquad, plainStrand, trueGains } from './judgement';

const editions = new Map([[plainStrand.technique, new Map([[plainStrand.edition, plainStrand]])]]);

function read(seed: number, reps: number) {
  const squad = knownSquad(seed);
  const done = squad.students.flatMap((_, i) => drill(squad, plainStrand, i, reps));
  const cells = fold(
    tallyWeeks(editions, done, () => null),
    { asOf: '2026-03-05', halfLifeDays: 28 },
  );
  const question = {
    breakdown: plainStrand,
    cells,
    slice: everything,
    mainSides: new Map(),
    target: judgedTarget,
  };
  return { squad, full: fullReading(question, finished(fitAcademy(cells, question.mainSides))) };
}

describe('the judgement on squads whose true hazards are known', () => {
  test('gives 80 % intervals that hold the truth in 75 to 85 of 100', () => {
    let [covered, all] = [0, 0];
    for (let i = 0; i < 16; i++) {
      const { squad, full } = read((0.13 + i * 0.618) % 1, 40);
      for (const { student, checkpoints } of full.students)
        checkpoints.forEach(({ hazard }, at) => {
          const truth = squad.hazards[squad.students.indexOf(student!)]![at]!;
          all += 1;
          if (hazard.low <= truth && truth <= hazard.high) covered += 1;
        });
    }
    expect(all).toBe(16 * 16 * 8);
    expect(covered / all).toBeGreaterThan(0.75);
    expect(covered / all).toBeLessThan(0.85);
  });

  test('would correct what is worth correcting: far more of the best gain than a notebook’s count', () => {
    let [product, notebook] = [0, 0];
    for (let i = 0; i < 8; i++) {
      const { squad, full } = read((0.29 + i * 0.618) % 1, 20);
      for (const { student, checkpoints } of full.students) {
        const gains = trueGains(squad, squad.students.indexOf(student!));
        const best = Math.max(...gains);
        const first = (by: 'promise' | 'failed') =>
          gains[checkpoints.reduce((a, b, at) => (b[by] > checkpoints[a]![by] ? at : a), 0)]! / best;
        product += first('promise');
        notebook += first('failed');
      }
    }
    expect(product).toBeGreaterThan(notebook * 1.08);
  });

  test('is held against a judge who finds the best where reps are many, and the weakest mean where there are none', () => {
    const squad = knownSquad(0.61);
    const many = squad.hazards[0]!.map((hazard) => ({ reached: 4000, failed: Math.round(4000 * hazard) }));
    const gains = trueGains(squad, 0);
    expect(informedChoice(squad, many)).toBe(gains.indexOf(Math.max(...gains)));
    const none = squad.level.map(() => ({ reached: 0, failed: 0 }));
    expect(informedChoice(squad, none)).toBe(squad.level.indexOf(Math.max(...squad.level)));
  });

  test('drills from where it is asked to, and stops where it breaks', () => {
    const squad = knownSquad(0.4);
    const reps = drill(squad, plainStrand, 3, 50, 5);
    expect(reps.every(({ from }) => from === 'c6')).toBe(true);
    expect(
      reps.every(
        (rep) => rep.outcome === 'finished' || ['c6', 'c7', 'c8'].includes((rep as { stop: string }).stop),
      ),
    ).toBe(true);
  });
});
