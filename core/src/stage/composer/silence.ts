/** Less than this is nothing that anybody hears: -50 dBFS. A microphone that is off gives less, an open one in a room more. */
export const SILENCE_PEAK = 10 ** (-50 / 20);

/**
 * Since when the programme is silent.
 *
 * @param before what this gave for the window before; null: something was heard
 * @param peak the highest sample of the latest window, 0 to 1
 * @returns ms on the caller's clock; null: something is heard
 */
export const silentSince = (before: number | null, peak: number, nowMs: number): number | null =>
  peak < SILENCE_PEAK ? (before ?? nowMs) : null;
