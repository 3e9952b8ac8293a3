import type { FrameMeasures } from '@juncta/core/dressing';
import {
  AS_IT_COMES,
  CHAT_LAYER,
  CLOCK_LAYER,
  contains,
  fitWhole,
  framed,
  gainOf,
  geometry,
  LINK_LAYER,
  MESSAGE_LAYER,
  nameOf,
  overlap,
  placedIn,
  portraitIn,
  SCORE_LAYER,
  TICKER_LAYER,
  tintOf,
  withGraphics,
  withMessage,
  type Adjustment,
  type PlacedLayer,
  type Rect,
  type Size,
  type SourceId,
} from '@juncta/core/stage';
import { imagesOfScene, type DrawnGraphics, type DrawnScene, type DrawnTicker } from '../messages';
import { clockAt, paintClock, paintEntries, paintTicker, tickerAt } from './moving-graphics';
import type { Source } from './source';

interface Layer extends PlacedLayer {
  readonly kind: 'person' | 'screen' | 'overlay';
  readonly adjustment: Adjustment;
  /** What was drawn there last, by its number or its words; null: nothing was. */
  drawn: number | string | null;
  /** When it came into the picture, of graphics; null: it was not drawn yet. */
  sinceMs: number | null;
  /** Of its corners, pixels. */
  readonly radius: number;
  /** The line around it; null: there is none. */
  readonly border: Border | null;
  /** Something else lies under it, wholly or in part. */
  readonly isOverOther: boolean;
}
type Border = NonNullable<FrameMeasures['border']>;

interface Card {
  readonly image: ImageBitmap;
  /** On this worker's own clock: the page may be hidden. */
  readonly untilMs: number;
}

export type SourcesSeen = ReadonlyMap<string, Pick<Source, 'videoFrame' | 'videoFrameNumber'>>;

/** Of the picture's height: between two messages. */
const ENTRY_GAP = 0.011;
/** So long a graphic takes to come in. */
const COMES_IN_MS = 400;

/** Somebody whose picture is missing keeps their place: a dark field, their initials, and their name. */
const MISSING = '#1b211d';

/**
 * The picture of a scene. It stays from one instant to the next, and only what its sources brought anew is drawn again, with
 * what lies over it: cameras give 12 to 30 a second, and bringing a frame into its place is the dearest step there is on a
 * computer without a graphics card.
 */
export class ScenePicture {
  readonly canvas: OffscreenCanvas;
  private readonly context: OffscreenCanvasRenderingContext2D;
  private layers: Layer[] = [];
  private card: Card | null = null;
  private graphics: DrawnGraphics | null = null;
  private chat: readonly ImageBitmap[] = [];
  /** Of the picture that is drawn. */
  private nowMs = 0;
  private allAnew = true;

  /** @param backdrop of any size: it fills the picture */
  constructor(
    private backdrop: ImageBitmap,
    private drawn: DrawnScene,
    private readonly sources: SourcesSeen,
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
  setBackdrop(backdrop: ImageBitmap): void {
    this.backdrop = backdrop;
    this.allAnew = true;
  }

  /** What the desk puts over it. The images stay whose they were. */
  setGraphics(graphics: DrawnGraphics | null): void {
    this.graphics = graphics;
    this.arrange();
  }

  /** Viewers' messages in their column. The images stay whose they were. */
  setChat(entries: readonly ImageBitmap[]): void {
    this.chat = entries;
    this.allAnew = true;
  }

  /** A viewer's message over everything, until then; null takes it off. */
  showMessage(card: Card | null): void {
    this.card?.image.close();
    this.card = card;
    this.arrange();
  }

  draw(nowMs: number): void {
    this.nowMs = nowMs;
    if (this.card && nowMs >= this.card.untilMs) this.showMessage(null);
    for (const layer of this.layers) layer.sinceMs ??= nowMs;
    if (this.allAnew) {
      this.allAnew = false;
      this.drawPart(this.whole);
      return;
    }
    for (const layer of this.layers) {
      if (layer.drawn !== this.numberOf(layer)) this.drawAgain(layer.rect);
    }
  }

  close(): void {
    closeDrawn(this.drawn, null);
    this.card?.image.close();
  }

  private get whole(): Rect {
    return { x: 0, y: 0, ...this.size };
  }

  private arrange(): void {
    const before = new Map(this.layers.map(({ source, sinceMs }) => [source, sinceMs]));
    const { scene } = this.drawn;
    const dressed = this.graphics?.graphics ? withGraphics(scene, this.graphics.graphics) : scene;
    const { frames } = this.drawn;
    const all = geometry(this.card ? withMessage(dressed) : dressed, this.size, frames.space);
    this.layers = all.map((placed, i) => {
      const { kind } = nameOf(placed.source);
      const adjustment = this.drawn.adjustments[placed.source] ?? AS_IT_COMES;
      const sinceMs = before.get(placed.source) ?? null;
      const isFramed = kind !== 'overlay' && !contains(placed.rect, this.whole);
      const isOverOther = all.slice(0, i).some(({ rect }) => overlap(rect, placed.rect));
      return {
        ...placed,
        kind: kind === 'camera' ? 'person' : kind,
        adjustment,
        drawn: null,
        sinceMs,
        radius: isFramed ? frames.radius * this.size.height : 0,
        border: isFramed && frames.border ? frames.border : null,
        isOverOther,
      };
    });
    this.allAnew = true;
  }

  private numberOf({ kind, source, sinceMs, rect }: Layer): number | string {
    if (kind !== 'overlay') return this.sources.get(source)?.videoFrameNumber ?? -1;
    const share = shareIn(sinceMs, this.nowMs);
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
    if (lowest < 0) this.context.drawImage(this.backdrop, 0, 0, this.size.width, this.size.height);
    this.layers.forEach((layer, i) => {
      if (i >= lowest && overlap(layer.rect, part)) this.drawLayer(layer);
      if (contains(part, layer.rect)) layer.drawn = this.numberOf(layer);
    });
  }

  /** Whether nothing is seen through it. */
  private hides({ kind, source, sinceMs, radius, isOverOther }: Layer): boolean {
    const isOpaque = source === TICKER_LAYER || source === SCORE_LAYER || source === CLOCK_LAYER;
    // What is seen beside a round corner stays as it was, unless it moves too.
    if (kind === 'person') return radius === 0 || !isOverOther;
    return isOpaque && shareIn(sinceMs, this.nowMs) === 1;
  }

  private drawLayer(layer: Layer): void {
    if (layer.kind === 'overlay') this.drawOverlay(layer);
    else this.drawFrame(layer);
  }

  /** Within its corners, with its line around it. */
  private drawFrame(layer: Layer): void {
    const { context } = this;
    const { radius, border } = layer;
    const frame = this.sources.get(layer.source)?.videoFrame ?? null;
    const isShown = frame !== null && !layer.adjustment.isHidden;
    const size = frame && { width: frame.displayWidth, height: frame.displayHeight };
    const at = isShown && layer.kind === 'screen' ? fitWhole(size!, layer.rect) : layer.rect;
    if (radius > 0) {
      context.save();
      context.beginPath();
      context.roundRect(at.x, at.y, at.width, at.height, radius);
      context.clip();
    }
    if (isShown) this.paintFrame(layer, frame, at);
    else this.paintMissing(layer);
    if (radius > 0) context.restore();
    if (border) this.paintBorder(at, radius, border);
  }

  private paintBorder(at: Rect, radius: number, { width, colour }: Border): void {
    const { context } = this;
    const line = Math.max(1, Math.round(width * this.size.height));
    context.strokeStyle = colour;
    context.lineWidth = line;
    context.beginPath();
    const [x, y] = [at.x + line / 2, at.y + line / 2];
    context.roundRect(x, y, at.width - line, at.height - line, Math.max(0, radius - line / 2));
    context.stroke();
  }

  private paintMissing({ source, rect }: Layer): void {
    const { context } = this;
    context.fillStyle = MISSING;
    context.fillRect(rect.x, rect.y, rect.width, rect.height);
    const portrait = this.drawn.portraits[source];
    if (!portrait) return;
    const { x, y, width, height } = portraitIn(rect);
    context.drawImage(portrait, x, y, width, height);
  }

  private paintFrame({ adjustment }: Layer, frame: VideoFrame, at: Rect): void {
    const { context } = this;
    const size = { width: frame.displayWidth, height: frame.displayHeight };
    const { x, y, width, height } = framed(size, at, adjustment);
    const { mirror, brightness, contrast } = adjustment;
    const isToned = brightness !== 1 || contrast !== 1;
    if (isToned) context.filter = `brightness(${brightness}) contrast(${contrast})`;
    context.save();
    if (mirror) context.transform(-1, 0, 0, 1, 2 * at.x + at.width, 0);
    context.drawImage(frame, x, y, width, height, at.x, at.y, at.width, at.height);
    context.restore();
    if (isToned) context.filter = 'none';
    const tint = tintOf(adjustment);
    if (!tint) return;
    context.globalCompositeOperation = 'multiply';
    context.fillStyle = `rgb(${tint.join(' ')})`;
    context.fillRect(at.x, at.y, at.width, at.height);
    context.globalCompositeOperation = 'source-over';
  }

  /** Graphics come in from the left, and stay. */
  private drawOverlay(layer: Layer): void {
    const { context } = this;
    const { x, y, width, height } = layer.rect;
    const share = shareIn(layer.sinceMs, this.nowMs);
    if (share === 0) return;
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

  private paintOverlay({ source, sinceMs, rect }: Layer): void {
    const { ticker, clock, score, link } = this.graphics ?? {};
    if (source === TICKER_LAYER && ticker) {
      paintTicker(this.context, ticker, rect, this.tickerAt(ticker, sinceMs, rect));
      return;
    }
    if (source === CLOCK_LAYER && clock) {
      paintClock(this.context, clock, rect, clockAt(clock, Date.now()));
      return;
    }
    if (source === CHAT_LAYER) {
      paintEntries(this.context, this.chat, rect, this.size.height * ENTRY_GAP);
      return;
    }
    const still: Partial<Record<SourceId, ImageBitmap | null>> = {
      [MESSAGE_LAYER]: this.card?.image ?? null,
      [SCORE_LAYER]: score ?? null,
      [LINK_LAYER]: link ?? null,
    };
    const image = still[source] ?? this.drawn.overlays[source];
    if (image) this.context.drawImage(image, rect.x, rect.y, rect.width, rect.height);
  }
}

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
