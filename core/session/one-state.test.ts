import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { livesOf, signOff, type Step } from '../prescription';
import type { Rep } from '../rep';
import { aRep, factId, plainBreakdown } from '../test';
import { type Prescribed, testAfter, workOf } from '.';

const breakdown = plainBreakdown(5);
const start = Date.parse('2026-03-05T18:00:00.000Z');
const at = (minutes: number) => new Date(start + minutes * 60_000).toISOString();
const terms = {
  checkpoint: 'c3',
  mistake: null,
  defence: null,
  cue: '',
  drill: null,
  rung: 2,
  sides: 'both',
  first: 'right',
  reps: 10,
  sets: 2,
  startAt: null,
  endAt: null,
} as const;
const accepted: Step = {
  id: factId(1),
  session: null,
  at: at(0),
  observer: 'coach',
  student: 'ada',
  technique: 'test-lock',
  edition: 1,
  does: { is: 'accepted', terms, stood: null },
};

/** What the Mat says of the test, in the words of the record. */
const onTheMat = {
  open: ['accepted', 'in work'],
  'signed off': ['signed off'],
  'step back': ['stepped back'],
};

const rep = fc.record({
  outcome: fc.constantFrom('finished', 'c2', 'c3', 'c5'),
  rung: fc.constantFrom(1, 2, 3),
  left: fc.boolean(),
});

test('the Mat and the record of a correction are in one state, whatever was done before a class and in it', () => {
  fc.assert(
    fc.property(
      fc.array(rep, { maxLength: 40 }),
      fc.nat(40),
      fc.constantFrom('both', 'right', 'left'),
      (drilled, classAt, sides) => {
        const reps = drilled.map(({ outcome, rung, left }, i): Rep =>
          aRep({
            at: at(1 + i),
            rung: rung as Rep['rung'],
            side: left ? 'left' : 'right',
            ...(outcome !== 'finished' && { stop: outcome }),
          }),
        );
        const step = {
          ...accepted,
          does: { is: 'accepted', terms: { ...terms, sides }, stood: null },
        } as Step;
        const recordOf = (done: readonly Rep[]) =>
          livesOf(new Map([[1, breakdown]]), [step], done, at(100)).all.at(-1)!;
        const [before, inClass] = [reps.slice(0, classAt), reps.slice(classAt)];
        // What the class takes along when it is set up.
        const { held } = recordOf(before);
        const prescribed: Prescribed[] = [
          { student: 'ada', checkpoint: 'c3', rung: 2, sides, held: held.slice(0, 60) },
        ];
        const seen = (done: readonly Rep[]) =>
          workOf({ breakdown, prescribed, log: { of: () => done }, rung: 2 }, 'ada')!;
        const work = seen(inClass);
        const record = recordOf(reps);
        expect(onTheMat[work.test.state]).toContain(record.state);
        expect(work.test).toEqual(signOff(record.held));
        // One more rep: what is said of it is what the record says next.
        const next = aRep({ at: at(90) });
        expect(testAfter(breakdown, work, next)).toEqual(seen([...inClass, next]).test);
      },
    ),
  );
});
