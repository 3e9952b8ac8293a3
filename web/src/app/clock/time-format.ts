import { inject, Injectable, LOCALE_ID } from '@angular/core';
import { clockTexts } from './clock.texts';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

/** Times as people read them, in the page's language and 24 hours. Zones are IANA names. */
@Injectable({ providedIn: 'root' })
export class TimeFormat {
  // Plain "en" writes dates the American way round; a 24-hour board goes with day before month.
  private readonly locale = inject(LOCALE_ID).replace(/^en(-US)?$/, 'en-GB');
  private readonly made = new Map<string, Intl.DateTimeFormat>();

  /** The zone of whoever looks. */
  readonly ownZone = Intl.DateTimeFormat().resolvedOptions().timeZone;

  /** `19:00`. */
  time(ms: number, zone = this.ownZone): string {
    return this.format(ms, zone, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' });
  }

  /** `19:00:07`. */
  seconds(ms: number, zone = this.ownZone): string {
    return this.format(ms, zone, { hour: '2-digit', minute: '2-digit', second: '2-digit', hourCycle: 'h23' });
  }

  /** `Thu 26 Nov`; with the year when it is another than now's. */
  day(ms: number, nowMs: number, zone = this.ownZone): string {
    const year = (at: number) => this.format(at, zone, { year: 'numeric' });
    return this.format(ms, zone, {
      weekday: 'short',
      day: 'numeric',
      month: 'short',
      ...(year(ms) === year(nowMs) ? {} : { year: 'numeric' }),
    }).replace(',', '');
  }

  /** `Thursday 26 November 2026`. */
  longDay(ms: number, zone = this.ownZone): string {
    return this.format(ms, zone, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' }).replace(
      ',',
      '',
    );
  }

  /** `26 Nov`. */
  shortDay(ms: number, zone = this.ownZone): string {
    return this.format(ms, zone, { day: 'numeric', month: 'short' });
  }

  /** `Lisbon`, of `Europe/Lisbon`. */
  city(zone: string): string {
    return (zone.split('/').at(-1) ?? zone).replaceAll('_', ' ');
  }

  /** `GMT+1`, of a zone at an instant. */
  offset(ms: number, zone: string): string {
    const parts = new Intl.DateTimeFormat('en', {
      timeZone: zone,
      timeZoneName: 'shortOffset',
    }).formatToParts(ms);
    return parts.find((part) => part.type === 'timeZoneName')?.value ?? '';
  }

  /** How far off a moment is: `in 25 min`, `in 3 days`, `5 min ago`, `now`. */
  distance(ms: number, nowMs: number): string {
    const ahead = ms - nowMs;
    const amount = amountOf(Math.abs(ahead));
    if (amount === null) return clockTexts.now;
    return ahead > 0 ? clockTexts.ahead(amount) : clockTexts.ago(amount);
  }

  /** `1 h 15 min`, of whole minutes. */
  length(minutes: number): string {
    const [h, m] = [Math.floor(minutes / 60), minutes % 60];
    if (h === 0) return clockTexts.minutes(m);
    return m === 0 ? clockTexts.hours(h) : `${clockTexts.hours(h)} ${clockTexts.minutes(m)}`;
  }

  private format(ms: number, timeZone: string, options: Intl.DateTimeFormatOptions): string {
    const key = timeZone + JSON.stringify(options);
    let format = this.made.get(key);
    if (!format) {
      format = new Intl.DateTimeFormat(this.locale, { ...options, timeZone });
      this.made.set(key, format);
    }
    return format.format(ms);
  }
}

/** Rounded so that nobody is told more time than there is; null under half a minute. */
function amountOf(ms: number): string | null {
  if (ms < MINUTE / 2) return null;
  if (ms < HOUR) return clockTexts.minutes(Math.max(1, Math.floor(ms / MINUTE)));
  if (ms < 10 * HOUR) {
    const minutes = Math.floor(ms / MINUTE);
    const [h, m] = [Math.floor(minutes / 60), minutes % 60];
    return m === 0 ? clockTexts.hours(h) : `${clockTexts.hours(h)} ${clockTexts.minutes(m)}`;
  }
  if (ms < 2 * DAY) return clockTexts.hours(Math.floor(ms / HOUR));
  return clockTexts.days(Math.floor(ms / DAY));
}
