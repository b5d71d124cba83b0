import { describe, expect, test } from '@jest/globals';
import { causesAt } from '@ulkret/core/breakdown';
import { critique } from '@ulkret/core/breakdown/critique';
import { exposureOf, neutralRules, permit, spanSpares } from '@ulkret/core/care';
import { isMinor, openInjuries } from '@ulkret/core/people';
import { shippedDrills } from '@ulkret/core/drills';
import { knownOf, livesOf, prescribe, workedOf, workedWords } from '@ulkret/core/prescription';
import { finished } from '@ulkret/core/hazard';
import {
  agreementOf,
  agreementWanted,
  beliefReading,
  everything,
  fitAcademy,
  type Folding,
  fold,
  fullReading,
  plainReading,
  type Reading,
  type Slice,
  tallyWeeks,
  weeksBefore,
} from '@ulkret/core/reading';
import { faultOf } from '@ulkret/core/rep';
import { standing } from '@ulkret/core/facts';
import { classDaysAgo, demoAcademy, disputed, gripMendedAt, newcomer, refused, restricted } from '.';

const now = Date.parse('2026-03-05T15:00:00Z');
const { data } = demoAcademy(now);
const breakdownOf = (id: string) =>
  data.techniques.find(({ technique }) => technique.id === id)!.editions.at(-1)!;
const breakdown = breakdownOf('rear-strangle');
const editions = new Map(
  data.techniques.map((one) => [
    one.technique.id,
    new Map(one.editions.map((edition) => [edition.edition, edition])),
  ]),
);
const reps = standing(data.facts);
const mainSides = new Map(data.students.map(({ id, mainSide }) => [id, mainSide]));
const masses = new Map(data.students.map(({ id, massKg }) => [id, massKg]));
const weeks = tallyWeeks(editions, reps, (person) => masses.get(person) ?? null);
const cellsAt = (asOf: number, halfLifeDays = 28, since?: string) => {
  const folding: Folding = { asOf: new Date(asOf).toISOString(), halfLifeDays, since };
  return fold(weeks, folding);
};
const cells = cellsAt(now);
const posterior = finished(fitAcademy(cells, mainSides));
const full = (technique: string, slice: Partial<Slice> = {}) =>
  fullReading(
    { breakdown: breakdownOf(technique), cells, slice: { ...everything, ...slice }, mainSides },
    posterior,
  );
const plain = (asOf: number, halfLifeDays?: number) =>
  plainReading({ breakdown, cells: cellsAt(asOf, halfLifeDays), slice: everything, mainSides });
const of = (student: string, slice: Partial<Slice> = {}): Reading =>
  full('rear-strangle', slice).students.find((one) => one.student === student)!;
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
    expect(data.facts.reps.every((rep) => faultOf(breakdownOf(rep.technique), rep) === null)).toBe(true);
  });

  test('has breakdowns whose beliefs make a whole and whose every checkpoint has a proof and a cause', () => {
    for (const { editions: list } of data.techniques)
      for (const one of list) {
        expect(one.checkpoints.reduce((sum, { belief }) => sum + belief, 0)).toBe(100);
        for (const { id, proofs } of one.checkpoints) {
          expect(proofs.length).toBeGreaterThan(0);
          expect(causesAt(one, id).length).toBeGreaterThan(0);
        }
      }
  });
});

describe('the breakdowns that ship', () => {
  const known = (id: string) => data.techniques.find(({ technique }) => technique.id === id);
  test('are eight submissions and four defences', () => {
    const kinds = data.techniques.map(({ technique }) => technique.kind);
    expect(kinds.filter((kind) => kind === 'submission')).toHaveLength(8);
    expect(kinds.filter((kind) => kind === 'defence')).toHaveLength(4);
  });

  test.each(data.techniques.map(({ technique }) => [technique.id]))('%s is free of errors', (id) => {
    const { technique, editions: list } = known(id)!;
    const findings = critique(
      list.at(-1)!,
      technique,
      (other) =>
        known(other)
          ?.editions.at(-1)!
          .checkpoints.map((one) => one.id) ?? null,
    );
    expect(findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    // Story 6 is a defence without an answer; nothing else is to be criticised.
    expect(findings.map(({ text }) => text)).toEqual(
      id === 'rear-strangle' ? [expect.stringMatching(/No answer: the partner wins/)] : [],
    );
  });
});

const instant = new Date(now).toISOString();
/** What became of the corrections of a student, and whether the last of them worked. */
function livesOn(student: string) {
  const own = reps.filter((rep) => rep.student === student);
  const steps = data.facts.steps.filter((step) => step.student === student);
  const lives = livesOf(editions.get('rear-strangle')!, steps, own, instant);
  const life = lives.all.at(-1);
  return { ...lives, life, worked: life && workedOf(editions.get('rear-strangle')!, life, own) };
}

describe('the stories', () => {
  // Reps are counted by the week, so this is the end of the one before.
  const mended = new Date(now - classDaysAgo[gripMendedAt]! * 86_400_000).toISOString();
  const beforeMending = Date.parse(weeksBefore(mended, 0)) - 1;

  test('1: an early leak hides a late one, until it is mended', () => {
    const early = plain(beforeMending).students.find(({ student }) => student === 'amara')!;
    expect(worst(early, 'failed')).toBe('arm-under-chin');
    expect(at(early, 'hand-behind-head').failed).toBeLessThan(at(early, 'arm-under-chin').failed / 2.5);
    expect(at(early, 'hand-behind-head').hazard.value).toBeGreaterThan(0.3);
    // The grip was agreed on, has been mended and is signed off: a few reps of tonight do not turn it.
    const { signedOff } = livesOn('amara');
    expect([...signedOff.keys()]).toEqual(['arm-under-chin']);
    const known = { mainSide: 'right', drills: shippedDrills, signedOff } as const;
    const prescription = prescribe(breakdown, of('amara'), known);
    expect(prescription).toMatchObject({ kind: 'correct', checkpoint: 'hand-behind-head' });
    const [best, ...others] = prescription.kind === 'correct' ? prescription.reason.candidates : [];
    const open = others.filter(({ lostBy }) => lostBy !== 'signed off');
    expect(best!.rise).toBeGreaterThan(1.1 * Math.max(...open.map(({ rise }) => rise)));
  });

  test('9: what became of corrections: one worked, one did not, one lapsed, two are due, one was declined', () => {
    const of = livesOn;
    expect(of('amara').life!.state).toBe('kept');
    expect(workedWords(of('amara').worked!)).toMatch(/^It fell: /);
    expect(of('mireille').life!.state).toBe('stepped back');
    expect(workedWords(of('mireille').worked!)).toMatch(/^It may have dropped, but that is not clear yet: /);
    expect(of('leif').life!.state).toBe('lapsed');
    // Due all day long, whenever the demo is opened.
    for (const student of ['farid', 'ilmari']) {
      expect([student, of(student).life!.state]).toEqual([student, 'recheck due']);
      expect(of(student).life!.due! < instant.slice(0, 10)).toBe(true);
    }
    expect(of(refused.student).declined.get(refused.checkpoint)?.reason).toBe(refused.reason);
    for (const { does } of data.facts.steps)
      if (does.is === 'accepted') {
        expect([does.terms.cue, does.terms.drill].includes(null)).toBe(false);
        expect(does.stood!.reached).toBeGreaterThanOrEqual(10);
      }
  });

  test('2: a student stops at the finish, but the root is four checkpoints earlier, and that is corrected', () => {
    const davor = of('davor');
    expect(worst(davor, 'hazard')).toBe('chest-expands');
    expect(at(davor, 'arm-under-chin').rootLeak).toBeGreaterThan(at(davor, 'chest-expands').rootLeak);
    expect(prescribe(breakdown, davor, { mainSide: 'right' })).toMatchObject({
      kind: 'correct',
      checkpoint: 'arm-under-chin',
      symptom: 'chest-expands',
    });
  });

  test('3: a clear gap between right and left', () => {
    expect(at(of('hana'), 'arm-under-chin').sideGap).toBeGreaterThan(0.95);
    const left = at(of('hana', { side: 'left' }), 'arm-under-chin').hazard;
    const right = at(of('hana', { side: 'right' }), 'arm-under-chin').hazard;
    expect(left.low).toBeGreaterThan(right.high);
  });

  test('4: a checkpoint holds up to rung 2 and breaks at rung 3', () => {
    expect(at(of('jomo'), 'hooks-inside').holdsUpTo).toBe(2);
  });

  test('5: a heavy partner breaks what a light one does not', () => {
    const chest = at(of('chiara'), 'chest-to-back');
    expect(chest.massGap).toBeGreaterThan(0.95);
    const held = new Map(chest.byPartner.map(({ partner, held: one }) => [partner, one.value]));
    expect(held.get('lighter')! - held.get('heavier')!).toBeGreaterThan(0.1);
  });

  test('7: the coach gives a checkpoint two fifths, and the reps a tenth or less', () => {
    const { farthest } = beliefReading(breakdownOf('guard-armlock'), full('guard-armlock').squad);
    expect(farthest).toMatchObject({ checkpoint: 'knees-together', belief: 40 });
    expect(farthest!.evidence).toBeLessThan(12);
  });

  test('8: two observers disagree on one criterion, and agree on the others', () => {
    const { byCheckpoint, byKind } = agreementOf(
      breakdown,
      editions.get('rear-strangle')!,
      reps,
      data.facts.looks,
    );
    expect(byCheckpoint.find(({ checkpoint }) => checkpoint === disputed)!.kappa).toBeLessThan(
      agreementWanted,
    );
    for (const { checkpoint, kappa } of byCheckpoint)
      if (checkpoint !== disputed && kappa !== null) expect(kappa).toBeGreaterThan(agreementWanted);
    expect(byKind.find(({ kind }) => kind === 'pressure')!.kappa).toBeLessThan(agreementWanted);
  });

  test('10: who may not spar with a lock is never asked to, is told so, and spares the partner; a minor has no rep of it', () => {
    const { student, technique: id, checkpoint } = restricted;
    const { technique } = data.techniques.find((one) => one.technique.id === id)!;
    const ankle = breakdownOf(id);
    const person = data.students.find((one) => one.id === student)!;
    const circumstances = { rules: neutralRules, today: instant.slice(0, 10) };
    const reading = full(id).students.find((one) => one.student === student)!;
    const known = { ...knownOf(person, technique, circumstances), drills: shippedDrills };
    const told = prescribe(ankle, reading, known);
    if (told.kind !== 'correct') throw new Error('it should be clear what to correct');
    expect(told).toMatchObject({ checkpoint, dose: { rung: 2 } });
    expect(spanSpares(ankle, technique, told.dose.endAt)).toBe(true);
    expect(told.reason.rules).toContain('the house allows no higher rung');
    const drilled = reps.filter((rep) => rep.technique === id);
    const may = (who: string, partner: string | null) =>
      permit(
        data.students.find((one) => one.id === who)!,
        data.students.find((one) => one.id === partner) ?? null,
        technique,
        'drill',
        circumstances,
      ).verdict;
    expect(drilled.every((rep) => may(rep.student, rep.partner) !== 'not allowed')).toBe(true);
    expect(may('nasrin', null)).toBe('not allowed');
    const inHand = new Map([[id, { technique, breakdown: ankle }]]);
    for (const session of data.sessions.filter((one) => one.technique === id)) {
      const own = drilled.filter((rep) => rep.session === session.id);
      for (const partner of new Set(own.flatMap((rep) => rep.partner ?? [])))
        expect(exposureOf(inHand, own, partner, 'partner').fast).toBeLessThanOrEqual(neutralRules.caps.fast);
    }
  });

  test('11: a newcomer with too few reps for any verdict', () => {
    const few = of(newcomer);
    expect(few.reps).toBe(4);
    expect(few.checkpoints.some(({ enough }) => enough)).toBe(false);
    expect(prescribe(breakdown, few, { mainSide: 'right' }).kind).toBe('watch');
  });
});
