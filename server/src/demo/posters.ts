import sharp from 'sharp';
import type { Queryable } from '../database/connect';
import { keepPicture, uploadOf } from '../listings/pictures';

/** The pictures of the demo's shows: drawn, so that nothing that belongs to anybody is in them. */
export const DEMO_POSTERS = [
  { showId: 'c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f01', ground: '#e8d9b8', stroke: '#6b4a1f', ears: 9 },
  { showId: 'c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f02', ground: '#cfd9d2', stroke: '#24493c', ears: 5 },
] as const;

const [WIDTH, HEIGHT] = [1920, 1200];

/** A field of ears of wheat. */
function drawing({ ground, stroke, ears }: (typeof DEMO_POSTERS)[number]): string {
  const stalks = Array.from({ length: ears }, (_, i) => {
    const x = ((i + 0.5) / ears) * WIDTH;
    const top = 300 + 140 * Math.sin(i * 2.1);
    const grains = Array.from({ length: 7 }, (_grain, g) => {
      const y = top + g * 62;
      const side = (lean: number) =>
        `<ellipse cx="${x + lean * 44}" cy="${y}" rx="20" ry="44" transform="rotate(${lean * 28} ${x + lean * 44} ${y})"/>`;
      return side(-1) + side(1);
    });
    return `<path d="M${x} ${top - 60}V${HEIGHT}" stroke="${stroke}" stroke-width="9"/>${grains.join('')}`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><rect width="100%" height="100%" fill="${ground}"/><g fill="${stroke}">${stalks.join('')}</g></svg>`;
}

export async function hangPoster(db: Queryable, demo: (typeof DEMO_POSTERS)[number]): Promise<void> {
  const { data, info } = await sharp(Buffer.from(drawing(demo)))
    .png()
    .toBuffer({ resolveWithObject: true });
  const { width, height } = info;
  await keepPicture(db, demo.showId, 'show', uploadOf({ width, height, type: 'image/png', bytes: data }));
}
