import { describe, expect, test } from '@jest/globals';
import { CheckpointKind } from '../breakdown';
import { plainBreakdown } from '../test';
import { Drill, drillCalled, DrillKind, drillsFor, nearness, shippedDrills } from '.';

const breakdown = plainBreakdown(5);
const wanted = { checkpoint: 'c2', mistake: 'm2', defence: null };

describe('the drills that ship', () => {
  test('are forty at least, each as the schema wants it, none twice', () => {
    expect(shippedDrills.length).toBeGreaterThanOrEqual(40);
    for (const drill of shippedDrills) expect(Drill.parse(drill)).toEqual(drill);
    expect(new Set(shippedDrills.map(({ id }) => id)).size).toBe(shippedDrills.length);
    expect(new Set(shippedDrills.map(({ title }) => title)).size).toBe(shippedDrills.length);
  });
  test('are of every kind, and train every kind of checkpoint at every rung that is dosed', () => {
    expect(new Set(shippedDrills.map(({ kind }) => kind))).toEqual(new Set(DrillKind.options));
    for (const kind of CheckpointKind.options)
      for (const rung of [1, 2, 3] as const)
        expect(
          shippedDrills.filter(
            ({ trains, rungs }) => trains.kinds.includes(kind) && rungs.low <= rung && rung <= rungs.high,
          ),
        ).not.toHaveLength(0);
  });
  test('say what the partner does wherever there is one, and warn where a finish is put on', () => {
    for (const { people, task, trains, caution, rungs, id, kind } of shippedDrills) {
      if (people > 1) expect(task).not.toBe('');
      if (trains.kinds.length === 1 && trains.kinds[0] === 'finish' && rungs.high > 0 && kind !== 'shadow')
        expect([id, caution]).not.toEqual([id, '']);
    }
  });
});

describe('the drills for a correction', () => {
  const own: Drill = {
    ...shippedDrills[0]!,
    id: 'own',
    title: 'Pull the elbow',
    trains: {
      ...shippedDrills[0]!.trains,
      kinds: [],
      mistakes: [{ technique: breakdown.technique, id: 'm2' }],
    },
  };
  test('are those made for its cause first, then for its checkpoint, then for its kind', () => {
    const point: Drill = {
      ...own,
      id: 'point',
      trains: { ...own.trains, mistakes: [], checkpoints: [{ technique: breakdown.technique, id: 'c2' }] },
    };
    expect([nearness(own, breakdown, wanted), nearness(point, breakdown, wanted)]).toEqual([3, 2]);
    const [first, second] = drillsFor([...shippedDrills, point, own], breakdown, wanted, 1);
    expect([first!.drill.id, second!.drill.id]).toEqual(['own', 'point']);
  });
  test('are found for a shared piece in whichever technique, and nowhere else', () => {
    const trains = { kinds: [], answers: false, checkpoints: [], mistakes: [], defences: [], ways: [] };
    const drill = { ...shippedDrills[0]!, trains: { ...trains, pieces: ['four'] } };
    const having = structuredClone(breakdown);
    having.checkpoints.find(({ id }) => id === wanted.checkpoint)!.piece = 'four';
    expect([nearness(drill, having, wanted), nearness(drill, breakdown, wanted)]).toEqual([2, 0]);
  });
  test('are found by the words of a mistake that name one, whatever their letters’ case', () => {
    const named = structuredClone(breakdown);
    named.mistakes[1]!.drills = ['  one POINT, ten times '];
    const [first] = drillsFor(shippedDrills, named, wanted, 1);
    expect(first!.drill.title).toBe('One point, ten times');
    expect(drillCalled(shippedDrills, 'Something else')).toBeUndefined();
  });
  test('train the answer where the partner ends it, and never a retired one', () => {
    const answers = drillsFor(shippedDrills, breakdown, { ...wanted, mistake: null, defence: 'd2' }, 2);
    expect(answers.length).toBeGreaterThan(3);
    expect(answers[0]!.drill.kind).toBe('defence');
    expect(answers.every(({ drill }) => drill.trains.answers)).toBe(true);
    expect(drillsFor([{ ...own, retired: true }], breakdown, wanted, 2)).toEqual([]);
    expect(drillsFor([own], breakdown, wanted, 3)).toEqual([]);
  });
});
