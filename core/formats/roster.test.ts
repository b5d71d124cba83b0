import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readRoster, rosterTable } from '.';

const read = (text: string, known: string[] = [], units: 'kg and cm' | 'lb and ft' = 'kg and cm') =>
  readRoster(rosterTable(text), { units, known, idFor: (line) => `s-${line}` });

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
        name: 'Tan, Mo',
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
      { name: 'Tan, Mo', mainSide: 'left' },
    ]);
    expect(read('Ada\nBen\r\nCleo\n').map(({ name, is }) => `${name} ${is}`)).toEqual([
      'Ada new',
      'Ben new',
      'Cleo new',
    ]);
  });

  test('in pounds and feet, as a room measures that does', () => {
    const [one] = read('Name\tWeight\tHeight\tReach\nAda\t140\t5\'7"\t68', [], 'lb and ft');
    expect(one!.student).toMatchObject({ massKg: 63.5, statureCm: 170.2, armSpanCm: 172.7 });
  });

  test('never takes somebody who may be a minor for grown', () => {
    expect(read('Name\tBorn\nAda\t2009')[0]).toMatchObject({
      student: { born: '2009-12-31' },
      says: [expect.stringMatching(/last day/)],
    });
    expect(read('Name\tBorn\nAda\t2009-02')[0]!.student!.born).toBe('2009-02-28');
  });

  test('tells of each row that cannot be read why, and takes the others', () => {
    const text = [
      'Name\tBorn\tWeight\tSide',
      'Ada\t03/04/2001\t64\tright',
      'Ben\t\theavy\tboth',
      '\t2001-01-01\t\t',
      'ada\t\t\t',
      'CLEO\t\t\t',
      'Dan\t\t6400\t',
      'Eve\t\t-\t',
    ].join('\n');
    const rows = read(text, ['Cleo']);
    expect(rows.map(({ line, is }) => `${line} ${is}`)).toEqual([
      '2 refused',
      '3 refused',
      '4 refused',
      '5 refused',
      '6 there',
      '7 refused',
      '8 new',
    ]);
    const said = rows.map(({ says }) => says.join(' '));
    expect(said[0]).toMatch(/can be read two ways/);
    expect(said[1]).toMatch(/“heavy” is not a mass.*“both” is not a side/);
    expect(said[2]).toBe('It has no name.');
    expect(said[3]).toMatch(/twice/);
    expect(said[5]).toMatch(/massKg/);
  });

  test('of whatever it is made, accounts for every row and never throws', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.string({ maxLength: 12 }), { maxLength: 5 }), { maxLength: 12 }),
        (cells) => {
          const text = cells.map((row) => row.join('\t')).join('\n');
          const table = rosterTable(text);
          const rows = readRoster(table, { units: 'kg and cm', known: [], idFor: (line) => `s-${line}` });
          expect(rows.length).toBe(Math.max(0, table.rows.length - (table.headed ? 1 : 0)));
          for (const { is, student, says } of rows)
            expect(is === 'new' ? student !== null : says.length > 0).toBe(true);
        },
      ),
    );
  });
});
