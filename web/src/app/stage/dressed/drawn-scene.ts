import type { Dressing } from '@juncta/core/dressing';
import {
  BUG_LAYER,
  geometry,
  messageCardOf,
  nameOf,
  withBug,
  type Scene,
  type Size,
  type SourceId,
} from '@juncta/core/stage';
import type { DrawnScene } from '../messages';
import { draw, headingFont } from './paper';
import { paintPlate } from './plate';

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
  const dressed = dressing.bug ? withBug(scene, dressing.bug.corner) : scene;
  const overlays: Record<SourceId, ImageBitmap> = {};
  for (const { source, rect } of geometry(dressed, size)) {
    const { kind, owner } = nameOf(source);
    const person = kind === 'overlay' && people.find(({ id }) => owner === `name/${id}`);
    if (person) overlays[source] = drawPlate(person, rect, dressing);
    if (source === BUG_LAYER) overlays[source] = drawBug(dressing, rect);
  }
  return { scene: dressed, overlays, adjustments };
}

const drawPlate = ({ name, about }: Named, size: Size, dressing: Dressing): ImageBitmap =>
  draw(size, (context) => paintPlate(context, dressing, size, { heading: name, text: about, lines: 1 }));

/** A viewer's message as a lower third of the whole programme: who, where, and up to three lines of what. */
export function drawMessageCard(author: string, place: string, text: string, look: Look): ImageBitmap {
  const card = messageCardOf(look.size);
  return draw(card, (context) =>
    paintPlate(context, look.dressing, card, {
      heading: `${author} · ${place}`,
      text,
      lines: MESSAGE_LINES,
    }),
  );
}

/** Words that always stand in a corner, at its outer edge. */
function drawBug({ bug, palette, faces }: Dressing, size: Size): ImageBitmap {
  const { width, height } = size;
  return draw(size, (context) => {
    if (!bug) return;
    const atRight = bug.corner === 'top_right';
    context.font = headingFont(faces, height * 0.5);
    const words = Math.min(width, context.measureText(bug.text).width + height * 0.7);
    const x = atRight ? width - words : 0;
    context.fillStyle = palette.paper;
    context.fillRect(x, 0, words, height);
    context.fillStyle = palette.accent;
    context.fillRect(atRight ? width - height * 0.1 : 0, 0, height * 0.1, height);
    context.fillStyle = palette.ink;
    context.textBaseline = 'middle';
    context.textAlign = 'center';
    context.fillText(bug.text, x + words / 2, height * 0.54, words - height * 0.4);
  });
}
