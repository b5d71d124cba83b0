import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { aRep, factId } from '../test';
import { type RepFacts, SessionLog, standing } from '.';

const start = '2026-03-05T18:00:00.000Z';
const later = (seconds: number) => new Date(Date.parse(start) + seconds * 1000).toISOString();
const session = factId(3);

describe('the log of a session', () => {
  const reps = Array.from({ length: 24 }, (_, i) =>
    aRep({
      id: factId(100 + i),
      session,
      at: later(i % 11),
      stop: i % 3 ? 'c2' : 'c1',
      ...(i % 2 ? { student: 'ben', partner: 'ada' } : {}),
    }),
  );
  const facts: RepFacts = {
    reps,
    voids: [2, 9].map((i) => ({
      id: factId(200 + i),
      rep: reps[i]!.id,
      at: later(60),
      observer: 'coach',
      ofImport: false,
    })),
    tags: [4, 4, 7].map((i, n) => ({
      id: factId(300 + n),
      rep: reps[i]!.id,
      cause: `m${n}`,
      words: n === 1 ? 'a bent wrist' : null,
      at: later(70 + n),
      observer: 'coach',
    })),
  };
  const shuffled = <T>(list: readonly T[]) => fc.shuffledSubarray([...list], { minLength: list.length });

  test('says the same as the facts at once, one by one, in any order and twice', () => {
    const one = (kind: 'reps' | 'voids' | 'tags') => facts[kind].map((fact) => ({ [kind]: [fact] }));
    fc.assert(
      fc.property(shuffled([...one('reps'), ...one('voids'), ...one('tags')]), (items) => {
        const log = new SessionLog();
        for (const item of [...items, ...items.slice(0, 9)]) log.add(item);
        const expected = standing(facts);
        expect(log.standing().all()).toEqual(expected);
        expect(log.standing().last).toEqual(expected.slice(-40));
        expect([4, 7, 1].map((i) => log.standing().wordsOf(reps[i]!.id))).toEqual([
          'a bent wrist',
          null,
          null,
        ]);
        for (const who of ['ada', 'ben', 'nobody']) {
          expect(log.standing().of(who)).toEqual(expected.filter(({ student }) => student === who));
          expect(log.standing().on(who)).toEqual(expected.filter(({ partner }) => partner === who));
        }
      }),
    );
  });

  test('of a whole room that comes in any parts says for everybody what the facts say', () => {
    const room = ['ada', 'ben', 'cleo', 'dan'];
    const one = fc.record({
      who: fc.constantFrom(...room),
      on: fc.constantFrom(...room, null),
      second: fc.nat(20),
      voided: fc.boolean(),
      part: fc.nat(3),
    });
    let n = 5000;
    fc.assert(
      fc.property(fc.array(one, { maxLength: 25 }), (drawn) => {
        const entries = drawn.map(({ who, on, second, voided, part }) => {
          const rep = aRep({
            id: factId(n++),
            session,
            at: later(second),
            student: who,
            partner: on === who ? null : on,
          });
          const gone = { id: factId(n++), rep: rep.id, at: later(60), observer: 'coach', ofImport: false };
          return { rep, voids: voided ? [gone] : [], part };
        });
        const log = new SessionLog();
        for (const part of [2, 0, 3, 1, 2])
          log.add({
            reps: entries.filter((entry) => entry.part === part).map(({ rep }) => rep),
            voids: entries.filter((entry) => entry.part === 3 - part).flatMap(({ voids }) => voids),
          });
        const expected = standing({
          tags: [],
          reps: entries.map(({ rep }) => rep),
          voids: entries.flatMap(({ voids }) => voids),
        });
        expect(log.standing().all()).toEqual(expected);
        for (const person of room) {
          expect(log.standing().of(person)).toEqual(expected.filter(({ student }) => student === person));
          expect(log.standing().on(person)).toEqual(expected.filter(({ partner }) => partner === person));
        }
      }),
    );
  });

  test('hands out what does not change any more, and the same lists where nothing changed', () => {
    const log = new SessionLog();
    log.add({ reps: reps.slice(0, 6) });
    const before = log.standing();
    expect(log.add({ reps: reps.slice(0, 6) })).toBe(false);
    expect(log.standing()).toBe(before);
    const [ada, ben] = [before.of('ada'), before.of('ben')];
    log.add({ reps: [aRep({ student: 'ada', at: later(500) })] });
    expect(before.of('ada')).toBe(ada);
    expect(log.standing().of('ada')).toHaveLength(ada.length + 1);
    expect(log.standing().of('ben')).toBe(ben);
  });
});
