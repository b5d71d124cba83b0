import { describe, expect, test } from '@jest/globals';
import { plainReading, type ReadingSettings } from '../reading';
import { aRep, plainBreakdown, questionOf } from '../test';
import { type ReadingFile, readReadingFile } from '.';

const settings: ReadingSettings = {
  model: 'hazard/1',
  method: 'plain',
  slice: { rung: null, side: null, partner: null },
  asOf: '2026-03-05T20:00:00.000Z',
  since: null,
  weekBegins: 'monday',
  halfLifeDays: 28,
};
const file: ReadingFile = {
  format: 'ulkret.reading/2',
  settings,
  reading: plainReading(questionOf(plainBreakdown(3), [aRep(), aRep({ stop: 'c2' })])),
};
const asFile = (value: unknown): unknown => JSON.parse(JSON.stringify(value));

describe('a reading as a file', () => {
  test('is read back as it was written', () => expect(readReadingFile(asFile(file))).toEqual(file));

  test('of the first form, where the finish rate was called odds, means the same', () => {
    const old = JSON.stringify({ ...file, format: 'ulkret.reading/1' }).replaceAll(
      'finishRate',
      'finishOdds',
    );
    expect(readReadingFile(JSON.parse(old))).toEqual(file);
  });

  test('of another form is refused', () => {
    expect(() => readReadingFile({ ...file, format: 'ulkret.reading/9' })).toThrow();
    expect(() => readReadingFile(null)).toThrow();
  });
});
