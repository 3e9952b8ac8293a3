import {
  AS_IT_COMES,
  CHAT_LAYER,
  CLOCK_LAYER,
  contains,
  gainOf,
  geometry,
  isOwnLayer,
  LINK_LAYER,
  MESSAGE_LAYER,
  nameOf,
  slotKindOf,
  NOTICE_LAYER,
  overlap,
  ownLayerOf,
  placedIn,
  PRODUCT_LAYER,
  SCORE_LAYER,
  TICKER_LAYER,
  withGraphics,
  withMessage,
  withOverlays,
  withoutParts,
  type Rect,
  type Size,
  type SourceId,
} from '@juncta/core/stage';
import {
  CARDS,
  imagesOfScene,
  NONE_DRAWN,
  type CardOf,
  type DrawnBackdrop,
  type DrawnGraphics,
  type DrawnScene,
  type DrawnTicker,
} from '../messages';
import type { ChatColumn } from './chat-column';
import { clockAt, paintBackdrop, paintClock, paintTicker, tickerAt } from './moving-graphics';
import type { SeenImage } from './moving-images';
import { paintFrame, type FramedLayer } from './paint-frame';
import type { Source } from './source';

interface Layer extends FramedLayer {
  readonly kind: 'person' | 'screen' | 'overlay';
  /** What was drawn there last, by its number or its words; null: nothing was. */
  drawn: number | string | null;
  /** When it came into the picture, of graphics; null: it was not drawn yet. */
  sinceMs: number | null;
  /** Something else lies under it, wholly or in part. */
  readonly isOverOther: boolean;
}
interface Card {
  readonly image: ImageBitmap;
  /** On this worker's own clock: the page may be hidden. */
  readonly untilMs: number;
}

export type SeenSource = Pick<Source, 'videoFrame' | 'videoFrameNumber'>;

/** What is seen in a picture and changes by itself. */
export interface Live {
  get(source: SourceId): SeenSource | undefined;
  /** Of an overlay that moves. */
  moving(source: SourceId): SeenImage | undefined;
  readonly chat: Pick<ChatColumn, 'numberAt' | 'paint'>;
}

/** Of the picture's height: between two messages. */
const ENTRY_GAP = 0.011;
/** So long a graphic takes to come in. */
const COMES_IN_MS = 400;

/**
 * The picture of a scene. It stays from one instant to the next, and only what its sources brought anew is drawn again, with
 * what lies over it: cameras give 12 to 30 a second, and bringing a frame into its place is the dearest step there is on a
 * computer without a graphics card.
 */
export class ScenePicture {
  readonly canvas: OffscreenCanvas;
  private readonly context: OffscreenCanvasRenderingContext2D;
  private layers: Layer[] = [];
  private readonly cards: Record<CardOf, Card | null> = { message: null, notice: null };
  private graphics: DrawnGraphics | null = null;
  /** What of the picture nobody stands in. */
  private bare: readonly Rect[] = [];
  private passed = 0;
  /** Of the picture that is drawn. */
  private nowMs = 0;
  private allAnew = true;

  /** @param backdrop of any size: it fills the picture */
  constructor(
    private backdrop: DrawnBackdrop,
    private drawn: DrawnScene,
    private readonly live: Live,
    private size: Size,
  ) {
    this.canvas = new OffscreenCanvas(size.width, size.height);
    this.context = this.canvas.getContext('2d', { alpha: false })!;
    this.arrange();
  }

  /** What has a place in it, seen or waiting for its turn. */
  get placed(): readonly SourceId[] {
    return placedIn(this.drawn.scene);
  }

  /** By which its audio is multiplied while it is in the scene. */
  gainOf(source: SourceId): number {
    return gainOf(this.drawn.adjustments[source] ?? AS_IT_COMES);
  }

  set(drawn: DrawnScene): void {
    closeDrawn(this.drawn, drawn);
    this.drawn = drawn;
    this.arrange();
  }

  resize(size: Size): void {
    this.size = size;
    this.canvas.width = size.width;
    this.canvas.height = size.height;
    this.arrange();
  }

  /** Another one behind everybody. */
  setBackdrop(backdrop: DrawnBackdrop): void {
    this.backdrop = backdrop;
    this.allAnew = true;
  }

  /** What the desk puts over it. The images stay whose they were. */
  setGraphics(graphics: DrawnGraphics | null): void {
    this.graphics = graphics;
    this.arrange();
  }

  /** A viewer's message or a notice over everything, until then; null takes it off. */
  showCard(of: CardOf, card: Card | null): void {
    this.cards[of]?.image.close();
    this.cards[of] = card;
    this.arrange();
  }

  draw(nowMs: number): void {
    this.nowMs = nowMs;
    for (const of of CARDS) {
      const card = this.cards[of];
      if (card && nowMs >= card.untilMs) this.showCard(of, null);
    }
    for (const layer of this.layers) layer.sinceMs ??= nowMs;
    const passed = this.passedAt(nowMs);
    const hasPassed = passed !== this.passed;
    this.passed = passed;
    if (this.allAnew) {
      this.allAnew = false;
      this.drawPart(this.whole);
      return;
    }
    if (hasPassed) for (const part of this.bare) this.drawAgain(part);
    // The largest first: what lies in it is drawn with it.
    const others = this.layers.filter((layer) => layer.drawn !== this.numberOf(layer));
    others.sort((a, b) => areaOf(b.rect) - areaOf(a.rect));
    for (const layer of others) {
      if (layer.drawn !== this.numberOf(layer)) this.drawAgain(layer.rect);
    }
  }

  close(): void {
    closeDrawn(this.drawn, null);
    for (const of of CARDS) this.cards[of]?.image.close();
  }

  /** How far a backdrop that passes has come, in whole pixels of the picture. */
  private passedAt(nowMs: number): number {
    return Math.round((nowMs / 1000) * this.backdrop.passes * this.size.width);
  }

  private get whole(): Rect {
    return { x: 0, y: 0, ...this.size };
  }

  private arrange(): void {
    const before = new Map(this.layers.map(({ source, sinceMs }) => [source, sinceMs]));
    const { scene } = this.drawn;
    const { graphics, overlays } = this.graphics ?? NONE_DRAWN;
    const dressed = graphics ? withGraphics(withOverlays(scene, overlays), graphics) : scene;
    const card = CARDS.find((of) => this.cards[of]);
    const { frames } = this.drawn;
    const all = geometry(card ? withMessage(dressed, CARD_LAYERS[card]) : dressed, this.size, frames.space);
    this.layers = all.map((placed, i) => {
      const { kind } = nameOf(placed.source);
      const adjustment = this.drawn.adjustments[placed.source] ?? AS_IT_COMES;
      const sinceMs = before.get(placed.source) ?? null;
      const isFramed = kind !== 'overlay' && !contains(placed.rect, this.whole);
      const isOverOther = all.slice(0, i).some(({ rect }) => overlap(rect, placed.rect));
      return {
        ...placed,
        kind: kind === 'overlay' ? kind : slotKindOf(placed.source),
        adjustment,
        drawn: null,
        sinceMs,
        radius: isFramed ? frames.radius * this.size.height : 0,
        border: isFramed && frames.border ? frames.border : null,
        isOverOther,
      };
    });
    const people = this.layers.filter(({ kind }) => kind === 'person').map(({ rect }) => rect);
    this.bare = withoutParts(this.whole, people);
    this.allAnew = true;
  }

  private numberOf({ kind, source, sinceMs, rect }: Layer): number | string {
    if (kind !== 'overlay') return this.live.get(source)?.videoFrameNumber ?? -1;
    const share = shareIn(sinceMs, this.nowMs);
    if (source === CHAT_LAYER) return `${share} ${this.live.chat.numberAt(this.nowMs)}`;
    if (isOwnLayer(source)) return `${share} ${this.live.moving(source)?.number ?? -1}`;
    const { ticker, clock } = this.graphics ?? {};
    if (source === TICKER_LAYER && ticker) return `${share} ${this.tickerAt(ticker, sinceMs, rect)}`;
    if (source === CLOCK_LAYER && clock) return `${share} ${clockAt(clock, Date.now())}`;
    return share;
  }

  private tickerAt(ticker: DrawnTicker, sinceMs: number | null, rect: Rect): number {
    return tickerAt(ticker, this.nowMs - (sinceMs ?? this.nowMs), rect, this.size.height);
  }

  private drawAgain(part: Rect): void {
    const { context } = this;
    context.save();
    context.beginPath();
    context.rect(part.x, part.y, part.width, part.height);
    context.clip();
    this.drawPart(part);
    context.restore();
  }

  /** All that lies in a part of the picture; what somebody's frame hides there need not be drawn. */
  private drawPart(part: Rect): void {
    const lowest = this.layers.findLastIndex((layer) => this.hides(layer) && contains(layer.rect, part));
    if (lowest < 0) paintBackdrop(this.context, this.backdrop, this.passed, this.size);
    this.layers.forEach((layer, i) => {
      if (i >= lowest && overlap(layer.rect, part)) this.drawLayer(layer);
      if (contains(part, layer.rect)) layer.drawn = this.numberOf(layer);
    });
  }

  /** Whether nothing is seen through it. */
  private hides({ kind, source, sinceMs, radius, isOverOther }: Layer): boolean {
    const isOpaque = source === TICKER_LAYER || source === SCORE_LAYER || source === CLOCK_LAYER;
    // What is seen beside a round corner stays as it was, unless it moves too.
    if (kind === 'person') return radius === 0 || (!isOverOther && this.backdrop.passes === 0);
    return isOpaque && shareIn(sinceMs, this.nowMs) === 1;
  }

  private drawLayer(layer: Layer): void {
    if (layer.kind === 'overlay') this.drawOverlay(layer);
    else paintFrame(this.context, layer, this.frameOf(layer), this.drawn.portraits[layer.source], this.size);
  }

  /** Null: there is none, or it is not to be seen. */
  private frameOf({ source, adjustment }: Layer): VideoFrame | null {
    return adjustment.isHidden ? null : (this.live.get(source)?.videoFrame ?? null);
  }

  /** Graphics come in from the left, and stay; what is laid over the picture appears where it is. */
  private drawOverlay(layer: Layer): void {
    const { context } = this;
    const { x, y, width, height } = layer.rect;
    const share = shareIn(layer.sinceMs, this.nowMs);
    if (share === 0) return;
    if (isOwnLayer(layer.source)) {
      this.paintOwn(layer, share);
      return;
    }
    if (share === 1) {
      this.paintOverlay(layer);
      return;
    }
    context.save();
    context.beginPath();
    context.rect(x, y, width * share, height);
    context.clip();
    this.paintOverlay(layer);
    context.restore();
  }

  private paintOwn({ source, rect }: Layer, share: number): void {
    const overlay = this.graphics?.overlays.find(({ id }) => ownLayerOf(id) === source);
    const image = overlay?.still ?? this.live.moving(source)?.image;
    if (!overlay || !image) return;
    this.context.globalAlpha = overlay.opacity * share;
    this.context.drawImage(image, rect.x, rect.y, rect.width, rect.height);
    this.context.globalAlpha = 1;
  }

  private paintOverlay({ source, sinceMs, rect }: Layer): void {
    const { ticker, clock, score, link, product } = this.graphics ?? NONE_DRAWN;
    if (source === TICKER_LAYER && ticker) {
      paintTicker(this.context, ticker, rect, this.tickerAt(ticker, sinceMs, rect));
      return;
    }
    if (source === CLOCK_LAYER && clock) {
      paintClock(this.context, clock, rect, clockAt(clock, Date.now()));
      return;
    }
    if (source === CHAT_LAYER) {
      this.live.chat.paint(this.context, rect, this.size.height * ENTRY_GAP, this.nowMs);
      return;
    }
    const still: Partial<Record<SourceId, ImageBitmap | null>> = {
      [MESSAGE_LAYER]: this.cards.message?.image ?? null,
      [NOTICE_LAYER]: this.cards.notice?.image ?? null,
      [SCORE_LAYER]: score,
      [LINK_LAYER]: link,
      [PRODUCT_LAYER]: product,
    };
    const image = still[source] ?? this.drawn.overlays[source];
    if (image) this.context.drawImage(image, rect.x, rect.y, rect.width, rect.height);
  }
}

const CARD_LAYERS: Readonly<Record<CardOf, SourceId>> = { message: MESSAGE_LAYER, notice: NOTICE_LAYER };

const areaOf = ({ width, height }: Rect): number => width * height;

/** How much of a graphic is there already, 0 to 1: quick at first, and then slower. */
function shareIn(sinceMs: number | null, nowMs: number): number {
  const left = 1 - Math.min(1, Math.max(0, (nowMs - (sinceMs ?? nowMs)) / COMES_IN_MS));
  return 1 - left ** 3;
}

/** Lets go of the words that are not among those that follow. */
function closeDrawn(before: DrawnScene, after: DrawnScene | null): void {
  const kept = after ? imagesOfScene(after) : [];
  for (const image of imagesOfScene(before)) if (!kept.includes(image)) image.close();
}
