import type { ChatBox } from './chat-box';
import { hasClock, hasLink, hasProduct, hasTicker, type Graphics } from './graphics';
import type { Corner } from '../layouts';
import { BUG_LAYER, type Layer, type Scene } from '../scene';
import { sourceId, type SourceId } from '../sources';

export const TICKER_LAYER: SourceId = sourceId('overlay', 'ticker');
export const CLOCK_LAYER: SourceId = sourceId('overlay', 'clock');
export const SCORE_LAYER: SourceId = sourceId('overlay', 'score');
export const CHAT_LAYER: SourceId = sourceId('overlay', 'chat');
export const LINK_LAYER: SourceId = sourceId('overlay', 'link');
export const PRODUCT_LAYER: SourceId = sourceId('overlay', 'product');

/** Of the picture's width. */
const CLOCK_WIDTH = 0.12;
const SCORE_WIDTH = 0.42;
const CHAT_WIDTHS: Readonly<Record<ChatBox['size'], number>> = { small: 0.24, large: 0.32 };

/**
 * A scene with the desk's graphics over it: the ticker at its foot; the clock beside the words of the house, the score board in
 * the other upper corner; viewers' messages at one side. None moves another when it comes. One thing stands at the foot at a time:
 * a viewer's message, or what was told of followers and sales, or a product, or a link.
 */
export function withGraphics(scene: Scene, graphics: Graphics): Scene {
  const corner = bugCornerOf(scene);
  const layers: Layer[] = [];
  if (hasTicker(graphics)) layers.push({ source: TICKER_LAYER, place: { by: 'band' } });
  const isFootTaken = scene.layers.some(({ place }) => place.by === 'foot');
  const foot = hasProduct(graphics) ? PRODUCT_LAYER : hasLink(graphics) ? LINK_LAYER : null;
  if (foot && !isFootTaken) layers.push({ source: foot, place: { by: 'foot' } });
  if (graphics.chat.isOn) {
    const { side, size } = graphics.chat;
    layers.push({ source: CHAT_LAYER, place: { by: 'side', side, width: CHAT_WIDTHS[size] } });
  }
  if (hasClock(graphics))
    layers.push({ source: CLOCK_LAYER, place: { by: 'corner', corner, width: CLOCK_WIDTH, scale: 1 } });
  if (graphics.score.isOn)
    layers.push({
      source: SCORE_LAYER,
      place: { by: 'corner', corner: OPPOSITE[corner], width: SCORE_WIDTH, scale: 1 },
    });
  return { ...scene, layers: [...scene.layers, ...layers] };
}

const OPPOSITE: Readonly<Record<Corner, Corner>> = { top_left: 'top_right', top_right: 'top_left' };

/** Where the words of the house stand, or would stand. */
function bugCornerOf({ layers }: Scene): Corner {
  const bug = layers.find(({ source }) => source === BUG_LAYER);
  return bug?.place.by === 'corner' ? bug.place.corner : 'top_right';
}
