import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020';
import before from '../test/breakdowns-1.json' with { type: 'json' };
import { setAt, Technique } from '../breakdown';
import { shippedDrills } from '../drills';
import { plainBreakdown, sayingBreakdown } from '../test';
import {
  BreakdownFile,
  breakdownFileOf,
  breakdownJsonSchema,
  readBreakdownFile,
  type ReadFile,
  type TechniqueInFile,
} from '.';

const technique = (id: string) =>
  Technique.parse({
    id,
    name: `Technique ${id}`,
    aliases: ['other name'],
    kind: 'submission',
    attire: 'gi',
    startPosition: 'Mount',
    mechanism: 'spinal',
    regions: ['neck'],
    ruleTags: ['cloth'],
    loadSpeed: 'fast',
    safetyNote: 'Slowly.',
  });
const entry = (id: string, n = 3): TechniqueInFile => ({
  technique: technique(id),
  editions: [{ ...plainBreakdown(n), technique: id }],
});
/** A technique that uses all that the format can say. */
const saying = (): TechniqueInFile => {
  const one = entry('three', 5);
  const draft = { ...sayingBreakdown(), technique: 'three' };
  Object.assign(draft.checkpoints[1]!, {
    together: 'c3',
    withinSeconds: 2,
    proofs: [{ by: 'see', text: 'Daylight.', shows: 'broken' }],
    tolerance: { what: 'the elbow', is: 'below', of: 'the shoulder line' },
  });
  draft.checkpoints[2]!.tolerance = {
    quantity: 'share',
    unit: 'percent of the limb from the joint',
    low: null,
    high: 60,
    between: 'knee and ankle',
  };
  draft.defences[1]!.task = 'Hide the heel, slowly.';
  const loads = [{ region: 'wrist' as const, whom: 'partner' as const, from: 'c2' }];
  return { technique: { ...one.technique, loads }, editions: [draft] };
};
const file = breakdownFileOf([entry('one'), entry('two', 5), saying()]);
const library =
  (...list: TechniqueInFile[]) =>
  (id: string) =>
    list.find((one) => one.technique.id === id) ?? null;
const read = (given: unknown, ...list: TechniqueInFile[]) =>
  readBreakdownFile(given, library(...list)) as ReadFile;

describe('a file of breakdowns', () => {
  test('is taken by the published schema, read by a general validator; a broken one is not', () => {
    const ajv = new Ajv2020({ strict: false, formats: { date: true } });
    const validate = ajv.compile(breakdownJsonSchema());
    expect(validate(file)).toBe(true);
    expect(validate({ ...file, format: 'other/1' })).toBe(false);
    expect(validate(setAt(file, ['techniques', 0, 'technique', 'kind'], 'spell'))).toBe(false);
    expect(validate(setAt(file, ['techniques', 0, 'editions', 0, 'checkpoints', 0, 'proofs'], 'none'))).toBe(
      false,
    );
  });

  test('comes back exactly', () => {
    const again = JSON.parse(JSON.stringify(file)) as unknown;
    expect(BreakdownFile.parse(again)).toEqual(file);
    const { items, keep } = read(again);
    expect(items.map(({ is }) => is)).toEqual(['new', 'new', 'new']);
    expect(read(again, ...keep).items.map(({ is }) => is)).toEqual(['same', 'same', 'same']);
    expect(breakdownFileOf(keep).techniques.slice(0, 2)).toEqual(file.techniques.slice(0, 2));
    expect(readBreakdownFile(breakdownFileOf(keep), () => null)).toMatchObject({ keep });
    expect(read(again, ...keep).keep).toEqual([]);
  });

  test('never overwrites an edition: other content under the same number becomes the next one', () => {
    const changed = setAt(file, ['techniques', 0, 'editions', 0, 'checkpoints', 1, 'title'], 'New');
    const { items, keep } = read(changed, ...file.techniques);
    expect(items.map(({ is, changes }) => [is, changes])).toEqual([
      ['changed', 1],
      ['same', 0],
      ['same', 0],
    ]);
    expect(keep[0]!.editions.map(({ edition }) => edition)).toEqual([2]);
  });

  test('that says something new under a number between those that are there makes the next one', () => {
    const there = {
      ...entry('one'),
      editions: [1, 5].map((edition) => ({ ...plainBreakdown(3, edition), technique: 'one' })),
    };
    const changed = setAt({ ...plainBreakdown(3, 3), technique: 'one' }, ['checkpoints', 1, 'title'], 'New');
    const { items, keep } = read(breakdownFileOf([{ ...entry('one'), editions: [changed] }]), there);
    expect(items[0]).toMatchObject({ is: 'changed', changes: 1 });
    expect(keep[0]!.editions.map(({ edition, checkpoints }) => [edition, checkpoints[1]!.title])).toEqual([
      [6, 'New'],
    ]);
  });

  test('with faults tells the way to each, and keeps the rest', () => {
    const broken = setAt(
      setAt(file, ['techniques', 0, 'editions', 0, 'mistakes', 0, 'root'], 'nowhere'),
      ['techniques', 0, 'technique', 'name'],
      '',
    );
    const { items, keep } = read(broken);
    expect(items[0]!.is).toBe('refused');
    expect(items[0]!.faults.map(({ path }) => path)).toContain('techniques[0].technique.name');
    expect(keep.map((one) => one.technique.id)).toEqual(['two', 'three']);
    const strange = setAt(file, ['techniques', 1, 'editions', 0, 'technique'], 'one');
    expect(read(strange).items[1]!.faults[0]!.path).toBe('techniques[1].editions[0].technique');
    expect(read(breakdownFileOf([entry('one'), entry('one')])).items[1]!.faults[0]!.reason).toMatch(/twice/);
  });

  test('of the format before is read as it was, and its answers get ids that they keep', () => {
    const old = before as unknown as { techniques: TechniqueInFile[] };
    const { items, keep } = read(old);
    expect(items.map(({ is, faults }) => [is, faults])).toEqual([['new', []]]);
    const [given, after] = [old.techniques[0]!, keep[0]!];
    expect(after.technique).toEqual(given.technique);
    const idsOf = (one: TechniqueInFile) =>
      one.editions[0]!.defences.flatMap(({ answers }) => answers.map(({ id }) => id));
    expect(idsOf(given).some((id) => id === undefined)).toBe(true);
    expect(idsOf(after)).not.toContain(undefined);
    // Without the ids it says what it said.
    const bare = structuredClone(after.editions[0]!);
    for (const { answers } of bare.defences) for (const answer of answers) delete answer.id;
    expect(bare).toEqual(given.editions[0]);
    expect(read(old, ...keep).items.map(({ is }) => is)).toEqual(['same']);
  });

  test('takes along the drills that belong to its breakdowns, and takes in those that are not known', () => {
    const [plain, other] = [shippedDrills[0]!, shippedDrills[1]!];
    const made = { ...plain, id: 'ours', title: 'Ours' };
    made.trains = { ...plain.trains, mistakes: [{ technique: 'one', id: 'm1' }] };
    const named = entry('one');
    const [edition] = named.editions;
    edition!.mistakes = edition!.mistakes.map((one, i) =>
      i === 0 ? { ...one, drills: [other.title] } : one,
    );
    const out = breakdownFileOf([named], { drills: [plain, other, made] });
    expect(out.drills!.map(({ id }) => id)).toEqual([other.id, 'ours']);
    expect(breakdownFileOf([entry('two')], { drills: [plain, other, made] }).drills).toEqual([]);
    const sent = { ...out, drills: [...out.drills!, { ...made, id: 'bad', minutes: -1 }, null] };
    const mine = [{ ...other, cue: 'As we say it.' }];
    const { drills } = (readBreakdownFile(sent, () => null, { drills: mine }) as ReadFile).beside;
    expect(drills.items.map(({ title, is }) => `${title} ${is}`)).toEqual([
      `${other.title} stays`,
      'Ours new',
      'Ours refused',
      'drill 4 refused',
    ]);
    expect(drills.items[2]!.reason).toContain('drills[2].minutes');
    expect(drills.keep).toEqual([made]);
    const known = { drills: [other, made] };
    expect((readBreakdownFile(out, () => null, known) as ReadFile).beside.drills.keep).toEqual([]);
  });

  test('of another format, or none at all, is refused with what it should be', () => {
    expect(readBreakdownFile({ format: 'x' }, library())).toEqual({
      fault: { path: 'format', reason: 'the format should be "ulkret.breakdown/2"' },
    });
    expect(readBreakdownFile('text', library())).toHaveProperty('fault');
    expect(readBreakdownFile({ format: 'ulkret.breakdown/2' }, library())).toMatchObject({
      fault: { path: 'techniques' },
    });
  });
});
