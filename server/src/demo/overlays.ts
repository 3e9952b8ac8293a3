import type { Overlay } from '@juncta/core/dressing';
import type { Transaction } from '../database/connect';
import { keepImage } from '../dressing/images';
import { readImage } from '../dressing/read-image';
import { BENCH_NOTES, PROVING_HOUR } from './scenario';

interface Drawn extends Pick<Overlay, 'id' | 'name' | 'place' | 'width' | 'opacity'> {
  readonly scope: string;
  readonly svg: string;
}

const svg = (width: number, height: number, inside: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${inside}</svg>`;

/** One ear of rye, upright, as leaves on a stalk. */
const ear = Array.from({ length: 6 }, (_, i) => {
  const y = 96 + i * 26;
  return `<ellipse cx="84" cy="${y}" rx="8" ry="20" transform="rotate(-28 84 ${y})"/><ellipse cx="116" cy="${y}" rx="8" ry="20" transform="rotate(28 116 ${y})"/>`;
}).join('');

/** A rule with marks of three lengths, as on the edge of a bench. */
const marks = Array.from({ length: 81 }, (_, i) => {
  const length = i % 10 === 0 ? 40 : i % 5 === 0 ? 28 : 16;
  return `<rect x="${i * 24 - 1}" y="${48 - length}" width="3" height="${length}"/>`;
}).join('');

/** What the two series lay over their programmes: a stamp, and the edge of a bench. */
const DRAWN: readonly Drawn[] = [
  {
    scope: PROVING_HOUR,
    id: 'c1a0b6de-6c1f-4d0a-9a57-0f5c2f6e1d01',
    name: 'Rye stamp',
    place: 'top_left',
    width: 0.1,
    opacity: 1,
    svg: svg(
      200,
      200,
      `<circle cx="100" cy="100" r="97" fill="#b4532a"/><circle cx="100" cy="100" r="87" fill="none" stroke="#fbf4e8" stroke-width="4"/><g fill="#fbf4e8" transform="translate(30 -18) scale(.7)"><ellipse cx="100" cy="76" rx="8" ry="20"/>${ear}<rect x="97" y="90" width="6" height="160"/></g>`,
    ),
  },
  {
    scope: BENCH_NOTES,
    id: 'c1a0b6de-6c1f-4d0a-9a57-0f5c2f6e1d02',
    name: 'Edge of the bench',
    place: 'whole',
    width: 1,
    opacity: 0.9,
    svg: svg(
      1920,
      1080,
      `<g fill="#1d3a4a"><rect y="1064" width="1920" height="16"/><g transform="translate(0 1016)">${marks}</g></g>`,
    ),
  },
];

/** Keeps the demo's overlays, and gives those of a series. */
export async function seedOverlays(tx: Transaction, scope: string, now: number): Promise<Overlay[]> {
  const overlays: Overlay[] = [];
  for (const { scope: of, svg: drawing, ...overlay } of DRAWN) {
    if (of !== scope) continue;
    const image = await keepImage(tx, await readImage(Buffer.from(drawing)), now);
    overlays.push({ ...overlay, image, repeats: false });
  }
  return overlays;
}
