import { LINK_ADDRESS_MAX, TICKER_LINE_MAX, TICKER_LINES_MAX, type OnScreenClock } from './graphics';

/** An address as somebody wrote it, with what goes without saying added; null: it is none. */
export function readAddress(written: string): string | null {
  const trimmed = written.trim();
  const whole = /^[a-z][a-z0-9+.-]*:/i.test(trimmed) ? trimmed : `https://${trimmed}`;
  if (!URL.canParse(whole) || whole.length > LINK_ADDRESS_MAX) return null;
  const { protocol, hostname, username } = new URL(whole);
  const isWeb = protocol === 'https:' || protocol === 'http:';
  return isWeb && username === '' && /[^.]\.[^.]/.test(hostname) ? whole : null;
}

/** As it is read: without what a browser adds itself. */
export const addressWords = (address: string): string =>
  address.replace(/^https?:\/\//i, '').replace(/\/$/, '');

/**
 * What a clock on the picture reads. A countdown shows whole seconds that are not over yet, and stays at nought.
 *
 * @returns `H:MM:SS` or `M:SS` of a countdown, `HH:MM` of a time of day
 */
export function clockWords(clock: Pick<OnScreenClock, 'reads' | 'zone' | 'untilMs'>, nowMs: number): string {
  if (clock.reads === 'time_of_day') return timeIn(clock.zone).format(nowMs);
  const left = Math.max(0, Math.ceil(((clock.untilMs ?? nowMs) - nowMs) / 1000));
  const [hours, minutes, seconds] = [Math.floor(left / 3600), Math.floor(left / 60) % 60, left % 60];
  const two = (value: number) => String(value).padStart(2, '0');
  return hours > 0 ? `${hours}:${two(minutes)}:${two(seconds)}` : `${minutes}:${two(seconds)}`;
}

const formats = new Map<string, Intl.DateTimeFormat>();
/** Making a format is dear, and a clock is read with every frame. */
function timeIn(zone: string): Intl.DateTimeFormat {
  const known = formats.get(zone);
  if (known) return known;
  const made = new Intl.DateTimeFormat('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
    timeZone: zone,
  });
  formats.set(zone, made);
  return made;
}

/** So much of the picture's height a ticker runs in a second. A frame's step is whole at 30 and at 60 frames. */
const TICKER_SPEED = 1 / 6;

/**
 * How far a ticker has run since it came on, in pixels of a picture of this height; it begins anew after its whole length.
 *
 * @param length of all its lines, px
 */
export function tickerOffset(sinceMs: number, height: number, length: number): number {
  if (length <= 0) return 0;
  return Math.round((sinceMs / 1000) * height * TICKER_SPEED) % length;
}

/** What somebody wrote as a ticker, a line below another. */
export interface WrittenTicker {
  /** Trimmed, without empty ones. */
  readonly lines: readonly string[];
  /** The first that is longer than {@link TICKER_LINE_MAX}; null: none is. */
  readonly tooLong: string | null;
  /** More than {@link TICKER_LINES_MAX}. */
  readonly tooMany: boolean;
}

export function readTicker(text: string): WrittenTicker {
  const lines = text
    .split('\n')
    .map((line) => line.replaceAll(/\s+/g, ' ').trim())
    .filter((line) => line !== '');
  return {
    lines,
    tooLong: lines.find((line) => line.length > TICKER_LINE_MAX) ?? null,
    tooMany: lines.length > TICKER_LINES_MAX,
  };
}
