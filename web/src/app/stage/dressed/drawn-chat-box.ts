import { toColour, type Dressing } from '@juncta/core/dressing';
import {
  CHAT_LAYER,
  EMPTY_SCENE,
  geometry,
  NO_GRAPHICS,
  withGraphics,
  wrap,
  type ChatBox,
  type Rect,
  type Size,
} from '@juncta/core/stage';
import type { Look } from './drawn-scene';
import { draw, headingFont, textFont, widthOf, type Context } from './paper';

/** A viewer's message as it is written in the picture. */
export interface BoxLine {
  readonly author: string;
  /** Where they watch. */
  readonly place: string;
  readonly text: string;
}

/** A message is cut after so many lines: the picture is no place to read long ones. */
const MOST_LINES = 3;
/** Of the picture's height. */
const TEXT_PX: Readonly<Record<ChatBox['size'], number>> = { small: 0.03, large: 0.038 };
const LEADING = 1.22;
/** Of the text's height: the line of who wrote, with what is left free below it. */
const HEADING = 1.3;

/** Each of some messages on a ground of its own, as wide as the column they stand in. Whoever composes stacks what has room. */
export function drawChatEntries(lines: readonly BoxLine[], box: ChatBox, look: Look): ImageBitmap[] {
  return lines.map((line) => drawEntry(line, box, look));
}

function drawEntry(line: BoxLine, box: ChatBox, { dressing, size }: Look): ImageBitmap {
  const { faces, palette } = dressing;
  const px = Math.round(size.height * TEXT_PX[box.size]);
  const padding = Math.round(px * 0.5);
  const width = chatWidth(box, size);
  const room = width - 2 * padding;
  const font = textFont(faces, px);
  const words = wrap(line.text, MOST_LINES, (one) => widthOf(one, font) <= room);
  const height = Math.ceil(padding * 2 + px * LEADING * words.length + px * HEADING);
  return draw({ width, height }, (context) => {
    context.textBaseline = 'top';
    paintGround(context, dressing, box, { width, height });
    context.fillStyle = box.ground === 'paper' ? palette.ink : palette.paper;
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

function paintGround(context: Context, { palette }: Dressing, { ground }: ChatBox, size: Size): void {
  if (ground === 'none') return;
  const [red, green, blue] = toColour(palette[ground]);
  context.fillStyle = `rgb(${red} ${green} ${blue} / ${ground === 'paper' ? 0.94 : 0.82})`;
  context.fillRect(0, 0, size.width, size.height);
  context.fillStyle = palette.accent;
  context.fillRect(0, 0, Math.max(2, size.width * 0.01), size.height);
}

/** Words without a ground are read over whatever picture by their edge. */
function outline(context: Context, colour: string, px: number): void {
  context.shadowColor = colour;
  context.shadowBlur = px * 0.35;
  context.shadowOffsetY = px * 0.04;
}

/** Of the column, which the layers know. */
function chatWidth(chat: ChatBox, size: Size): number {
  const scene = withGraphics(EMPTY_SCENE, { ...NO_GRAPHICS, chat: { ...chat, isOn: true } });
  return geometry(scene, size).find(({ source }) => source === CHAT_LAYER)!.rect.width;
}
