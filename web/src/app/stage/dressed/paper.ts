import { dressingFontPath } from '@juncta/contract/dressing';
import { familyOf, ownFacesOf, type Dressing, type Face, type OwnFace } from '@juncta/core/dressing';
import type { Size } from '@juncta/core/stage';

export type Context = OffscreenCanvasRenderingContext2D;

/** A picture with nothing behind it. */
export function draw({ width, height }: Size, paint: (context: Context) => void): ImageBitmap {
  const canvas = new OffscreenCanvas(width, height);
  paint(canvas.getContext('2d')!);
  return canvas.transferToImageBitmap();
}

let measuring: Context | undefined;
/** How wide words are in a font, px. */
export function widthOf(words: string, font: string): number {
  const context = (measuring ??= new OffscreenCanvas(1, 1).getContext('2d')!);
  context.font = font;
  return context.measureText(words).width;
}

type Faces = Dressing['faces'];

export const headingFont = ({ heading }: Faces, px: number): string => font(heading, 600, px);
export const textFont = ({ text }: Faces, px: number): string => font(text, 400, px);

const font = (face: Face | OwnFace, weight: number, px: number): string =>
  `${weight} ${Math.round(px)}px "${familyOf(face)}", sans-serif`;

/**
 * Faces load when they are first used; without waiting the first graphics would be drawn in another. One that does not come is
 * no reason to show nothing: its words are drawn in the system's.
 *
 * @param fileOf where own faces are, for pages that nobody is signed in at
 */
export async function loadFaces(dressing: Dressing, fileOf = addressOf): Promise<void> {
  const { faces } = dressing;
  await Promise.allSettled(ownFacesOf(dressing).map((face) => addFace(face, fileOf)));
  await Promise.allSettled([
    document.fonts.load(headingFont(faces, 40)),
    document.fonts.load(textFont(faces, 24)),
  ]);
}

const added = new Set<string>();
/** One file for every weight: a house sends the one that it wants. */
async function addFace(face: OwnFace, fileOf: FileOf): Promise<void> {
  if (added.has(face.id)) return;
  const source = await fileOf(face);
  if (source === null || added.has(face.id)) return;
  added.add(face.id);
  document.fonts.add(new FontFace(familyOf(face), source, { weight: '100 900' }));
}

/** Where a typeface's file is, as CSS says it, or the file itself; null: it is not to be had. */
export type FileOf = (face: OwnFace) => string | ArrayBuffer | null | Promise<string | ArrayBuffer | null>;
const addressOf: FileOf = (face) => `url(${dressingFontPath(face)}) format("woff2")`;
