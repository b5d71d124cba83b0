import { describe, expect, test } from '@jest/globals';
import { randomLcg } from 'd3-random';
import fc from 'fast-check';
import { createEmptyCard, fsrs, Rating } from 'ts-fsrs';
import { shippedDrills } from '../drills';
import { plainReading, usualFall } from '../reading';
import type { Rep } from '../rep';
import { aLife, aRep, factId, plainBreakdown, questionOf } from '../test';
import {
  believed,
  fallsFrom,
  goesOn,
  livesOf,
  type Life,
  lookTonight,
  prescribe,
  recheckOf,
  signOff,
  signOffTest,
  type Step,
  stoodOn,
  taught,
  termsOf,
  together,
  workedOf,
} from '.';

const breakdown = plainBreakdown(5);
const editions = new Map([[breakdown.edition, breakdown]]);
const times = (n: number, fields: Parameters<typeof aRep>[0]) =>
  Array.from({ length: n }, () => aRep(fields));
const on = (day: number, hour = 18) => new Date(Date.UTC(2026, 2, day, hour)).toISOString();

const before = [...times(9, { stop: 'c3', at: on(1) }), ...times(3, { at: on(1) })];
const correction = (() => {
  const told = prescribe(breakdown, plainReading(questionOf(breakdown, before)).students[0]!, {
    mainSide: 'right',
    drills: shippedDrills,
  });
  if (told.kind !== 'correct') throw new Error('nine of twelve are clear');
  return told;
})();
const terms = { ...termsOf(breakdown, correction), rung: 2 as const };

let made = 0;
const step = (at: string, does: Step['does'], observer = 'coach'): Step => ({
  id: factId(9000 + made++),
  session: null,
  at,
  observer,
  student: 'ada',
  technique: breakdown.technique,
  edition: breakdown.edition,
  does,
});
const accept = (at: string, observer?: string, of = terms) =>
  step(at, { is: 'accepted', terms: of, stood: stoodOn(correction) }, observer);
const lives = (steps: Step[], reps: Rep[], now = on(20)) => livesOf(editions, steps, reps, now);

describe('the life of a prescription', () => {
  test('goes from accepted to signed off over two classes, by the reps and by nothing that is filled in', () => {
    const steps = [accept(on(2))];
    expect(lives(steps, before).current).toMatchObject({ state: 'accepted', held: [] });
    const first = times(4, { at: on(3) });
    expect(lives(steps, [...before, ...first]).current?.state).toBe('in work');
    const { all, current, signedOff } = lives(
      steps,
      [...before, ...first, ...times(3, { at: on(5) })],
      on(6),
    );
    expect(current).toBeNull();
    expect(all[0]).toMatchObject({ state: 'signed off' });
    expect(all[0]!.events.map(({ is }) => is)).toEqual(['accepted', 'in work', 'signed off']);
    expect(signedOff.get('c3')).toEqual({ right: 2 });
  });

  test('is signed off by a sign where reps cannot show it; reps that go too short count for nothing', () => {
    const proof = {
      by: 'sign' as const,
      shows: 'c5',
      sign: { by: 'feel' as const, text: 'the partner cannot turn' },
    };
    const accepted = accept(on(2), 'coach', { ...terms, proof });
    const short = times(9, { at: on(3), to: 'c4' });
    expect(lives([accepted], short).current).toMatchObject({ state: 'accepted', held: [] });
    const felt = step(on(4), { is: 'signed', of: accepted.id, reason: 'the partner cannot turn' });
    const { all, current, signedOff } = lives([accepted, felt], short, on(5));
    expect([current, all[0]!.state, all[0]!.signed]).toEqual([null, 'signed off', ['right', 'left']]);
    expect(all[0]!.events.at(-1)).toMatchObject({ is: 'signed off', words: 'the partner cannot turn' });
    expect(signedOff.get('c3')).toEqual({ right: 2, left: 2 });
    // Undone, it is in work again.
    const undo = step(on(4, 20), { is: 'undone', of: felt.id });
    expect(lives([accepted, felt, undo], short, on(5)).current?.state).toBe('accepted');
  });

  test('signs off the sides one by one: one of which the test saw next to nothing is still to come', () => {
    const accepted = accept(on(2));
    const right = times(7, { at: on(3) });
    const one = lives([accepted], right, on(3, 20));
    expect(one.all[0]).toMatchObject({ state: 'signed off', signed: ['right'] });
    expect(one.all[0]!.events.at(-1)).toMatchObject({
      is: 'signed off',
      words: 'held 7 of 7, the right side',
    });
    const [four, three] = [times(4, { at: on(3) }), times(3, { at: on(3, 19), side: 'left' })];
    expect(lives([accepted], [...four, ...three]).signedOff.get('c3')).toEqual({ right: 2, left: 2 });

    // Then only the other one is asked for, and signed off by its own reps; the first rests.
    const reading = plainReading(questionOf(breakdown, before)).students[0]!;
    const next = prescribe(breakdown, reading, { mainSide: 'right', signedOff: one.signedOff });
    if (next.kind !== 'correct') throw new Error('the left is still to come');
    expect(next.dose).toMatchObject({ sides: 'left', first: 'left' });
    expect(next.reason.rules).toContain('one side is signed off');
    const then = accept(on(4), 'coach', { ...termsOf(breakdown, next), rung: 2 });
    const more = [...right, ...times(7, { at: on(5) }), ...times(6, { at: on(5), side: 'left' })];
    expect(lives([accepted, then], more, on(6)).current).toMatchObject({ state: 'in work', signed: [] });
    const both = lives([accepted, then], [...more, ...times(1, { at: on(5, 19), side: 'left' })], on(6));
    expect(both.signedOff.get('c3')).toEqual({ right: 2, left: 2 });
  });

  test('a side that is signed off lapses by its own reps and not by those of the other', () => {
    const accepted = accept(on(2));
    const owned = times(7, { at: on(3) });
    const due = new Date(
      Date.parse(lives([accepted], owned, on(3, 20)).all[0]!.due!) + 3_600_000,
    ).toISOString();
    const look = (side: 'right' | 'left') =>
      lives([accepted], [...owned, ...times(4, { at: due, stop: 'c3', side })], due).all[0]!.state;
    expect([look('left'), look('right')]).toEqual(['recheck due', 'lapsed']);
  });

  test('steps back after three lost, and starts again at another rung, but not for another cue', () => {
    const accepted = accept(on(2));
    const lost = times(3, { at: on(3), stop: 'c3' });
    expect(lives([accepted], lost).current?.state).toBe('stepped back');
    const cue = step(on(4), { is: 'edited', of: accepted.id, terms: { ...terms, cue: 'Elbow first.' } });
    expect(lives([accepted, cue], lost).current).toMatchObject({
      state: 'stepped back',
      terms: { cue: 'Elbow first.' },
    });
    const rung = step(on(4), { is: 'edited', of: accepted.id, terms: { ...terms, rung: 1 } });
    expect(lives([accepted, rung], lost).current).toMatchObject({ state: 'accepted', held: [] });
  });

  test('is due again, kept or lapsed by what the reps of a later class show', () => {
    const steps = [accept(on(2))];
    const owned = times(7, { at: on(3) });
    const { due } = lives(steps, owned, on(3, 20)).all[0]!;
    const later = new Date(Date.parse(due!) + 3_600_000).toISOString();
    expect(lives(steps, owned, later).all[0]!.state).toBe('recheck due');
    const look = (stop: boolean) =>
      lives(steps, [...owned, ...times(4, { at: later, ...(stop && { stop: 'c3' }) })], later);
    const kept = look(false).all[0]!;
    expect(kept.state).toBe('kept');
    expect(kept.due! > due!).toBe(true);
    const lapsed = look(true);
    expect(lapsed.all[0]).toMatchObject({ state: 'lapsed', due: null });
    expect(lapsed.all[0]!.events.at(-1)).toMatchObject({ is: 'lapsed', words: 'held 0 of 4' });
    // It may be prescribed again, and its history is still there.
    expect(lapsed.signedOff.has('c3')).toBe(false);
  });

  test('a refusal is respected for four weeks, and for that checkpoint alone', () => {
    const declined = step(on(2), { is: 'declined', checkpoint: 'c3', reason: 'a sore wrist' });
    expect([...lives([declined], []).declined.keys()]).toEqual(['c3']);
    expect(lives([declined], [], on(31)).declined.size).toBe(0);
    const reading = plainReading(questionOf(breakdown, before)).students[0]!;
    const told = prescribe(breakdown, reading, {
      mainSide: 'right',
      declined: new Set(lives([declined], []).declined.keys()),
    });
    expect(told).not.toMatchObject({ checkpoint: 'c3' });
  });

  test('of two coaches who decide differently the later one counts, and both stay on record', () => {
    const accepted = accept(on(2), 'coach');
    const declined = step(on(2, 19), { is: 'declined', checkpoint: 'c3', reason: 'not now' }, 'another');
    const met = lives([declined, accepted], []);
    expect(met.current).toBeNull();
    expect(met.all[0]!.events.map(({ is, by }) => `${by} ${is}`)).toEqual([
      'coach accepted',
      'another ended',
    ]);
    const again = accept(on(4), 'another');
    expect(lives([again, declined, accepted], []).current).toMatchObject({ by: 'another' });
    expect(lives([again, declined, accepted], []).declined.size).toBe(0);
  });

  test('an undone decision never was, and one at a time is worked on', () => {
    const accepted = accept(on(2));
    expect(lives([accepted, step(on(3), { is: 'undone', of: accepted.id })], before).all).toEqual([]);
    const other = accept(on(3), 'coach', { ...terms, checkpoint: 'c2', mistake: 'm2' });
    const both = lives([accepted, other], []);
    expect(both.all.map(({ state }) => state)).toEqual(['replaced', 'accepted']);
    expect(both.current?.terms.checkpoint).toBe('c2');
  });

  test('does not depend on the order in which facts arrive, nor on how often', () => {
    const accepted = accept(on(2));
    const steps = [accepted, step(on(4), { is: 'edited', of: accepted.id, terms: { ...terms, rung: 1 } })];
    const reps = [...before, ...times(3, { at: on(3) }), ...times(5, { at: on(5), rung: 1 })];
    const straight = lives(steps, reps);
    fc.assert(
      fc.property(
        fc.shuffledSubarray([...reps], { minLength: reps.length }),
        fc.shuffledSubarray([...steps, ...steps], { minLength: 4 }),
        (someReps, someSteps) => {
          const other = lives(someSteps, someReps);
          expect(other.all.map(({ state, held }) => [state, held.length])).toEqual(
            straight.all.map(({ state, held }) => [state, held.length]),
          );
        },
      ),
      { numRuns: 30 },
    );
  });

  test('goes on until it is settled, or another brings a tenth more', () => {
    const [own] = correction.reason.candidates;
    const now = (rise: number) => ({
      ...correction,
      reason: {
        ...correction.reason,
        candidates: [
          { ...own!, checkpoint: 'c2', rise: own!.rise * rise },
          { ...own!, lostBy: null },
        ],
      },
    });
    expect(goesOn({ terms, state: 'in work' }, now(1.05))).toBe(true);
    expect(goesOn({ terms, state: 'in work' }, now(1.2))).toBe(false);
    expect(goesOn({ terms, state: 'stepped back' }, now(1))).toBe(false);
  });
});

describe('the sign-off test, played many times', () => {
  // Wald (1947): a truncated test may pass α and β a little; how often it is truncated is told.
  const rates = (hold: number) => {
    const chance = randomLcg(0.42);
    const ends = Array.from({ length: 4000 }, () =>
      signOff(Array.from({ length: signOffTest.longest }, () => chance() < hold)),
    );
    const share = (of: (one: (typeof ends)[number]) => boolean) => ends.filter(of).length / ends.length;
    return {
      signed: share(({ state }) => state === 'signed off'),
      back: share(({ state }) => state === 'step back'),
      truncated: share(({ seen }) => seen === signOffTest.longest),
    };
  };
  test('signs off wrongly, and steps back wrongly, no more often than one time in ten', () => {
    expect(rates(signOffTest.notYet).signed).toBeLessThanOrEqual(signOffTest.falseSignOff);
    expect(rates(signOffTest.owned).back).toBeLessThanOrEqual(signOffTest.falseStepBack);
  });
  test('reaches its end at thirty reps only now and then', () => {
    expect(rates(signOffTest.notYet).truncated).toBeLessThan(0.1);
    expect(rates(0.72).truncated).toBeLessThan(0.25);
  });
});

describe('the recheck', () => {
  // The first intervals of FSRS are those of its published default parameters, given by the library itself.
  test('is due when the scheduler says so', () => {
    const scheduler = fsrs({ request_retention: 0.85, enable_fuzz: false, enable_short_term: false });
    const { card } = scheduler.next(createEmptyCard(on(3)), on(3), Rating.Good);
    expect(recheckOf(on(3), []).due).toBe(card.due.toISOString());
  });
  test('looks at nothing before it is due, nor at fewer than three reps', () => {
    const { due } = recheckOf(on(3), []);
    const early = { at: on(4), seen: 9, held: 0 };
    const few = { at: due, seen: 2, held: 0 };
    expect(recheckOf(on(3), [early, few])).toEqual({ due, looks: [], lapsed: false });
  });
  test('is spread: one thing a student, what is due for longest first, and a third of a class at most', () => {
    const due = (n: number, student: string, state: Life['state'] = 'recheck due') =>
      aLife(n, { student, state, due: on(n) });
    const all = [
      due(9, 'ada'),
      due(4, 'ben'),
      due(5, 'ben'),
      due(6, 'cleo'),
      due(3, 'dan', 'kept'),
      due(2, 'eve'),
    ];
    const of = (...here: string[]) => {
      const { tonight, wait } = lookTonight(all, here);
      return [tonight.map(({ student }) => student), wait];
    };
    expect(of('ada', 'ben', 'cleo', 'dan', 'finn', 'gus')).toEqual([['ben', 'cleo'], 2]);
    // Of two who are here, one: never nobody, where something is due.
    expect(of('ada', 'ben')).toEqual([['ben'], 2]);
    expect(of('dan')).toEqual([[], 0]);
  });
  test('the better it held, the later it is due', () => {
    const { due } = recheckOf(on(3), []);
    const after = (held: number) => recheckOf(on(3), [{ at: due, seen: 20, held }]).due;
    expect([after(13) < after(16), after(16) < after(20)]).toEqual([true, true]);
    expect(recheckOf(on(3), [{ at: due, seen: 20, held: 11 }]).lapsed).toBe(true);
  });
});

describe('did it work', () => {
  const life = lives([accept(on(2))], before).current!;
  test('says the chance that it breaks less, with the reps of both times', () => {
    const after = times(10, { at: on(6) });
    expect(workedOf(editions, life, [...before, ...after])).toMatchObject({
      before: { seen: 12, failed: 9 },
      after: { seen: 10, failed: 0 },
      untouched: correction.hazard.value,
    });
    expect(workedOf(editions, life, [...before, ...after]).chance).toBeGreaterThan(0.99);
    const same = [...times(8, { at: on(6), stop: 'c3' }), ...times(3, { at: on(6) })];
    expect(workedOf(editions, life, [...before, ...same]).chance).toBeLessThan(0.6);
    expect(workedOf(editions, life, [...before, ...times(4, { at: on(6) })]).chance).toBeNull();
  });
  test('expects less of an untouched checkpoint than it looked like: it was picked because it looked worst', () => {
    const { before: was, untouched } = workedOf(editions, life, before);
    expect(untouched!).toBeLessThan(was.failed / was.seen);
  });
  test('takes several together by their reps', () => {
    const worked = workedOf(editions, life, [...before, ...times(10, { at: on(6) })]);
    expect(together([worked, worked])).toMatchObject({
      prescriptions: 2,
      known: 2,
      fell: 2,
      before: { seen: 24, failed: 18 },
    });
    expect(together([]).untouched).toBeNull();
  });
  test('a normal belief after observations is the precision-weighted mean', () => {
    // Gelman et al., Bayesian Data Analysis (3rd ed.), 2.5: prior N(0, 1), one observation 2 with deviation 1 gives N(1, 1/2).
    const { mean, deviation } = believed({ mean: 0, deviation: 1 }, [{ mean: 2, deviation: 1 }]);
    expect([mean, deviation ** 2]).toEqual([1, expect.closeTo(0.5, 12)]);
    expect(believed(usualFall, [])).toEqual({
      mean: expect.closeTo(-0.35, 12),
      deviation: expect.closeTo(0.25, 12),
    });
  });
  test('tells what a dose of a kind of drill does here from before and after', () => {
    const kindOf = (drill: string | null) => shippedDrills.find(({ id }) => id === drill)!.kind;
    const outcome = (after: Rep[]) => ({
      life: { ...life, held: Array<boolean>(20).fill(true) },
      worked: workedOf(editions, life, [...before, ...after]),
    });
    const better = fallsFrom([outcome(times(12, { at: on(6) }))], shippedDrills).get(kindOf(terms.drill))!;
    const worse = fallsFrom([outcome(times(12, { at: on(6), stop: 'c3' }))], shippedDrills).get(
      kindOf(terms.drill),
    )!;
    expect(better.mean).toBeLessThan(usualFall.mean);
    expect(worse.mean).toBeGreaterThan(better.mean);
    expect(better.deviation).toBeLessThan(usualFall.deviation);
  });
});

describe('what a rep teaches', () => {
  test('is most in the window, the same on both sides of its middle, and something everywhere', () => {
    expect(taught(0.725)).toBe(1);
    expect(taught(0.6)).toBeCloseTo(taught(0.85), 12);
    expect(taught(0.1)).toBeGreaterThanOrEqual(0.5);
  });
});

describe('why this and not another', () => {
  test('tells the chosen one first, and of each that lost what it would have brought and why it lost', () => {
    const { candidates } = correction.reason;
    expect(candidates[0]).toMatchObject({ checkpoint: 'c3', lostBy: null });
    expect(candidates.slice(1).every(({ lostBy }) => lostBy !== null)).toBe(true);
    expect(candidates.filter(({ checkpoint }) => checkpoint !== 'c3')[0]).toMatchObject({
      lostBy: 'nothing to gain',
    });
  });
  test('names a drill that trains it at its rung', () => {
    const drill = shippedDrills.find(({ id }) => id === correction.drill)!;
    expect(drill.trains.kinds).toContain(breakdown.checkpoints[2]!.kind);
    expect(drill.rungs.low).toBeLessThanOrEqual(correction.dose.rung);
    expect(drill.rungs.high).toBeGreaterThanOrEqual(correction.dose.rung);
  });
});
