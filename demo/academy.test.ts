import { describe, expect, test } from '@jest/globals';
import { causesAt } from '@ulkret/core/breakdown';
import { isMinor, openInjuries } from '@ulkret/core/people';
import { prescribe } from '@ulkret/core/prescription';
import { plainReading, type Reading } from '@ulkret/core/reading';
import { faultOf, standing } from '@ulkret/core/rep';
import { classDaysAgo, demoAcademy, gripMendedAt, newcomer } from '.';

const now = Date.parse('2026-03-05T15:00:00Z');
const { data } = demoAcademy(now);
const breakdown = data.techniques[0]!.editions.at(-1)!;
const editions = new Map([[breakdown.edition, breakdown]]);
const reps = standing(data.facts);
const mainSides = new Map(data.students.map(({ id, mainSide }) => [id, mainSide]));
const read = (asOf: number, more: object = {}) =>
  plainReading({ breakdown, editions, reps, asOf: new Date(asOf).toISOString(), mainSides, ...more });
const of = (student: string, asOf = now, more: object = {}): Reading =>
  read(asOf, more).students.find((one) => one.student === student)!;
const at = (reading: Reading, checkpoint: string) =>
  reading.checkpoints.find((one) => one.checkpoint === checkpoint)!;
const worst = (reading: Reading, by: 'failed' | 'hazard' | 'gain') =>
  [...reading.checkpoints].sort((a, b) =>
    by === 'failed' ? b.failed - a.failed : b[by].value - a[by].value,
  )[0]!.checkpoint;

describe('the demo academy', () => {
  test('is the same for the same day and seed', () => {
    expect(demoAcademy(now + 3_600_000).data).toEqual(data);
  });

  test('has eighteen students, fourteen classes and about six thousand reps', () => {
    expect(data.students).toHaveLength(18);
    expect(classDaysAgo).toHaveLength(14);
    expect(reps.length).toBeGreaterThan(5500);
    expect(reps.length).toBeLessThan(6800);
  });

  test('has one minor and two open injuries', () => {
    const today = '2026-03-05';
    expect(data.students.filter((student) => isMinor(student, today)).map(({ name }) => name)).toEqual([
      'Nasrin',
    ]);
    expect(data.students.flatMap((student) => openInjuries(student, today))).toHaveLength(2);
  });

  test('holds only reps that can be true, each with an id of its own', () => {
    expect(new Set(data.facts.reps.map(({ id }) => id)).size).toBe(data.facts.reps.length);
    expect(data.facts.reps.every((rep) => faultOf(breakdown, rep) === null)).toBe(true);
  });

  test('has a breakdown whose beliefs make a whole and whose every checkpoint has a proof and a cause', () => {
    expect(breakdown.checkpoints.reduce((sum, { belief }) => sum + belief, 0)).toBe(100);
    for (const { id, proofs } of breakdown.checkpoints) {
      expect(proofs.length).toBeGreaterThan(0);
      expect(causesAt(breakdown, id).length).toBeGreaterThan(0);
    }
  });
});

describe('the stories', () => {
  const beforeMending = now - (classDaysAgo[gripMendedAt]! + 0.5) * 86_400_000;

  test('1: an early leak hides a late one, until it is mended', () => {
    const early = of('amara', beforeMending);
    expect(worst(early, 'failed')).toBe('arm-under-chin');
    expect(at(early, 'hand-behind-head').failed).toBeLessThan(at(early, 'arm-under-chin').failed / 2.5);
    expect(at(early, 'hand-behind-head').hazard.value).toBeGreaterThan(0.35);
    const late = of('amara', now, { halfLifeDays: 7 });
    expect(worst(late, 'gain')).toBe('hand-behind-head');
    expect(prescribe(breakdown, of('amara'), 'right')).toMatchObject({
      kind: 'correct',
      checkpoint: 'hand-behind-head',
    });
  });

  test('2: a stop at the finish, tagged with a mistake whose root is earlier', () => {
    const finish = at(of('davor'), 'chest-expands');
    expect(worst(of('davor'), 'hazard')).toBe('chest-expands');
    const cause = [...finish.causes].sort((a, b) => b.stops - a.stops).find(({ cause: id }) => id !== null);
    expect(breakdown.mistakes.find(({ id }) => id === cause?.cause)?.root).toBe('arm-under-chin');
  });

  test('3: a clear gap between right and left', () => {
    expect(at(of('hana'), 'arm-under-chin').sideGap).toBeGreaterThan(0.95);
    const left = at(of('hana', now, { side: 'left' }), 'arm-under-chin').hazard;
    const right = at(of('hana', now, { side: 'right' }), 'arm-under-chin').hazard;
    expect(left.low).toBeGreaterThan(right.high);
  });

  test('4: a checkpoint that holds up to rung 2 and breaks at rung 3', () => {
    const held = new Map(
      at(of('jomo'), 'hooks-inside').byRung.map(({ rung, held: one }) => [rung, one.value]),
    );
    expect(held.get(2)).toBeGreaterThan(0.75);
    expect(held.get(3)).toBeLessThan(0.75);
  });

  test('11: a newcomer with too few reps for any verdict', () => {
    const few = of(newcomer);
    expect(few.reps).toBe(4);
    expect(few.checkpoints.some(({ enough }) => enough)).toBe(false);
    expect(prescribe(breakdown, few, 'right').kind).toBe('watch');
  });
});
