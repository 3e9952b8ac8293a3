/** Characters that are read in a second, and what it takes to find the text at all. Rules of thumb of subtitling. */
const CHARACTERS_PER_S = 15;
const FINDING_S = 1;
const BOUNDS_S = { least: 3, most: 60 } as const;

/** How long a text stays on screen so that everybody has read it, whole s. */
export function readingSeconds(text: string): number {
  const length = Array.from(text).length;
  const seconds = Math.ceil(FINDING_S + length / CHARACTERS_PER_S);
  return Math.min(BOUNDS_S.most, Math.max(BOUNDS_S.least, seconds));
}
