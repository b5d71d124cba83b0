import ical, { ICalCalendarMethod, ICalEventTransparency } from 'ical-generator';
import { isOpen, type Life } from '../prescription';

/** A correction as a calendar entry: its title, and how it is drilled. */
export interface WeekEntry {
  life: Life;
  /** “Rear strangle: 4 Arm deep under the chin” */
  title: string;
  /** Cue, drill and dose, as words. */
  how: string;
}

/** A name on one line: a line break in it would begin a line of the calendar. */
const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();

const dayMs = 86_400_000;

/** Days that a current correction fills in the calendar: until the next class or two. */
const inWorkDays = 7;

/**
 * A student's weeks as iCalendar (RFC 5545): what is worked on, from today on for a week, and the day on which each thing that
 * is signed off is looked at again. All-day entries, of this student alone; `now` is the instant at which it is asked for.
 */
export function weeksIcs(name: string, entries: readonly WeekEntry[], now: string): string {
  const calendar = ical({
    name: `${oneLine(name)}: what to work on`,
    prodId: { company: 'Ulkret', product: 'weeks' },
    method: ICalCalendarMethod.PUBLISH,
  });
  for (const { life, title, how } of entries) {
    const work = isOpen(life);
    if (!work && life.due === null) continue;
    const due = life.due !== null && life.due > now ? life.due : now;
    const start = work ? now : due;
    calendar.createEvent({
      // The same correction is the same entry, however often the calendar is fetched.
      id: `${life.id}@ulkret`,
      start: new Date(start),
      end: new Date(Date.parse(start) + (work ? inWorkDays : 1) * dayMs),
      allDay: true,
      stamp: new Date(now),
      transparency: ICalEventTransparency.TRANSPARENT,
      summary: oneLine(work ? `Work on ${title}` : `Recheck: ${title}`),
      description: how,
    });
  }
  return calendar.toString();
}
