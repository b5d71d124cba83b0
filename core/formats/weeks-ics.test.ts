import { describe, expect, test } from '@jest/globals';
import ICAL from 'ical.js';
import { aLife, factId } from '../test';
import { weeksIcs } from '.';

// Read back by ical.js, a general reader of RFC 5545.
describe('a student’s weeks as a calendar', () => {
  const now = '2026-03-09T10:00:00.000Z';
  const how =
    'Cue: Elbow; first, always.\nDrill: “Hang on”, 2 × 10 a side, at rung 2, ' + 'slowly '.repeat(30);
  const entries = [
    { life: aLife(1), title: 'Test lock: 3 Point 3', how },
    { life: aLife(2, { state: 'kept', due: '2026-04-02T18:00:00.000Z' }), title: 'Test lock: 1', how },
    { life: aLife(3, { state: 'recheck due', due: '2026-03-01T18:00:00.000Z' }), title: 'Test lock: 2', how },
    { life: aLife(4, { state: 'ended' }), title: 'Test lock: 4', how },
  ];
  const read = (text: string) =>
    new ICAL.Component(ICAL.parse(text) as unknown[]).getAllSubcomponents('vevent').map((one) => {
      const event = new ICAL.Event(one);
      return [
        event.uid,
        event.summary,
        event.startDate.toString(),
        event.endDate.toString(),
        event.description,
      ];
    });

  test('says what is worked on and when the rest is looked at again, each as a whole day', () => {
    expect(read(weeksIcs('Ada', entries, now))).toEqual([
      [`${factId(1)}@ulkret`, 'Work on Test lock: 3 Point 3', '2026-03-09', '2026-03-16', how],
      [`${factId(2)}@ulkret`, 'Recheck: Test lock: 1', '2026-04-02', '2026-04-03', how],
      // Overdue rechecks are on today, not in the past.
      [`${factId(3)}@ulkret`, 'Recheck: Test lock: 2', '2026-03-09', '2026-03-10', how],
    ]);
  });
  test('is the same each time it is fetched, and a calendar also where there is nothing to do', () => {
    expect(weeksIcs('Ada', entries, now)).toBe(weeksIcs('Ada', entries, now));
    expect(read(weeksIcs('Ada', [], now))).toEqual([]);
  });
});
