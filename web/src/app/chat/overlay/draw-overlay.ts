import type { OverlayView } from '@juncta/contract/chat';
import { messageCardOf, type Rect, type Size } from '@juncta/core/stage';
import { paintEntries } from '../../stage/composer/moving-graphics';
import { chatColumn, drawChatEntries, drawColumn } from '../../stage/dressed/drawn-chat-box';
import type { DrawnEntry } from '../../stage/messages';
import { drawMessageCard } from '../../stage/dressed/drawn-scene';

/** Narrower than this a page is no picture of a programme, but a column of its own. */
const LEAST_ASPECT = 1.2;
/** Of a column's width. */
const [MARGIN, GAP] = [0.04, 0.02];
/** Of a picture's height: as on the programme. */
const PICTURE_GAP = 0.011;

type Seen = Pick<OverlayView, 'dressing' | 'box' | 'lines' | 'card'>;

/** Draws what a page shows, and leaves the rest of the canvas as if it were not there. */
export function drawOverlay(canvas: HTMLCanvasElement, view: Seen): void {
  const { width, height } = canvas;
  const context = canvas.getContext('2d')!;
  context.clearRect(0, 0, width, height);
  if (width === 0 || height === 0) return;
  if (width / height < LEAST_ASPECT) drawInColumn(context, view, { width, height });
  else drawInPicture(context, view, { width, height });
}

/** Where viewers' messages stand on the programme. */
function drawInPicture(context: CanvasRenderingContext2D, view: Seen, size: Size): void {
  const { dressing, box, lines, card } = view;
  const entries = drawChatEntries(lines, box, { dressing, size });
  paintWhole(context, entries, chatColumn(box, size, card !== null), size.height * PICTURE_GAP);
  if (card) paintCard(context, view, size);
}

function drawInColumn(context: CanvasRenderingContext2D, view: Seen, { width, height }: Size): void {
  const { dressing, box, lines, card } = view;
  const margin = Math.round(width * MARGIN);
  const room = width - 2 * margin;
  const paint = (entries: readonly DrawnEntry[], foot: number) => {
    paintWhole(context, entries, { x: margin, y: margin, width: room, height: foot - margin }, width * GAP);
  };
  // A plate made for a wide picture would have letters that nobody reads here.
  const cards = card ? drawColumn([card], { ...box, size: 'large', ground: 'paper' }, dressing, room) : [];
  const foot = height - margin;
  const taken = cards.reduce((sum, { image }) => sum + image.height + margin, 0);
  paint(cards, foot);
  paint(drawColumn(lines, box, dressing, room), foot - taken);
}

/** And lets go of what was drawn for it. */
function paintWhole(
  context: CanvasRenderingContext2D,
  entries: readonly DrawnEntry[],
  rect: Rect,
  gap: number,
): void {
  paintEntries(
    context,
    entries.map(({ image }) => ({ image, share: 1 })),
    rect,
    gap,
  );
  entries.forEach(({ image }) => image.close());
}

function paintCard(context: CanvasRenderingContext2D, { dressing, card }: Seen, size: Size): void {
  const { x, y, width, height } = messageCardOf(size);
  const image = drawMessageCard(card!.author, card!.place, card!.text, { dressing, size });
  context.drawImage(image, x, y, width, height);
  image.close();
}
