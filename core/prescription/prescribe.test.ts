import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Breakdown } from '../breakdown';
import { plainReading } from '../reading';
import type { Rep, Rung } from '../rep';
import { aRep, plainBreakdown, questionOf } from '../test';
import check from '../test/check-values.json' with { type: 'json' };
import {
  learningRung,
  opennessOf,
  prescribe,
  prescriptionWords,
  signOff,
  saidAtRoot,
  signOffShort,
  signOffSteps,
  signOffWords,
  startOf,
  teaches,
  unsureOf,
} from '.';

const breakdown = plainBreakdown(5);
const times = (n: number, fields: Parameters<typeof aRep>[0]) =>
  Array.from({ length: n }, () => aRep(fields));

const readingOf = (reps: Rep[], of = breakdown) => plainReading(questionOf(of, reps)).students[0]!;
const prescribed = (reps: Rep[], of = breakdown) => prescribe(of, readingOf(reps, of), { mainSide: 'right' });

describe('a prescription', () => {
  test('is the checkpoint whose fixing gains most, not the one with most failures per reach', () => {
    const reps = [...times(20, { stop: 'c2', cause: 'm2' }), ...times(4, { stop: 'c4' }), ...times(26, {})];
    const prescription = prescribed(reps);
    expect(prescription).toMatchObject({
      kind: 'correct',
      checkpoint: 'c2',
      reached: 50,
      failed: 20,
      mistake: 'm2',
    });
  });

  test('puts a fundamental first if what it depends on breaks too often', () => {
    const reps = [...times(24, { stop: 'c2' }), ...times(20, { stop: 'c3' }), ...times(6, {})];
    const prescription = prescribed(reps);
    expect(prescription).toMatchObject({ kind: 'correct', checkpoint: 'c2', insteadOf: 'c3' });
    const words = prescriptionWords(breakdown, prescription, 'Ada', 'right');
    expect(words.why).toContain('3 “Point 3” would gain more, but it depends on this one.');
  });

  test('asks to watch when there is not enough yet, from the beginning if it is often reached', () => {
    const loose = structuredClone(breakdown);
    loose.checkpoints.forEach((checkpoint) => (checkpoint.after = []));
    expect(prescribed(times(2, { stop: 'c1' }), loose)).toMatchObject({
      kind: 'watch',
      checkpoint: 'c1',
      startAt: null,
    });
  });

  test('asks to watch a late checkpoint that is seldom reached from there', () => {
    const loose = structuredClone(breakdown);
    loose.checkpoints.forEach((checkpoint) => (checkpoint.after = []));
    const late = times(2, { from: 'c5', stop: 'c5' });
    const early = [...times(20, { to: 'c2' }), ...times(14, { to: 'c2', stop: 'c2' })];
    const watch = prescribed([...late, ...early], loose);
    expect(watch).toMatchObject({ kind: 'watch', checkpoint: 'c5', startAt: 'c5' });
    expect(prescriptionWords(loose, watch, 'Ada', 'right').what).toMatch(
      /^Watch \d+ more reps of Ada at rung \d, started at 5 “Point 5”\.$/,
    );
  });

  test('tells what the next reps would teach most about, and where they start', () => {
    const few = [...times(30, { stop: 'c1' }), ...times(4, { from: 'c4', stop: 'c4' })];
    const unsure = unsureOf(readingOf(few))!;
    const worths = readingOf(few).checkpoints.map((at) =>
      teaches({
        checkpoint: at.checkpoint,
        startAt: null,
        reached: at.atRoot.reached,
        openness: opennessOf(at),
      }),
    );
    expect(teaches(unsure)).toBeCloseTo(Math.max(...worths), 12);
    // What few get to is looked at from there.
    const late = unsureOf({ ...readingOf(few), checkpoints: readingOf(few).checkpoints.slice(3) })!;
    expect([late.checkpoint, late.reached, late.startAt]).toEqual(['c4', 4, null]);
    expect(startOf(readingOf(few), readingOf(few).checkpoints[3]!)).toBe('c4');
    expect(unsureOf({ ...readingOf(few), checkpoints: [] })).toBeNull();
  });

  test('says its numbers in the sentence', () => {
    const words = prescriptionWords(
      breakdown,
      prescribed([...times(20, { stop: 'c2', cause: 'm2' }), ...times(30, {})]),
      'Ada',
      'right',
    );
    expect(words.what).toBe('Ada: correct 2 “Point 2” first.');
    expect(words.why).toMatch(
      /^20 of the 50 reps that reached it ended there \(40 %\)\. By the model, .* \d+ % are lost here \(\d+–\d+ %\), \d+ % of all reps; /,
    );
    expect(words.how).toMatch(
      /^Cue: Cue 2\. 2 × 10 reps each side, the right first, at rung \d .*held 7 times in a row\.$/,
    );
  });

  test('is for both sides where the off side is surely worse', () => {
    const reps = [
      ...times(20, { side: 'right' }),
      ...times(14, { side: 'left', stop: 'c2' }),
      ...times(6, { side: 'left' }),
    ];
    expect(prescribed(reps)).toMatchObject({
      kind: 'correct',
      checkpoint: 'c2',
      dose: { sides: 'both', first: 'left' },
    });
  });

  test('is clear with nine stops of twelve, and not with two of two', () => {
    expect(prescribed([...times(9, { stop: 'c3' }), ...times(3, {})])).toMatchObject({
      kind: 'correct',
      checkpoint: 'c3',
      reached: 12,
      failed: 9,
    });
    expect(prescribed(times(2, { stop: 'c3' }))).toMatchObject({ kind: 'watch', checkpoint: 'c3', more: 3 });
  });

  test('is never of a checkpoint that nothing of the student points at, however the squad does there', () => {
    const squad = ['ben', 'cleo', 'dan'].flatMap((student) =>
      times(20, { student, partner: 'ada', stop: 'c2' }),
    );
    const own = prescribe(
      breakdown,
      plainReading(questionOf(breakdown, [...squad, ...times(5, {})])).students.find(
        ({ student }) => student === 'ada',
      )!,
      { mainSide: 'right' },
    );
    expect(own.kind).not.toBe('correct');
  });

  const rooted = structuredClone(breakdown);
  rooted.mistakes[4]!.root = 'c2';

  test('counts at the root: what stopped later because of it failed there, whatever it looked like', () => {
    const reps = [...times(8, { stop: 'c5', cause: 'm5' }), ...times(4, {})];
    const prescription = prescribed(reps, rooted);
    expect(prescription).toMatchObject({
      kind: 'correct',
      checkpoint: 'c2',
      symptom: 'c5',
      mistake: 'm5',
      reached: 12,
      failed: 8,
      failedHere: 0,
      toldBy: 'own tags',
    });
    const { why } = prescriptionWords(rooted, prescription, 'Ada', 'right');
    expect(why).toMatch(
      /^It shows at 5 “Point 5”, it starts at 2\. 8 of 12 reps that show it were lost because of 2 \(67 %\): 0 there and 8 later\./,
    );
    // The rung is where it holds at the root, not where it looks as if it did.
    if (prescription.kind === 'correct') expect(prescription.dose.rung).toBe(1);
  });

  test('asks for the tag of a later stop that may belong here', () => {
    const alone = structuredClone(rooted);
    alone.defences = alone.defences.filter(({ opens }) => opens !== 'c5');
    const reps = [...times(6, { stop: 'c5', cause: 'm5' }), ...times(3, { stop: 'c5' }), ...times(5, {})];
    const prescription = prescribed(reps, alone);
    expect(prescription).toMatchObject({
      kind: 'correct',
      checkpoint: 'c2',
      reached: 11,
      failed: 6,
      open: 3,
    });
    expect(prescriptionWords(alone, prescription, 'Ada', 'right').why).toMatch(
      /6 of 11 reps that show it were lost because of 2 \(55 %\): 0 there and 6 later\. 3 later stops may belong here too: tag their causes\./,
    );
  });

  test('never says what its numbers do not, whatever was drilled', () => {
    const stop = fc.constantFrom('c1', 'c2', 'c3', 'c4', 'c5', null);
    const one = fc.record({
      stop,
      tagged: fc.boolean(),
      rung: fc.constantFrom(1 as const, 2 as const, 3 as const, 4 as const),
      side: fc.constantFrom('right' as const, 'left' as const),
    });
    fc.assert(
      fc.property(fc.array(one, { minLength: 1, maxLength: 60 }), (drawn) => {
        const reps = drawn.map(({ stop: at, tagged, rung, side }) =>
          aRep({ rung, side, ...(at && { stop: at, ...(tagged && { cause: `m${at.slice(1)}` }) }) }),
        );
        const prescription = prescribed(reps, rooted);
        const { what, why, how } = prescriptionWords(rooted, prescription, 'Ada', 'right');
        const tried = Math.max(...drawn.map(({ rung }) => rung));
        const { checkpoints } = readingOf(reps, rooted);
        if (prescription.kind === 'correct') {
          const { hazard, target, gain, failed, failedHere, open, reached, dose } = prescription;
          expect(hazard.value).toBeGreaterThan(target);
          expect(gain.value).toBeGreaterThan(0);
          expect(failed + open).toBeGreaterThan(0);
          expect(failedHere).toBeLessThanOrEqual(failed);
          expect(failed).toBeLessThanOrEqual(reached);
          expect(dose.rung).toBeLessThanOrEqual(Math.min(3, tried + 1));
          expect(why).toContain(`${failed} of ${failed > failedHere ? '' : 'the '}${reached} rep`);
          if (prescription.mistake) expect(how).toContain(`Cue ${prescription.mistake.slice(1)}.`);
        } else if (prescription.kind === 'watch') {
          expect(prescription.more).toBeGreaterThan(0);
          expect(prescription.rung).toBeLessThanOrEqual(Math.min(3, tried + 1));
          expect(what).toContain(`${prescription.more} more rep`);
          const likely = checkpoints.filter(
            ({ atRoot }) => atRoot.failed + atRoot.open > 0 && atRoot.hazard.value > atRoot.target,
          );
          const watched = checkpoints.find(({ checkpoint }) => checkpoint === prescription.checkpoint)!;
          for (const { promise } of likely) expect(promise).toBeLessThanOrEqual(watched.promise);
        }
      }),
    );
  });

  test('is nothing where nothing gains', () => {
    expect(prescribed(times(200, {}))).toMatchObject({ kind: 'none', reps: 200 });
  });
});

/** Somebody at a checkpoint: what it holds at every rung, and up to which rung it was tried. */
const seenAt = (
  holds: readonly [number, number, number, number, number],
  tried: Rung,
): Parameters<typeof learningRung>[0] => ({
  atRoot: {
    reached: 20,
    failed: 4,
    shown: [{ at: 'c2', reached: 20, held: [...holds] }],
    open: 0,
    hazard: { value: 0.2, low: 0.1, high: 0.3 },
    target: 0.1,
    above: 0.9,
    tried: ([0, 1, 2, 3, 4] as const).filter((rung) => rung <= tried).map((rung) => ({ rung, reached: 4 })),
  },
});

describe('the rung to drill at', () => {
  test('is where a rep teaches most: where it holds 60 to 85 times in a hundred, the higher one of two', () => {
    expect(learningRung(seenAt([0.99, 0.95, 0.8, 0.65, 0.2], 4))).toBe(3);
    expect(learningRung(seenAt([0.9, 0.7, 0.4, 0.3, 0.2], 3))).toBe(1);
  });
  test('is never more than one above the highest that was tried, and never free sparring', () => {
    expect(learningRung(seenAt([0.99, 0.97, 0.95, 0.9, 0.8], 1))).toBe(2);
    expect(learningRung(seenAt([0.99, 0.97, 0.95, 0.9, 0.8], 4))).toBe(3);
    expect(learningRung(seenAt([0.99, 0.97, 0.95, 0.9, 0.8], 0))).toBe(1);
  });
});

describe('the sign-off test', () => {
  test('has the bounds and steps of Wald’s sequential test', () => {
    expect(signOffSteps.upper).toBeCloseTo(check.sprt.upper, 6);
    expect(signOffSteps.lower).toBeCloseTo(check.sprt.lower, 6);
    expect(signOffSteps.held).toBeCloseTo(check.sprt.held, 6);
    expect(signOffSteps.failed).toBeCloseTo(check.sprt.failed, 6);
  });

  test('signs off after seven held in a row, steps back after three failed', () => {
    expect(signOff(Array(6).fill(true))).toMatchObject({ state: 'open', heldInARowToSettle: 1 });
    expect(signOff(Array(7).fill(true)).state).toBe('signed off');
    expect(signOff([false, false]).state).toBe('open');
    expect(signOff([false, false, false]).state).toBe('step back');
  });

  test('decides at thirty reps at the latest', () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 30, maxLength: 60 }), (held) => {
        const { state, seen } = signOff(held);
        expect(state).not.toBe('open');
        expect(seen).toBeLessThanOrEqual(30);
      }),
    );
  });

  test('what it says would settle it does settle it, and one less does not', () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { maxLength: 29 }), (held) => {
        const { state, heldInARowToSettle: more } = signOff(held);
        fc.pre(state === 'open' && Number.isFinite(more));
        expect(signOff([...held, ...Array<boolean>(more).fill(true)]).state).toBe('signed off');
        expect(signOff([...held, ...Array<boolean>(more - 1).fill(true)]).state).toBe('open');
      }),
    );
  });
});

describe('the sign-off test at a root', () => {
  const rooted = structuredClone(breakdown);
  rooted.mistakes[4]!.root = 'c2';
  const at = { checkpoint: 'c2', rung: 2 as const };

  test('is not signed off by seven reps that all stopped later by the very mistake', () => {
    const lost = times(7, { stop: 'c5', cause: 'm5' });
    expect(signOffAt(rooted, lost, at).state).toBe('step back');
    expect(signOffAt(breakdown, lost, at).state).toBe('signed off');
    // Stopped later by something else, it held here.
    expect(signOffAt(rooted, times(7, { stop: 'c5', cause: 'd5' }), at).state).toBe('signed off');
  });

  test('does not look at later stops that nobody tagged and that mostly have their root there', () => {
    const alone = structuredClone(rooted);
    alone.defences = alone.defences.filter(({ opens }) => opens !== 'c5');
    expect(signOffAt(alone, times(7, { stop: 'c5' }), at)).toMatchObject({ state: 'open', seen: 0 });
    expect(signOffAt(rooted, times(7, { stop: 'c5' }), at)).toMatchObject({ state: 'signed off' });
  });
});

describe('the rung that the house permits', () => {
  const at = seenAt([0.99, 0.97, 0.95, 0.75, 0.5], 2);
  test('is one that this student may work at, alone where there is none', () => {
    expect(learningRung(at)).toBe(3);
    expect(learningRung(at, (rung) => rung < 3)).toBe(2);
    expect(learningRung(at, () => false)).toBe(0);
  });
});

/** The test over reps after what earlier classes said, as the Mat and the record of a correction put it together. */
const signOffAt = (
  breakdown: Breakdown,
  reps: readonly Rep[],
  on: { checkpoint: string; rung: Rung; held?: readonly boolean[]; since?: string },
) =>
  signOff([
    ...(on.held ?? []),
    ...[...saidAtRoot([breakdown], reps, on)].flatMap(({ rep, held }) =>
      on.since === undefined || rep.at > on.since ? [held] : [],
    ),
  ]);

describe('the sign-off test on the Mat', () => {
  const at = { checkpoint: 'c3', rung: 2 as const };

  test('moves with each rep that reached the checkpoint at the rung or above, and with no other', () => {
    const reps = [
      aRep({ rung: 2 }),
      aRep({ rung: 3, stop: 'c4' }),
      aRep({ rung: 1 }),
      aRep({ stop: 'c1' }),
      aRep({ outcome: 'forced', failed: ['c2'] }),
    ];
    const test = signOffAt(breakdown, reps, at);
    expect(test).toMatchObject({ state: 'open', seen: 3, heldInARowToSettle: 4 });
    expect(signOffWords(test)).toBe('4 more held in a row signs it off.');
    expect(signOffShort(test)).toBe('hold 4 in a row');
    // What was tapped before it was agreed to, in the same class, is none of it.
    const agreed = { ...at, since: reps[1]!.at };
    expect(signOffAt(breakdown, [...reps, aRep({ at: '2099-01-01T00:00:00.000Z' })], agreed).seen).toBe(1);
    const settled = signOffAt(breakdown, [...reps, ...Array.from({ length: 4 }, () => aRep())], at);
    expect([signOffWords(settled), signOffShort(settled)]).toEqual(['Signed off after 7.', 'signed off']);
  });

  test('says when to step back', () => {
    const test = signOffAt(
      breakdown,
      Array.from({ length: 4 }, () => aRep({ stop: 'c3' })),
      at,
    );
    expect([test.state, signOffShort(test)]).toEqual(['step back', 'step back']);
    expect(signOffWords(signOffAt(breakdown, [], at))).toBe('7 held in a row signs it off.');
  });
});
