import { Student } from '@ulkret/core/people';

const year = 365.25 * 86_400_000;

type Facts = [
  name: string,
  age: number,
  main: 'right' | 'left',
  months: number,
  stature: number,
  mass: number,
  span: number,
  neck: number,
  chest: number,
  hips: 'low' | 'middle' | 'high',
];

// Invented from end to end: no person is meant.
const people: Facts[] = [
  ['Amara', 27, 'right', 20, 168, 64, 170, 33, 88, 'middle'],
  ['Bastian', 34, 'right', 41, 183, 88, 187, 41, 106, 'low'],
  ['Chiara', 23, 'right', 15, 165, 58, 164, 32, 84, 'high'],
  ['Davor', 38, 'right', 30, 179, 84, 180, 40, 104, 'low'],
  ['Eluned', 31, 'left', 26, 171, 67, 175, 34, 90, 'middle'],
  ['Farid', 29, 'right', 54, 176, 77, 182, 38, 99, 'middle'],
  ['Gudrun', 45, 'right', 62, 174, 72, 174, 35, 94, 'low'],
  ['Hana', 26, 'right', 24, 162, 55, 161, 31, 82, 'high'],
  ['Ilmari', 52, 'right', 88, 181, 91, 184, 42, 110, 'low'],
  ['Jomo', 19, 'right', 11, 177, 73, 186, 37, 95, 'high'],
  ['Katya', 22, 'left', 18, 167, 61, 169, 32, 86, 'middle'],
  ['Leif', 41, 'right', 70, 190, 104, 193, 44, 118, 'low'],
  ['Mireille', 33, 'right', 36, 170, 66, 168, 33, 89, 'middle'],
  ['Nasrin', 15, 'right', 14, 160, 52, 160, 31, 79, 'high'],
  ['Oisin', 24, 'right', 22, 180, 79, 183, 38, 98, 'middle'],
  ['Priya', 28, 'right', 9, 164, 60, 165, 32, 85, 'middle'],
  ['Quang', 36, 'right', 47, 169, 68, 171, 37, 93, 'high'],
  ['Rosalba', 21, 'right', 0, 172, 70, 173, 34, 90, 'middle'],
];

const day = (instant: number): string => new Date(instant).toISOString().slice(0, 10);

/** The eighteen students as they are on the day the demo is loaded: one minor, two open injuries, one newcomer. */
export const squadOf = (now: number): Student[] =>
  people.map(
    ([
      name,
      age,
      mainSide,
      experienceMonths,
      statureCm,
      massKg,
      armSpanCm,
      neckGirthCm,
      chestGirthCm,
      hipMobility,
    ]) =>
      Student.parse({
        id: name.toLowerCase(),
        name,
        born: day(now - (age + 0.4) * year),
        mainSide,
        experienceMonths,
        statureCm,
        massKg,
        armSpanCm,
        neckGirthCm,
        chestGirthCm,
        armGirthCm: Math.round(0.85 * neckGirthCm),
        hipMobility,
        injuries:
          name === 'Gudrun'
            ? [
                {
                  region: 'shoulder',
                  side: 'left',
                  until: day(now + 0.05 * year),
                  note: 'sore after a fall; no straight-arm locks',
                },
              ]
            : name === 'Oisin'
              ? [
                  {
                    region: 'knee',
                    side: 'right',
                    until: day(now + 0.08 * year),
                    note: 'clinician’s note: no twisting',
                  },
                ]
              : [],
        archived: false,
      }),
  );
