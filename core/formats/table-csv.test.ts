import { expect, test } from '@jest/globals';
import Papa from 'papaparse';
import { writeTableCsv } from './table-csv';

test('a table as CSV comes back cell by cell, and no cell is a formula', () => {
  const rows = [
    ['Ada, the "first"', 3, null],
    ['two\nlines', 0.5, '=1+1'],
  ];
  const text = writeTableCsv(['who', 'reps', 'note'], rows);
  expect(text.endsWith('\r\n')).toBe(true);
  // RFC 4180: lines end with CRLF, quotes are doubled.
  expect(text.split('\r\n')[1]).toBe('"Ada, the ""first""",3,');
  const { data } = Papa.parse<string[]>(text.trimEnd());
  expect(data).toEqual([
    ['who', 'reps', 'note'],
    ['Ada, the "first"', '3', ''],
    ['two\nlines', '0.5', "'=1+1"],
  ]);
  expect(writeTableCsv(['who'], [])).toBe('who\r\n');
});
