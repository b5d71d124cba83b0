import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Breakdown } from '../breakdown';
import { finished } from '../hazard';
import { prescribe, prescriptionWords } from '../prescription';
import type { Rep } from '../rep';
import { aRep, cellsOf, plainBreakdown, questionOf } from '../test';
import { many, percent, range, sure } from '../words';
import {
  asked,
  causeShares,
  defenceCosts,
  lostAt,
  ratesOf,
  type Counts,
  everything,
  fitAcademy,
  fullReading,
  talliedOf,
  notesOf,
  partnerOfBand,
  plainReading,
  rootShares,
} from '.';

const breakdown = plainBreakdown(5);
const times = (n: number, fields: Parameters<typeof aRep>[0]) =>
  Array.from({ length: n }, () => aRep(fields));
const counts = (failed: number, causes: Record<string, number>): Counts => ({
  reached: 100,
  failed,
  begun: 0,
  causes,
});
const shareOf = (list: ReturnType<typeof causeShares>, cause: string | null) =>
  list.find((one) => one.cause === cause)!.share;

describe('the causes of stops', () => {
  test('nobody tagged are shared out by this student’s tags, four of the squad’s, and the catalogue’s', () => {
    // Two tagged with the mistake; ten untagged shared by 2 + 4 × 0.25 + 0.5 against 0 + 4 × 0.75 + 0.5.
    const shares = causeShares(
      breakdown,
      'c3',
      counts(12, { m3: 2, '': 10 }),
      counts(80, { m3: 10, d3: 30, '': 40 }),
    );
    expect(shareOf(shares, 'm3')).toBeCloseTo((2 + 10 * (3.5 / 7)) / 12, 12);
    expect(shareOf(shares, 'd3')).toBeCloseTo((10 * (3.5 / 7)) / 12, 12);
    expect(shareOf(shares, null)).toBe(0);
  });

  test('of a checkpoint without a known cause stay unknown, at that checkpoint', () => {
    const bare: Breakdown = { ...breakdown, mistakes: [], defences: [] };
    const [only] = causeShares(bare, 'c2', counts(5, { '': 5 }));
    expect(only).toMatchObject({ cause: null, kind: 'unknown', share: 1, root: 'c2', stops: 5 });
  });

  test('that are defences cost what was tagged with them: in all, what frays off the strand as defence', () => {
    const long = structuredClone(breakdown);
    long.defences.find(({ id }) => id === 'd3')!.closes = 'c4';
    const reps = [
      ...times(6, {}),
      ...times(4, { stop: 'c3', cause: 'd3' }),
      ...times(2, { stop: 'c4', cause: 'd3' }),
      ...times(3, { stop: 'c4', cause: 'd4' }),
      ...times(5, { stop: 'c4', cause: 'm4' }),
      ...times(5, { stop: 'c3' }),
    ];
    const { squad } = plainReading(questionOf(long, reps));
    const costs = defenceCosts(long, squad);
    expect(costs.map(({ defence, stops }) => [defence, stops])).toEqual([
      ['d3', 6],
      ['d4', 3],
    ]);
    const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0);
    expect(sum(costs.map(({ lost }) => lost))).toBeCloseTo(
      sum(squad.checkpoints.map((at) => lostAt(at).defence)),
      12,
    );
    expect(ratesOf(long, plainReading(questionOf(long, reps))).defences).toEqual(costs);
  });

  test('move to their roots, defences stay, and every row is a whole', () => {
    const rooted = structuredClone(breakdown);
    rooted.mistakes[3]!.root = 'c1';
    const places = new Map(rooted.checkpoints.map(({ id }, i) => [id, i]));
    fc.assert(
      fc.property(fc.nat(30), fc.nat(30), fc.nat(30), (mistake, defence, unknown) => {
        const rows = rootShares(
          rooted.checkpoints.map(({ id }, i) =>
            causeShares(
              rooted,
              id,
              counts(mistake + defence + unknown, { [`m${i + 1}`]: mistake, [`d${i + 1}`]: defence }),
            ),
          ),
          places,
        );
        for (const row of rows) expect(row.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 10);
        if (mistake > 0) expect(rows[3]![0]).toBeGreaterThan(0);
        if (defence > 0) expect(rows[3]![3]).toBeGreaterThan(0);
      }),
    );
  });
});

describe('a slice of the reps', () => {
  const mass = (person: string) => ({ ada: 60, ben: 80, cleo: 50 })[person] ?? null;
  const reps = [
    aRep({ partner: 'ben', rung: 3 }),
    aRep({ partner: 'cleo', side: 'left', stop: 'c2' }),
    aRep({ partner: 'dan', stop: 'c1' }),
  ];

  test('counts the same reps whether they are tallied or looked at one by one', () => {
    const { squad } = talliedOf(cellsOf(reps, [breakdown], undefined, mass));
    const weeks = { asOf: '2026-03-05' };
    for (const slice of [
      everything,
      { ...everything, rung: 3 as const },
      { ...everything, side: 'left' as const },
      { ...everything, partner: 'heavier' as const },
      { ...everything, partner: 'lighter' as const },
      { rung: 2 as const, side: 'right' as const, partner: 'even' as const },
    ])
      expect(squad.counts(slice).reps).toBe(reps.filter(asked(slice, weeks, mass)).length);
    expect([-2, 0, 3].map(partnerOfBand)).toEqual(['lighter', 'even', 'heavier']);
  });

  test('leaves out what lies outside the weeks', () => {
    const old = aRep({ at: '2026-01-05T18:00:00Z' });
    const within = asked(everything, { asOf: '2026-03-05', since: '2026-03-02' }, mass);
    expect([old, ...reps].filter(within)).toEqual(reps);
    expect([old, ...reps].filter(asked(everything, { asOf: '2026-01-11' }, mass))).toEqual([old]);
  });
});

describe('current rules out', () => {
  const others = ['ben', 'cleo', 'dan'].flatMap((student) => [
    ...times(40, { student, partner: 'ada' }),
    ...times(6, { student, partner: 'ada', stop: 'c2' }),
    ...times(30, { student, partner: 'ada', side: 'left' }),
    ...times(5, { student, partner: 'ada', side: 'left', stop: 'c2' }),
  ]);
  const notes = (reps: Rep[], more: Parameters<typeof questionOf>[2] = {}) => {
    const question = questionOf(breakdown, [...reps, ...others], more);
    const { students } = fullReading(question, finished(fitAcademy(question.cells, question.mainSides)));
    return notesOf(
      breakdown,
      students.find(({ student }) => student === 'ada')!,
      'Ada',
      'right',
    ).map(({ text }) => text);
  };

  test('is a side that is worse, with both its hold rates', () => {
    const found = notes([
      ...times(50, {}),
      ...times(3, { stop: 'c3' }),
      ...times(25, { side: 'left', stop: 'c3' }),
      ...times(25, { side: 'left' }),
    ]);
    expect(found.join()).toMatch(
      /3 “Point 3” breaks more often with the left lead: it holds \d+ % there and \d+ % with the right \(chance (over )?9\d %\)/,
    );
  });

  test('is a partner whose weight makes the difference', () => {
    const mass = (person: string) => ({ ada: 60, ben: 85, cleo: 45 })[person] ?? 60;
    const found = notes(
      [
        ...times(40, { partner: 'cleo' }),
        ...times(2, { partner: 'cleo', stop: 'c1' }),
        ...times(25, { partner: 'ben', stop: 'c1' }),
        ...times(25, { partner: 'ben' }),
      ],
      { massOf: mass },
    );
    expect(found.join()).toMatch(/1 “Point 1” breaks under a heavier partner/);
  });

  test('is the rung up to which a checkpoint holds', () => {
    const found = notes([
      ...times(50, {}),
      ...times(2, { stop: 'c2' }),
      ...times(30, { rung: 3, stop: 'c2' }),
      ...times(20, { rung: 3 }),
    ]);
    expect(found.join()).toMatch(/2 “Point 2” holds up to rung 2 \(\d+ %\) and breaks at rung 3 \(\d+ %\)/);
  });

  test('is an early leak that hides a late one', () => {
    const found = notes([...times(70, { stop: 'c1' }), ...times(40, { stop: 'c5' }), ...times(10, {})]);
    expect(found.join()).toMatch(
      /By count, most of Ada’s reps end at 1 “Point 1” \(70\)\. But of the 50 that got as far as 5/,
    );
  });

  test('is nothing where there is little to say', () => {
    expect(notes(times(3, { stop: 'c2' }))).toEqual([]);
  });
});

describe('the prescription in words', () => {
  const wordsFor = (reps: Rep[], of: Breakdown) => {
    const [reading] = plainReading(questionOf(of, reps)).students;
    return prescriptionWords(of, prescribe(of, reading!, { mainSide: 'right' }), 'Ada', 'right');
  };

  test('goes to the root where the stop is only the symptom', () => {
    const rooted = structuredClone(breakdown);
    rooted.checkpoints.forEach((checkpoint) => (checkpoint.after = []));
    rooted.mistakes[4]!.root = 'c2';
    const reps = [...times(40, { stop: 'c5', cause: 'm5' }), ...times(40, {})];
    const { what, why, how } = wordsFor(reps, rooted);
    expect(what).toBe('Ada: correct 2 “Point 2” first.');
    expect(why).toMatch(
      /^It shows at 5 “Point 5”, it starts at 2\. 40 of 80 reps that show it were lost because of 2 \(50 %\): 0 there and 40 later\./,
    );
    expect(how).toMatch(/^Cue: Cue 5\./);
  });

  test('names the defence that ends it, and its answer or that there is none', () => {
    const reps = [...times(40, { stop: 'c2', cause: 'd2' }), ...times(40, {})];
    expect(wordsFor(reps, breakdown).how).toMatch(
      /The partner usually ends it: Defence 2\. No answer is recorded yet/,
    );
    const answered = structuredClone(breakdown);
    answered.defences[1]!.answers = [{ do: 'mend', at: 'c2', how: 'Pin the wrist first.', bait: false }];
    expect(wordsFor(reps, answered).how).toMatch(/Answer: Pin the wrist first\./);
  });
});

test('numbers are said the same way everywhere', () => {
  expect([percent(0.256), range({ low: 0.1, high: 0.249 }), many(1, 'rep'), many(5277, 'rep')]).toEqual([
    '26 %',
    '10–25 %',
    '1 rep',
    '5,277 reps',
  ]);
  expect([sure(0.994), sure(0.91)]).toEqual(['over 99 %', '91 %']);
});
