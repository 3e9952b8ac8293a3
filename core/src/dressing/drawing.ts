/** What makes a drawing unfit to be taken from somebody: it would run something, or fetch something from elsewhere. */
export type DrawingProblem = 'runs' | 'fetches';

const RUNS =
  /<\s*(?:[\w-]+:)?(?:script|foreignObject|handler|listener)\b|[\s"'/]on[a-z]+\s*=|javascript\s*:|<!ENTITY/i;
/** A reference to anything but a part of the drawing itself, or to pixels that it brings along. */
const FETCHES =
  /(?:href|src)\s*=\s*(?:"\s*(?!#|data:image\/(?:png|jpeg|webp|gif);base64,)[^"\s]|'\s*(?!#|data:image\/(?:png|jpeg|webp|gif);base64,)[^'\s])|url\(\s*["']?\s*(?!#|["')])[^)\s]|@import|<\?xml-stylesheet/i;

/**
 * Why a drawing (SVG 2) is refused; null: it is not. What is drawn from it on the server runs and fetches nothing anyway: whoever
 * sends one is to know that something in it will not be seen.
 */
export function findDrawingProblem(svg: string): DrawingProblem | null {
  // Written in another way, a name is still that name.
  const plain = svg.replace(/&#x([0-9a-f]+);|&#(\d+);/gi, (_, hex: string | undefined, decimal: string) =>
    characterOf(hex === undefined ? Number(decimal) : parseInt(hex, 16)),
  );
  if (RUNS.test(plain)) return 'runs';
  return FETCHES.test(plain) ? 'fetches' : null;
}

const characterOf = (code: number): string => (code <= 0x10ffff ? String.fromCodePoint(code) : '');

/** Whether a file is written as SVG, by how it begins. */
export const isDrawing = (head: string): boolean =>
  /^\uFEFF?\s*(?:<\?xml[^>]*\?>\s*)?(?:<!--[\s\S]*?-->\s*|<!DOCTYPE[^>[]*(?:\[[\s\S]*?\])?[^>]*>\s*|<\?xml-stylesheet[^>]*\?>\s*)*<svg[\s>]/i.test(
    head,
  );
