import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020';
import { setAt, Technique } from '../breakdown';
import { plainBreakdown } from '../test';
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
const file = breakdownFileOf([entry('one'), entry('two', 5)]);
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
    expect(items.map(({ is }) => is)).toEqual(['new', 'new']);
    expect(breakdownFileOf(keep)).toEqual(file);
    expect(read(again, ...keep).items.map(({ is }) => is)).toEqual(['same', 'same']);
    expect(read(again, ...keep).keep).toEqual([]);
  });

  test('never overwrites an edition: other content under the same number becomes the next one', () => {
    const changed = setAt(file, ['techniques', 0, 'editions', 0, 'checkpoints', 1, 'title'], 'New');
    const { items, keep } = read(changed, ...file.techniques);
    expect(items.map(({ is, changes }) => [is, changes])).toEqual([
      ['changed', 1],
      ['same', 0],
    ]);
    expect(keep[0]!.editions.map(({ edition }) => edition)).toEqual([2]);
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
    expect(keep.map((one) => one.technique.id)).toEqual(['two']);
    const strange = setAt(file, ['techniques', 1, 'editions', 0, 'technique'], 'one');
    expect(read(strange).items[1]!.faults[0]!.path).toBe('techniques[1].editions[0].technique');
    expect(read(breakdownFileOf([entry('one'), entry('one')])).items[1]!.faults[0]!.reason).toMatch(/twice/);
  });

  test('of another format, or none at all, is refused with what it should be', () => {
    expect(readBreakdownFile({ format: 'x' }, library())).toEqual({
      fault: { path: 'format', reason: 'the format should be "ulkret.breakdown/1"' },
    });
    expect(readBreakdownFile('text', library())).toHaveProperty('fault');
    expect(readBreakdownFile({ format: 'ulkret.breakdown/1' }, library())).toMatchObject({
      fault: { path: 'techniques' },
    });
  });
});
