import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readRoster, type RosterReading, rosterTable } from '.';

const house = {
  units: 'kg and cm',
  ladder: [],
  today: '2026-12-01',
  known: [],
  dates: null,
  masses: null,
  idFor: (line: number) => `s-${line}`,
} as const;
const readAll = (text: string, by: Partial<RosterReading> = {}) =>
  readRoster(rosterTable(text), { ...house, ...by });
const read = (text: string, by: Partial<RosterReading> = {}) => readAll(text, by).rows;
const person = (name: string, born: string | null = null) => ({ name, born });

describe('a list of people', () => {
  test('as it is pasted from a spreadsheet, with heads as people write them', () => {
    const text = [
      'Full name\tDOB\tWeight (kg)\tHeight\tRank\tExperience\tParent\tPhone\tNotes',
      'Ada Quell\t2001-04-05\t64,5\t1,70\t2\t3 years\t\t\tlikes mornings',
      'Tan, Mo\t26.11.2012\t48 kg\t155 cm\t\t5\tIfe Tan\t555-0101\t',
      '',
    ].join('\n');
    expect(rosterTable(text).columns).toEqual([
      'name',
      'born',
      'mass',
      'stature',
      'grade',
      'experience in months',
      'guardian',
      'guardian’s contact',
      null,
    ]);
    const [ada, mo] = read(text);
    expect(ada).toMatchObject({
      line: 2,
      is: 'new',
      student: {
        name: 'Ada Quell',
        born: '2001-04-05',
        massKg: 64.5,
        statureCm: 170,
        grade: 2,
        experienceMonths: 36,
      },
    });
    expect(mo).toMatchObject({
      is: 'new',
      student: {
        name: 'Mo Tan',
        born: '2012-11-26',
        massKg: 48,
        statureCm: 155,
        experienceMonths: 5,
        guardian: { name: 'Ife Tan', contact: '555-0101' },
      },
    });
  });

  test('as CSV with any separator, or as names alone', () => {
    expect(read('name;mass\nAda;64').map(({ student }) => student!.massKg)).toEqual([64]);
    expect(read('\uFEFFName,Side\n"Tan, Mo",l').map(({ student }) => student)).toMatchObject([
      { name: 'Mo Tan', mainSide: 'left' },
    ]);
    expect(read('Ada\nBen\r\nCleo\n').map(({ name, is }) => `${name} ${is}`)).toEqual([
      'Ada new',
      'Ben new',
      'Cleo new',
    ]);
  });

  test('in pounds and feet, as a room measures that does', () => {
    const [one] = read('Name\tWeight\tHeight\tReach\nAda\t140\t5\'7"\t68', { units: 'lb and ft' });
    expect(one!.student).toMatchObject({ massKg: 63.5, statureCm: 170.2, armSpanCm: 172.7 });
  });

  test('never takes somebody who may be a minor for grown', () => {
    expect(read('Name\tBorn\nAda\t2009')[0]).toMatchObject({
      student: { born: '2009-12-31' },
      says: [expect.stringMatching(/last day/)],
    });
    expect(read('Name\tBorn\nAda\t2009-02')[0]!.student!.born).toBe('2009-02-28');
  });

  test('with an odd cell costs that cell, and the person is taken without it', () => {
    const text = [
      'Name\tBorn\tWeight\tSide',
      'Ada\t03/04/2001\t64\tright',
      'Ben\t\theavy\tboth',
      '\t2001-01-01\t\t',
      'ada\t\t\t',
      'CLEO\t\t\t',
      'Dan\t\t6400 kg\t',
      'Eve\tn/a\t-\tunknown',
    ].join('\n');
    const { rows, asks } = readAll(text, { known: [person('Cleo')] });
    expect(rows.map(({ line, is }) => `${line} ${is}`)).toEqual([
      '2 new',
      '3 new',
      '4 refused',
      '5 refused',
      '6 there',
      '7 new',
      '8 new',
    ]);
    expect(rows.map(({ odd }) => odd.map(({ column }) => column))).toEqual([
      [1],
      [2, 3],
      [],
      [],
      [],
      [2],
      [],
    ]);
    expect(rows[0]).toMatchObject({ student: { born: null, massKg: 64, mainSide: 'right' } });
    expect(rows[0]!.odd[0]!.reason).toMatch(/can be read two ways/);
    expect(rows[1]!.odd.map(({ reason }) => reason).join()).toMatch(
      /“heavy” is not a mass.*“both” is not a side/,
    );
    expect(rows[2]!.says.join()).toBe('No name.');
    expect(rows[3]!.says.join()).toMatch(/Twice/);
    expect(rows[5]!.odd[0]!.reason).toMatch(/outside the possible range/);
    expect([...asks]).toEqual(['dates']);
  });

  test('asks once if day or month comes first, and not if the cells show it', () => {
    const dates = (...cells: string[]) =>
      ['Name\tBorn', ...cells.map((cell, i) => `P${i}\t${cell}`)].join('\n');
    const born = (text: string, by: Partial<RosterReading> = {}) =>
      read(text, by).map(({ student }) => student!.born);
    expect(born(dates('03/04/2001', '25/12/99'))).toEqual(['2001-04-03', '1999-12-25']);
    expect(born(dates('03/04/2001', '11/30/1999'))).toEqual(['2001-03-04', '1999-11-30']);
    // Both orders in one column: what is sure is read, the rest is asked.
    const mixed = dates('1/2/95', '25/12/1999', '11/30/1999');
    expect(born(mixed)).toEqual([null, '1999-12-25', '1999-11-30']);
    expect(born(mixed, { dates: 'day first' })).toEqual(['1995-02-01', '1999-12-25', '1999-11-30']);
    expect(born(dates('5 May 1990', 'May 5, 1990', '05-May-90', '05.05.1990', '1990/5/5'))).toEqual(
      Array(5).fill('1990-05-05'),
    );
    expect(read(dates('31.02.1990', '2030-01-01')).flatMap(({ odd }) => odd)).toHaveLength(2);
  });

  test('asks for the unit of a mass that may be either, and reads stones', () => {
    const masses = 'Name\tWeight\nAda\t200\nBen\t12 st 4\nCleo\t64';
    expect(read(masses).map(({ student }) => student!.massKg)).toEqual([null, 78, 64]);
    expect([...readAll(masses).asks]).toEqual(['masses']);
    expect(read(masses, { masses: 'lb' }).map(({ student }) => student!.massKg)).toEqual([90.7, 78, 29]);
  });

  test('with a title above its heads, and the heads again on the next page, has nobody of that name', () => {
    const text = [
      'Members of the Tuesday class\t\t',
      'as of autumn\t\t',
      'First name\tSurname\tBelt',
      'Sam\tOkafor\tblue belt',
      'First name\tSurname\tBelt',
      'Ife\tLund\tteal',
    ].join('\n');
    const rows = read(text);
    expect(rows.map(({ name }) => name)).toEqual(['Sam Okafor', 'Ife Lund']);
    expect(rows[0]!.student!.grade).toBe(1);
    expect(rows[1]!.odd[0]!.reason).toMatch(/is no grade of this academy/);
    expect(read(text, { ladder: ['Start', 'Teal belt'] })[1]!.student!.grade).toBe(1);
  });

  test('has two people of one name where their birthdays differ, and one who is on the roster once', () => {
    const text = 'Name\tBorn\nSam Okafor\t1990-01-01\nOkafor, Sam\t2012-05-05\nSam Okafor\t1990-01-01';
    expect(read(text).map(({ is }) => is)).toEqual(['new', 'new', 'refused']);
    expect(read(text)[1]!.says.join()).toMatch(/birth dates tell them apart/);
    expect(read(text, { known: [person('Sam Okafor', '1990-01-01')] }).map(({ is }) => is)).toEqual([
      'there',
      'new',
      'there',
    ]);
  });

  test('says since when somebody trains', () => {
    const since = (cell: string) => read(`Name\tSince\nAda\t${cell}`)[0]!.student!.experienceMonths;
    expect(['2024-06', 'June 2024', 'since 2024', '3 June 2024', 'n/a'].map(since)).toEqual([
      30,
      30,
      29,
      30,
      null,
    ]);
    expect(read('Name\tExperience\nAda\t5 years\nBen\t')[0]!.student!.experienceMonths).toBe(60);
  });

  test('of whatever it is made, accounts for every row and never throws', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.string({ maxLength: 12 }), { maxLength: 5 }), { maxLength: 12 }),
        (cells) => {
          const text = cells.map((row) => row.join('\t')).join('\n');
          const table = rosterTable(text);
          const { rows } = readRoster(table, house);
          const heads = table.head === null ? null : table.rows[table.head]!.join('\t');
          const people = table.rows.filter(
            (row, i) => table.head === null || (i > table.head && row.join('\t') !== heads),
          );
          expect(rows.length).toBe(people.length);
          for (const { is, student, says } of rows)
            expect(is === 'new' ? student !== null : says.length > 0).toBe(true);
        },
      ),
    );
  });
});
