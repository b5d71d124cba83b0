import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Rep } from '../rep';
import { aRep, factId, sayingBreakdown, studentIds } from '../test';
import { type Directory, readRepsCsv, repColumns, writeFaultsCsv, writeRepsCsv } from '.';

const breakdown = sayingBreakdown();
const directory: Directory = {
  breakdown: (technique, edition) =>
    (technique === 'test-lock' || technique === 'Test lock') && (edition ?? 1) === 1 ? breakdown : null,
  student: (name) => studentIds.find((id) => id === name.toLowerCase()) ?? null,
  observer: (name) => (name === 'coach' ? 'coach' : null),
  importer: 'coach',
  zone: 'Europe/Lisbon',
  now: Date.parse('2026-11-27T00:00:00Z'),
  idFor: (text) => factId([...text].reduce((sum, c) => (sum * 31 + c.charCodeAt(0)) % 2 ** 40, 7)),
};

type Said = Required<Pick<Rep, 'ways' | 'task' | 'met' | 'measured' | 'follows'>>;
const anyRep: fc.Arbitrary<Rep> = fc
  .record({
    note: fc.string({
      maxLength: 40,
      unit: fc.constantFrom('a', '"', ',', ';', '\n', '=', "'", '@', 'é', '-'),
    }),
    soft: fc.subarray(['c1', 'c2']),
    session: fc.option(fc.nat(9).map(factId)),
    partner: fc.option(fc.constantFrom('ben', 'cleo')),
    from: fc.option(fc.constant('c1')),
    ending: fc.constantFrom<Parameters<typeof aRep>[0]>(
      { outcome: 'finished' },
      { outcome: 'stopped', stop: 'c3', cause: 'm3' },
      { outcome: 'forced', failed: ['c2', 'c4'] },
      { outcome: 'not judged', heldTo: null },
      { outcome: 'not judged', heldTo: 'c2' },
      { outcome: 'left', heldTo: 'c2', by: 'across' },
      { outcome: 'left', heldTo: 'c2', by: null },
    ),
    said: fc.record<Said>(
      {
        ways: fc.constant(['high']),
        task: fc.constant(['d1', 'd2']),
        met: fc.constant([
          { defence: 'd1', answer: 'across', worked: true },
          { defence: 'd2', answer: null, worked: true },
        ]),
        measured: fc.constant([{ checkpoint: 'c2', value: -2.5 }]),
        follows: fc.constantFrom({ rep: factId(3), by: null }, { rep: factId(3), by: 'across' }),
      },
      { requiredKeys: [] },
    ),
  })
  .map(({ ending, note, said, ...fields }) => aRep({ ...fields, ...said, ...ending, note: note.trim() }));

describe('a file of reps', () => {
  test('is read back exactly as it was written', () => {
    fc.assert(
      fc.property(fc.array(anyRep, { maxLength: 8 }), (reps) => {
        const { rows, faults } = readRepsCsv(writeRepsCsv(reps), directory);
        expect(faults).toEqual([]);
        expect(rows.map(({ rep }) => rep)).toEqual(reps);
      }),
    );
  });

  test('never hands a spreadsheet a formula', () => {
    const csv = writeRepsCsv([aRep({ note: '=1+1' })]);
    expect(csv).toContain("'=1+1");
  });

  const head = 'at,technique,student,partner,side,rung,outcome,stop,cause';
  const good = '2026-03-05T18:30:00Z,Test lock,Ada,ben,right,2,stopped,c2,m2';

  test('with bad rows keeps the good ones and says line, column and reason of each fault', () => {
    const text = [
      head,
      good,
      'yesterday,Test lock,Ada,ben,up,2,stopped,c2,m2',
      '2026-03-05T18:30:00Z,Armbar of doom,Ada,ben,right,2,finished,,',
      good,
      '2026-03-05T18:30:00Z,Test lock,Ada,ada,right,2,finished,,',
      '2026-03-05T18:30:00Z,Test lock,Ada,ben,right,7,stopped,,',
      '2026-03-05T18:30:00Z,Test lock,Ada,ben,right,2,stopped,c9,',
      '2026-03-05T18:30:00Z,Test lock,Ada,ben,right',
    ].join('\n');
    const { rows, faults } = readRepsCsv(text, directory);
    expect(rows.map(({ line }) => line)).toEqual([2, 5]);
    expect(faults.map(({ line, column }) => `${line} ${column}`)).toEqual([
      '3 at',
      '3 side',
      '4 technique',
      '6 partner',
      '7 rung',
      '7 stop',
      '8 stop',
      '9 ',
    ]);
    expect(faults.every(({ reason }) => reason.length > 10)).toBe(true);
    expect(writeFaultsCsv(faults).split('\r\n')[0]).toBe('line,column,reason');
  });

  test('reads what a spreadsheet makes of it: its dates, its commas, and checkpoints by number or title', () => {
    const row = (at: string, rest = 'finished,,') => `${at},Test lock,Ada,ben,right,"2,0",${rest}`;
    const text = [
      head,
      row('2026-07-05 19:30'),
      row('26.11.2026 19:30'),
      row('26/11/2026'),
      row('11/26/2026 8:05'),
      row('2026-03-05T18:30:00Z', 'stopped,2,Mistake 2'),
      row('2026-03-05T18:31:00Z', 'stopped,point 3,'),
    ].join('\n');
    const { rows, faults } = readRepsCsv(text, directory);
    expect(faults).toEqual([]);
    // Lisbon is an hour ahead of UTC in July, and with it in November.
    expect(rows.slice(0, 4).map(({ rep }) => rep.at)).toEqual([
      '2026-07-05T18:30:00.000Z',
      '2026-11-26T19:30:00.000Z',
      '2026-11-26T12:00:00.000Z',
      '2026-11-26T08:05:00.000Z',
    ]);
    expect(rows.every(({ rep }) => rep.rung === 2)).toBe(true);
    expect(rows.slice(4).map(({ rep }) => rep)).toMatchObject([
      { stop: 'c2', cause: 'm2' },
      { stop: 'c3', cause: null },
    ]);
  });

  test('refuses a day that can be read two ways, one that is none, and what has not been yet', () => {
    const row = (at: string) => `${at},Test lock,Ada,ben,right,2,finished,,`;
    const text = [head, row('03/04/2026 18:00'), row('31.02.2026'), row('2026-11-28 10:00')].join('\n');
    const { rows, faults } = readRepsCsv(text, directory);
    expect(rows).toEqual([]);
    expect(faults.map(({ column, reason }) => `${column}: ${reason}`)).toEqual([
      'at: "03/04/2026 18:00" can be read two ways: write 2026-04-03 or 2026-03-04',
      'at: "31.02.2026" is no day of the calendar',
      'at: "2026-11-28 10:00" has not been yet: a rep is logged when it is done',
    ]);
  });

  test('gives a row without an id the same id each time, and equal rows different ones', () => {
    const text = [head, good, good].join('\r\n');
    const once = readRepsCsv(text, directory).rows.map(({ rep }) => rep.id);
    expect(readRepsCsv(text, directory).rows.map(({ rep }) => rep.id)).toEqual(once);
    expect(new Set(once).size).toBe(2);
  });

  test('counts lines over quoted line breaks, and reads semicolons and a byte order mark', () => {
    const text = `\uFEFF${head},note\n${good},"two\nlines"\nnever${good.slice(20)},`.replaceAll(',', ';');
    const { rows, faults } = readRepsCsv(text, directory);
    expect(rows[0]!.rep.note).toBe('two\nlines');
    expect(faults).toMatchObject([{ line: 4, column: 'at' }]);
  });

  test('without a needed column, or without anything, says so and reads nothing', () => {
    expect(readRepsCsv('at,technique\nx,y', directory).faults.map(({ column }) => column)).toEqual([
      'student',
      'side',
      'rung',
      'outcome',
    ]);
    expect(readRepsCsv('', directory).faults).toHaveLength(1);
  });

  test('accounts for every row, whatever ends a line and whatever is wrong with it', () => {
    const rows = Array.from({ length: 50 }, () => good);
    const cr = readRepsCsv([head, ...rows].join('\r'), directory);
    expect(cr.rows.length + new Set(cr.faults.map(({ line }) => line)).size).toBe(50);
    expect(cr.rows).toHaveLength(50);
    const quoted = readRepsCsv([head, ...rows.map((row) => `"a"b${row}`), ...rows].join('\n'), directory);
    expect(quoted.rows.length + new Set(quoted.faults.map(({ line }) => line)).size).toBe(100);
    const piped = readRepsCsv(head.replaceAll(',', '|'), directory);
    expect(piped.faults[0]!.reason).toMatch(/separated by “\|”/);
    expect(readRepsCsv(`${head}\n${good.replace('Ada', 'Ad\uFFFD')}`, directory)).toMatchObject({
      rows: [],
      faults: [
        {
          line: 1,
          reason: 'the file is not in UTF-8: save it as “CSV UTF-8” and read it again; nothing was read',
        },
      ],
    });
  });

  test('of a quarter of a million lines of nothing is told in one look, not one for every row', () => {
    const { faults } = readRepsCsv('x\n'.repeat(250_000), directory);
    expect(faults).toHaveLength(6);
  });

  test('names its columns as documented', () => {
    expect(repColumns.join()).toBe(
      'id,session,at,technique,edition,student,partner,side,rung,from,to,outcome,stop,soft,cause,observer,source,note,ways,task,met,measured,by,follows',
    );
  });
});
