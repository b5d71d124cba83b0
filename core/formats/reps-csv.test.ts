import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { onlySeen, type Rep } from '../rep';
import { aRep, factId, sayingAllBreakdown, studentIds } from '../test';
import { type Directory, readRepsCsv, repColumns, RepsReader, textOf, writeFaultsCsv, writeRepsCsv } from '.';

const breakdown = sayingAllBreakdown();
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

type Said = Required<Pick<Rep, 'ways' | 'task' | 'met' | 'measured' | 'timed' | 'entry' | 'follows'>>;
const anyRep: fc.Arbitrary<Rep> = fc
  .record({
    note: fc.string({
      maxLength: 40,
      unit: fc.constantFrom('a', '"', ',', ';', '\n', '=', "'", '@', 'é', '-'),
    }),
    soft: fc.subarray(['c1', 'c2']),
    session: fc.option(fc.nat(9).map(factId)),
    partner: fc.option(fc.constantFrom('ben', 'cleo')),
    from: fc.option(fc.constantFrom('c1', 'c2')),
    ending: fc.constantFrom<Parameters<typeof aRep>[0]>(
      { outcome: 'finished' },
      { outcome: 'finished', finish: 'arch' },
      { outcome: 'stopped', stop: 'c3', cause: 'm3' },
      { outcome: 'forced', failed: ['c2', 'c4'] },
      { outcome: 'not judged', heldTo: null },
      { outcome: 'not judged', heldTo: 'c2' },
      { outcome: 'left', heldTo: 'c2', by: 'other' },
      { outcome: 'left', heldTo: 'c2', by: null },
    ),
    said: fc.record<Said>(
      {
        ways: fc.constant(['high']),
        task: fc.constant(['d1', 'd2']),
        met: fc.constant([
          { defence: 'd1', answer: 'across', worked: true },
          { defence: 'd2', answer: null, worked: true },
          { defence: 'd3', answer: null, worked: false, became: 'd4' },
          { defence: 'd4', answer: null, worked: true },
        ]),
        measured: fc.constant([{ checkpoint: 'c2', value: 2.5 }]),
        timed: fc.constant([{ checkpoint: 'c3', seconds: 1.5 }]),
        entry: fc.constant('from-turtle'),
        follows: fc.constantFrom({ rep: factId(3), by: null }, { rep: factId(3), by: 'across' }),
      },
      { requiredKeys: [] },
    ),
  })
  .map(({ ending, note, said, ...fields }) =>
    onlySeen(breakdown, aRep({ ...fields, ...said, ...ending, note: note.trim() })),
  );

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

  test('asks about a value that contradicts its rep, and about observers of another academy', () => {
    const file = [
      'at,technique,student,side,rung,outcome,measured,observer',
      '2026-03-05T18:30:00Z,Test lock,Ada,right,2,finished,c2:9,coach',
      '2026-03-05T18:31:00Z,Test lock,Ada,right,2,finished,c2:3,Wrenlow',
    ].join('\n');
    const { rows, odd, strangers } = readRepsCsv(file, directory);
    expect(rows.map(({ line }) => line)).toEqual([2]);
    expect(odd).toEqual([
      {
        line: 2,
        column: 'measured',
        reason: '"c2" held with 9 finger widths (0 to 4 finger widths): is the value right?',
      },
    ]);
    expect(strangers).toEqual(['Wrenlow']);
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
      'at: "31.02.2026" is not a day of the calendar',
      'at: "2026-11-28 10:00" is in the future: fix this date',
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
    const odd = readRepsCsv([head, good.replace('Ada', 'Ad\uFFFD'), good].join('\n'), directory);
    expect(odd.rows.map(({ line }) => line)).toEqual([3]);
    expect(odd.faults).toMatchObject([{ line: 2, reason: expect.stringMatching(/not in UTF-8/) }]);
  });

  test('says the same in parts, wherever they are cut', () => {
    const messy = [
      `${head},note`,
      `${good},"two\nlines, and a ""quote"""`,
      `"a"b${good},`,
      `${good},`,
      `never${good.slice(20)},`,
      `${good},é`,
      `${good},`,
    ];
    const files = ['\n', '\r\n', '\r'].map((end) => `\uFEFF${messy.join(end)}${end}`);
    fc.assert(
      fc.property(fc.constantFrom(...files), fc.array(fc.nat(400), { maxLength: 12 }), (file, cuts) => {
        const at = [0, ...cuts.filter((cut) => cut < file.length).sort((a, b) => a - b), file.length];
        const reader = new RepsReader(directory);
        const read = at.slice(1).map((end, i) => reader.read(file.slice(at[i], end), false));
        read.push(reader.read('', true));
        const whole = readRepsCsv(file, directory);
        expect(read.flatMap(({ rows }) => rows)).toEqual(whole.rows);
        expect(read.flatMap(({ faults }) => faults)).toEqual(whole.faults);
        expect(new Set([...whole.rows, ...whole.faults].map(({ line }) => line)).size).toBe(6);
      }),
    );
  });

  test('keeps no more of a file than what it has not read yet', () => {
    const reader = new RepsReader(directory);
    reader.read(`${head},note\n`, false);
    let rows = 0;
    // A quote that nobody closes: from a certain length on its rows are read one by one.
    const { faults } = reader.read(`${good},"open\n`, false);
    const refused = new Set(faults.map(({ line }) => line));
    for (let i = 0; i < 3000; i++) {
      const read = reader.read(`${good},\n`, false);
      rows += read.rows.length;
      for (const { line } of read.faults) refused.add(line);
    }
    expect(rows).toBeGreaterThan(1000);
    const end = reader.read('', true);
    for (const { line } of end.faults) refused.add(line);
    expect(rows + end.rows.length + refused.size).toBe(3001);
  });

  test('of a quarter of a million lines of nothing is told in one look, not one for every row', () => {
    const { faults } = readRepsCsv('x\n'.repeat(250_000), directory);
    expect(faults).toHaveLength(6);
  });

  test('names its columns as documented', () => {
    expect(repColumns.join()).toBe(
      'id,session,at,technique,edition,student,partner,side,rung,from,to,outcome,stop,soft,cause,observer,source,note,ways,task,met,measured,timed,entry,finish,by,follows,device',
    );
  });
});

describe('the text of a file', () => {
  const read = async (bytes: Uint8Array, size: number) => {
    async function* parts() {
      for (let i = 0; i < bytes.length; i += size) yield await Promise.resolve(bytes.subarray(i, i + size));
    }
    let text = '';
    for await (const part of textOf(parts())) text += part;
    return text;
  };
  const names = 'José, Zoë — 10 €, Łukasz 🥋 日本';

  test.each([1, 2, 3, 5, 64, 1000])('is UTF-8 or UTF-16, in parts of %i', async (size) => {
    expect(await read(new TextEncoder().encode(names), size)).toBe(names);
    const wide = Uint8Array.from(
      [...`\uFEFF${names}`]
        .join('')
        .split('')
        .flatMap((unit) => [unit.charCodeAt(0) % 256, unit.charCodeAt(0) >> 8]),
    );
    expect((await read(wide, size)).replace('\uFEFF', '')).toBe(names);
    expect(await read(new Uint8Array(), size)).toBe('');
  });

  test.each([1, 2, 3, 5, 64, 1000])('or Windows-1252, in parts of %i', async (size) => {
    const plain = 'a'.repeat(70);
    const western = Uint8Array.from(
      [...`${plain}José, Zo`].map((c) => c.charCodeAt(0)).concat(0xeb, 0x20, 0x80),
    );
    expect(await read(western, size)).toBe(`${plain}José, Zoë €`);
  });

  test('is never guessed where it is both: what is wrong in it shows', async () => {
    const both = Uint8Array.from([...new TextEncoder().encode('Zoë '), 0xe9, 0x20]);
    expect(await read(both, 100)).toBe('Zoë \uFFFD ');
  });
});
