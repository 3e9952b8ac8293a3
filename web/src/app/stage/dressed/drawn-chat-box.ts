import { contrast, toColour, type Dressing } from '@juncta/core/dressing';
import {
  CHAT_LAYER,
  EMPTY_SCENE,
  geometry,
  NO_GRAPHICS,
  withGraphics,
  withMessage,
  wrap,
  type BoxLine,
  type ChatBox,
  type Rect,
  type Size,
} from '@juncta/core/stage';
import type { DrawnEntry } from '../messages';
import type { Look } from './drawn-scene';
import { draw, headingFont, textFont, widthOf, type Context } from './paper';

/** A message is cut after so many lines: the picture is no place to read long ones. */
const MOST_LINES = 3;
/** Of the picture's height. */
const TEXT_PX: Readonly<Record<ChatBox['size'], number>> = { small: 0.03, large: 0.038 };
/** Of a column's width. */
const COLUMN_TEXT_PX: Readonly<Record<ChatBox['size'], number>> = { small: 0.05, large: 0.065 };
const LEADING = 1.22;
/** Of the text's height: the line of who wrote, with what is left free below it. */
const HEADING = 1.3;

/** Each of some messages on a ground of its own, as wide as the column they stand in. Whoever composes stacks what has room. */
export function drawChatEntries(lines: readonly BoxLine[], box: BoxLook, look: Look): DrawnEntry[] {
  const { width } = chatColumn(box, look.size);
  const px = Math.round(look.size.height * TEXT_PX[box.size]);
  return keyed(lines, (line) => drawEntry(line, box, look.dressing, { width, px }));
}

/** The same for a column that is all there is: its letters go by its width. */
export function drawColumn(
  lines: readonly BoxLine[],
  box: Pick<BoxLook, 'size' | 'ground' | 'colour'>,
  dressing: Dressing,
  width: number,
): DrawnEntry[] {
  const px = Math.round(width * COLUMN_TEXT_PX[box.size]);
  return keyed(lines, (line) => drawEntry(line, box, dressing, { width, px }));
}

type BoxLook = Pick<ChatBox, 'side' | 'size' | 'ground' | 'colour'>;

/** Each with its own words as its key; whoever writes the same twice is told apart by their turn. */
function keyed(lines: readonly BoxLine[], drawLine: (line: BoxLine) => ImageBitmap): DrawnEntry[] {
  const seen = new Map<string, number>();
  return lines.map((line) => {
    const words = JSON.stringify([line.author, line.place, line.text]);
    const turn = (seen.get(words) ?? 0) + 1;
    seen.set(words, turn);
    return { key: `${turn} ${words}`, image: drawLine(line) };
  });
}

function drawEntry(
  line: BoxLine,
  box: Pick<BoxLook, 'ground' | 'colour'>,
  dressing: Dressing,
  { width, px }: { width: number; px: number },
): ImageBitmap {
  const { faces, palette } = dressing;
  const padding = Math.round(px * 0.5);
  const room = width - 2 * padding;
  const font = textFont(faces, px);
  const words = wrap(line.text, MOST_LINES, (one) => widthOf(one, font) <= room);
  const height = Math.ceil(padding * 2 + px * LEADING * words.length + px * HEADING);
  return draw({ width, height }, (context) => {
    context.textBaseline = 'top';
    paintGround(context, dressing, box, { width, height });
    context.fillStyle = wordsOn(box, dressing);
    if (box.ground === 'none') outline(context, palette.ground, px);
    writeHeading(context, dressing, line, { x: padding, y: padding, width: room, height: px });
    context.font = font;
    words.forEach((one, i) => context.fillText(one, padding, padding + px * (HEADING + LEADING * i), room));
  });
}

/** Who, and in a lighter hand where. */
function writeHeading(
  context: Context,
  { faces }: Dressing,
  { author, place }: BoxLine,
  { x, y, width, height }: Rect,
): void {
  context.font = headingFont(faces, height);
  const wide = Math.min(context.measureText(author).width, width * 0.72);
  context.fillText(author, x, y, wide);
  context.font = textFont(faces, height * 0.8);
  context.fillText(place, x + wide + height * 0.4, y + height * 0.14, width - wide - height * 0.4);
}

/** Whichever of the two words of a dressing is read better on it. */
function wordsOn({ ground, colour }: Pick<BoxLook, 'ground' | 'colour'>, { palette }: Dressing): string {
  const { ink, paper } = palette;
  if (ground === 'own') return contrast(ink, colour) > contrast(paper, colour) ? ink : paper;
  return ground === 'paper' ? ink : paper;
}

function paintGround(
  context: Context,
  { palette }: Dressing,
  { ground, colour }: Pick<BoxLook, 'ground' | 'colour'>,
  size: Size,
): void {
  if (ground === 'none') return;
  const [red, green, blue] = toColour(ground === 'own' ? colour : palette[ground]);
  context.fillStyle = `rgb(${red} ${green} ${blue} / ${SOLID[ground]})`;
  context.fillRect(0, 0, size.width, size.height);
  context.fillStyle = palette.accent;
  context.fillRect(0, 0, Math.max(2, size.width * 0.01), size.height);
}
/** How little is seen through each ground. */
const SOLID = { paper: 0.94, ground: 0.82, own: 0.92 } as const;

/** Words without a ground are read over whatever picture by their edge. */
function outline(context: Context, colour: string, px: number): void {
  context.shadowColor = colour;
  context.shadowBlur = px * 0.35;
  context.shadowOffsetY = px * 0.04;
}

/** Where messages stand in a picture of this size: the layers know. */
export function chatColumn(
  { side, size: letters }: Pick<BoxLook, 'side' | 'size'>,
  size: Size,
  hasCard = false,
): Rect {
  const chat = { ...NO_GRAPHICS.chat, isOn: true, side, size: letters };
  const scene = hasCard ? withMessage(EMPTY_SCENE) : EMPTY_SCENE;
  const placed = geometry(withGraphics(scene, { ...NO_GRAPHICS, chat }), size);
  return placed.find(({ source }) => source === CHAT_LAYER)!.rect;
}
