import { BUG_HEIGHTS, measuresOf, type Bug, type Dressing } from '@juncta/core/dressing';
import {
  BUG_LAYER,
  cornerOf,
  fitWhole,
  geometry,
  initialsOf,
  messageCardOf,
  MOST_BUG_WIDTH,
  nameOf,
  portraitIn,
  withBug,
  type Scene,
  type Size,
  type SourceId,
} from '@juncta/core/stage';
import type { DrawnScene } from '../messages';
import { imageFor } from './images';
import { draw, headingFont, widthOf } from './paper';
import { paintPlate, type PlateWords } from './plate';

/**
 * The parts of the programme that hold text. They are drawn here, on the page, which has the faces; the composer only
 * places them.
 */
export interface Named {
  readonly id: string;
  readonly name: string;
  readonly about: string;
}

/** How a show's graphics are drawn. */
export interface Look {
  readonly dressing: Dressing;
  /** Of the programme. */
  readonly size: Size;
}

const MESSAGE_LINES = 3;

/** A scene with its graphics, each as large as it will stand there. */
export function drawScene(
  scene: Scene,
  people: readonly Named[],
  adjustments: DrawnScene['adjustments'],
  { dressing, size }: Look,
): DrawnScene {
  const { bug } = dressing;
  const dressed = bug
    ? withBug(scene, bug.corner, bugWidth(bug, dressing, size), BUG_HEIGHTS[bug.size])
    : scene;
  const overlays: Record<SourceId, ImageBitmap> = {};
  const portraits: Record<SourceId, ImageBitmap> = {};
  const frames = measuresOf(dressing);
  for (const { source, rect } of geometry(dressed, size, frames.space)) {
    const { kind, owner } = nameOf(source);
    const person = kind === 'overlay' && people.find(({ id }) => owner === `name/${id}`);
    if (person) overlays[source] = drawPlate(person, rect, dressing);
    const initials = kind === 'camera' ? initialsOf(people.find(({ id }) => id === owner)?.name ?? '') : '';
    if (initials !== '') portraits[source] = drawPortrait(initials, rect, dressing);
    if (source === BUG_LAYER) overlays[source] = drawBug(dressing, rect);
  }
  return { scene: dressed, overlays, portraits, adjustments, frames };
}

const drawPlate = ({ name, about }: Named, size: Size, dressing: Dressing): ImageBitmap =>
  draw(size, (context) => paintPlate(context, dressing, size, { heading: name, text: about, lines: 1 }));

/** What stands for somebody whose picture is not there. */
function drawPortrait(initials: string, place: Size, { palette, faces }: Dressing): ImageBitmap {
  const { width } = portraitIn({ x: 0, y: 0, ...place });
  return draw({ width, height: width }, (context) => {
    context.fillStyle = palette.accent;
    context.beginPath();
    context.arc(width / 2, width / 2, width / 2, 0, 2 * Math.PI);
    context.fill();
    context.fillStyle = palette.paper;
    context.font = headingFont(faces, width * 0.42);
    context.textAlign = 'center';
    context.textBaseline = 'middle';
    context.fillText(initials, width / 2, width * 0.53, width * 0.8);
  });
}

/** A viewer's message as a lower third of the whole programme: who, where, and up to three lines of what. */
export function drawMessageCard(author: string, place: string, text: string, look: Look): ImageBitmap {
  return drawCard({ heading: `${author} · ${place}`, text, lines: MESSAGE_LINES }, look);
}

/** What a place told of followers and sales: who, and one line of what. */
export const drawNoticeCard = (heading: string, text: string, look: Look): ImageBitmap =>
  drawCard({ heading, text, lines: 1 }, look);

function drawCard(words: PlateWords, { dressing, size }: Look): ImageBitmap {
  const card = messageCardOf(size);
  return draw(card, (context) => paintPlate(context, dressing, card, words));
}

/** As much of the picture's width as the words of the house take, or its logo. */
function bugWidth({ text, logo, size: of }: Bug, { faces }: Dressing, size: Size): number {
  const { height } = cornerOf('top_right', MOST_BUG_WIDTH, 0, size, BUG_HEIGHTS[of]);
  if (logo) return Math.min(MOST_BUG_WIDTH, (logo.width * height) / logo.height / size.width);
  const wide = widthOf(text, headingFont(faces, height * BUG_LETTERS)) + height * BUG_MARGINS;
  return Math.min(MOST_BUG_WIDTH, wide / size.width);
}

/** Of the bug's height. */
const [BUG_LETTERS, BUG_MARGINS, BUG_EDGE] = [0.5, 0.7, 0.1];

/** Words that always stand in a corner, with an edge at its outer side. */
function drawBug({ bug, palette, faces }: Dressing, size: Size): ImageBitmap {
  const { width, height } = size;
  return draw(size, (context) => {
    if (!bug) return;
    const logo = imageFor(bug.logo);
    if (logo) {
      const at = fitWhole(logo, { x: 0, y: 0, width, height });
      context.drawImage(logo, at.x, at.y, at.width, at.height);
    }
    if (bug.logo) return;
    context.fillStyle = palette.paper;
    context.fillRect(0, 0, width, height);
    context.fillStyle = palette.accent;
    const edge = height * BUG_EDGE;
    context.fillRect(bug.corner === 'top_right' ? width - edge : 0, 0, edge, height);
    context.font = headingFont(faces, height * BUG_LETTERS);
    context.fillStyle = palette.ink;
    context.textBaseline = 'middle';
    context.textAlign = 'center';
    context.fillText(bug.text, width / 2, height * 0.54, width - height * 0.4);
  });
}
