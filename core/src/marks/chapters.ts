/** A moment of a show that somebody marked. */
export interface MarkedMoment {
  /** ms from the start of the show. */
  readonly showTimeMs: number;
  /** What it is; empty: nobody said. */
  readonly words: string;
}

/** The shortest chapter that players show as one, ms. */
const LEAST_MS = 1000;
/**
 * A moment is told by the programme's clock, the length by the server's: a programme that came late at first and caught up is
 * so much ahead at the most. What is later belongs to another run.
 */
const CLOCKS_APART_MS = 10_000;

/**
 * Marked moments as chapters in WebVTT (W3C, with the text track kind `chapters`): each from its moment to the next, the
 * last to the end of the show. Those at the same moment are one.
 *
 * @param lengthMs of the show
 * @param unnamed what a moment is called that nobody named, by its number from 1
 */
export function toChapters(
  moments: readonly MarkedMoment[],
  lengthMs: number,
  unnamed: (n: number) => string,
): string {
  const sorted = [...moments]
    .filter(({ showTimeMs }) => showTimeMs >= 0 && showTimeMs < lengthMs + CLOCKS_APART_MS)
    .sort((a, b) => a.showTimeMs - b.showTimeMs);
  const apart = sorted.filter(
    ({ showTimeMs }, i) => i === 0 || showTimeMs - sorted[i - 1]!.showTimeMs >= LEAST_MS,
  );
  const cues = apart.map(({ showTimeMs, words }, i) => {
    const endMs = apart[i + 1]?.showTimeMs ?? Math.max(lengthMs, showTimeMs + LEAST_MS);
    return `${vttTime(showTimeMs)} --> ${vttTime(endMs)}\n${vttText(words) || unnamed(i + 1)}\n\n`;
  });
  return `WEBVTT\n\n${cues.join('')}`;
}

/** As WebVTT writes times: hours may have more than two digits. */
export function vttTime(ms: number): string {
  const two = (n: number) => String(n).padStart(2, '0');
  const [h, m, s] = [ms / 3_600_000, (ms / 60_000) % 60, (ms / 1000) % 60].map(Math.floor);
  return `${two(h!)}:${two(m!)}:${two(s!)}.${String(Math.floor(ms % 1000)).padStart(3, '0')}`;
}

/** A blank line would end the cue, and an arrow would begin another. */
export const vttText = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replace(/\s+/g, ' ').trim();
