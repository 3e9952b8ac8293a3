import {
  geometry,
  messageCardOf,
  nameOf,
  wrap,
  type Scene,
  type Size,
  type SourceId,
} from '@juncta/core/stage';
import type { DrawnScene } from './messages';

/**
 * The parts of the programme that hold text. They are drawn here, on the page, which has the faces; the composer only
 * places them. The house's own plain dressing, until a show brings one.
 */
const PAPER = '#f4efe4';
const INK = '#141a15';
const LINE = '#c8bda4';
const GROUND = '#16201a';
const TRACK = '#24332a';

const NAME_FACE = '600 %px "Barlow Condensed", sans-serif';
const TEXT_FACE = '400 %px "Barlow", sans-serif';
const face = (of: string, px: number) => of.replace('%', String(Math.round(px)));

/** Faces load when they are first used; without waiting the first plates would be drawn in another. */
export async function loadFaces(): Promise<void> {
  await Promise.all([document.fonts.load(face(NAME_FACE, 40)), document.fonts.load(face(TEXT_FACE, 24))]);
}

export interface Named {
  readonly id: string;
  readonly name: string;
  readonly about: string;
}

/** A scene with the lower third of each who is named in it, as large as it will stand there. */
export function drawScene(
  scene: Scene,
  people: readonly Named[],
  adjustments: DrawnScene['adjustments'],
  size: Size,
): DrawnScene {
  const overlays: Record<SourceId, ImageBitmap> = {};
  for (const { source, rect } of geometry(scene, size)) {
    const { kind, owner } = nameOf(source);
    const person = kind === 'overlay' && people.find(({ id }) => owner === `name/${id}`);
    if (person) overlays[source] = drawPlate(person, rect);
  }
  return { scene, overlays, adjustments };
}

function drawPlate({ name, about }: Named, { width, height }: Size): ImageBitmap {
  return draw(width, height, (context) => {
    context.fillStyle = PAPER;
    context.fillRect(0, 0, width, height);
    context.fillStyle = INK;
    context.fillRect(0, height * 0.95, width, height * 0.05);
    const left = Math.max(14, width * 0.04);
    context.textBaseline = 'alphabetic';
    context.font = face(NAME_FACE, height * (about ? 0.44 : 0.56));
    context.fillText(name, left, height * (about ? 0.46 : 0.64), width - 2 * left);
    if (about) {
      context.font = face(TEXT_FACE, height * 0.26);
      context.fillText(about, left, height * 0.8, width - 2 * left);
    }
  });
}

/** A viewer's message as a lower third of the whole programme: who, where, and up to three lines of what. */
export function drawMessageCard(author: string, place: string, text: string, size: Size): ImageBitmap {
  const { width, height } = messageCardOf(size);
  return draw(width, height, (context) => {
    context.fillStyle = PAPER;
    context.fillRect(0, 0, width, height);
    context.fillStyle = INK;
    context.fillRect(0, 0, width * 0.008, height);
    const left = width * 0.028;
    context.textBaseline = 'alphabetic';
    context.font = face(NAME_FACE, height * 0.2);
    context.fillText(`${author} · ${place}`, left, height * 0.26, width - 2 * left);
    context.font = face(TEXT_FACE, height * 0.2);
    const lines = wrap(text, MESSAGE_LINES, (line) => context.measureText(line).width <= width - 2 * left);
    lines.forEach((line, i) => context.fillText(line, left, height * (0.5 + i * 0.2), width - 2 * left));
  });
}
const MESSAGE_LINES = 3;

/** What stands behind everybody: lines that come together and go out again. */
export function drawBackdrop(size: Size): ImageBitmap {
  return draw(size.width, size.height, (context) => paintGround(context, size));
}

/** What viewers see while the programme is away. */
export function drawSlate(title: string, words: string, size: Size): ImageBitmap {
  const { width, height } = size;
  return draw(width, height, (context) => {
    paintGround(context, size);
    context.fillStyle = PAPER;
    context.textAlign = 'center';
    context.font = face(NAME_FACE, height * 0.105);
    context.fillText(words, width / 2, height * 0.48, width * 0.86);
    context.fillStyle = LINE;
    context.font = face(TEXT_FACE, height * 0.05);
    context.fillText(title, width / 2, height * 0.58, width * 0.86);
  });
}

function paintGround(context: OffscreenCanvasRenderingContext2D, { width, height }: Size): void {
  context.fillStyle = GROUND;
  context.fillRect(0, 0, width, height);
  context.strokeStyle = TRACK;
  context.lineWidth = height / 72;
  for (let i = -3; i <= 3; i++) {
    context.beginPath();
    context.moveTo(-20, height / 2 + i * height * 0.18);
    context.bezierCurveTo(
      width * 0.3,
      height / 2 + i * height * 0.18,
      width * 0.3,
      height / 2 + i * height * 0.022,
      width / 2,
      height / 2 + i * height * 0.022,
    );
    context.bezierCurveTo(
      width * 0.7,
      height / 2 + i * height * 0.022,
      width * 0.7,
      height / 2 + i * height * 0.18,
      width + 20,
      height / 2 + i * height * 0.18,
    );
    context.stroke();
  }
}

function draw(
  width: number,
  height: number,
  paint: (context: OffscreenCanvasRenderingContext2D) => void,
): ImageBitmap {
  const canvas = new OffscreenCanvas(width, height);
  paint(canvas.getContext('2d')!);
  return canvas.transferToImageBitmap();
}
