import { ICalAlarmType, ICalCalendar } from 'ical-generator';

/** A line of a launch sheet as an entry of somebody's calendar. */
export interface CalendarLine {
  readonly id: string;
  readonly what: string;
  readonly by: string;
  readonly dueMs: number;
}

/** Reminded of so long before. */
const ALARM_S = 10 * 60;
const LENGTH_MS = 5 * 60_000;

/** A launch sheet as iCalendar (RFC 5545). What is read again is the same entry, moved. */
export function launchCalendar(
  show: { readonly id: string; readonly title: string; readonly url: string },
  lines: readonly CalendarLine[],
  nowMs: number,
): string {
  const calendar = new ICalCalendar({ name: show.title, prodId: { company: 'Juncta', product: 'Juncta' } });
  for (const { id, what, by, dueMs } of lines) {
    const entry = calendar.createEvent({
      id: `${id.replaceAll(' ', '-')}.${show.id}@juncta`,
      stamp: new Date(nowMs),
      start: new Date(dueMs),
      end: new Date(dueMs + LENGTH_MS),
      summary: what,
      description: `${show.title}. ${by}.`,
      url: show.url,
    });
    entry.createAlarm({ type: ICalAlarmType.display, trigger: ALARM_S, description: what });
  }
  return calendar.toString();
}
