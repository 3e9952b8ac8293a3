import { cropToFill, lowerThirdOf, messageCardOf, PROGRAMME, tilesOf, type Rect } from '@juncta/core/stage';
import type { Setting } from '../messages';
import type { Source } from './source';

interface Tile {
  readonly id: string;
  readonly at: Rect;
  /** The frame that was drawn there last; null: none was. */
  drawn: number | null;
}

interface Card {
  readonly image: ImageBitmap;
  /** On this worker's own clock: the page may be hidden. */
  readonly untilMs: number;
}

/**
 * The picture of the programme. It stays from one instant to the next, and only the tiles whose sources brought a new
 * frame are drawn again: cameras give 12 to 30 a second, and bringing one into its tile is the dearest step there
 * is on a computer without a graphics card.
 */
export class Scene {
  readonly canvas = new OffscreenCanvas(PROGRAMME.width, PROGRAMME.height);
  private readonly context = this.canvas.getContext('2d', { alpha: false })!;
  private tiles: Tile[] = [];
  private card: Card | null = null;
  private allAnew = true;

  constructor(
    private readonly backdrop: ImageBitmap,
    private setting: Setting,
    private readonly sources: ReadonlyMap<string, Pick<Source, 'videoFrame' | 'videoFrameNumber'>>,
  ) {
    this.arrange();
  }

  get stage(): readonly string[] {
    return this.setting.stage;
  }

  set(setting: Setting): void {
    for (const [id, plate] of Object.entries(this.setting.plates)) {
      if (setting.plates[id] !== plate) plate.close();
    }
    this.setting = setting;
    this.arrange();
  }

  /** A viewer's message over everything, until then; null takes it off. */
  show(card: Card | null): void {
    this.card?.image.close();
    this.card = card;
    this.allAnew = true;
  }

  draw(nowMs: number): void {
    if (this.card && nowMs >= this.card.untilMs) this.show(null);
    const { allAnew, context } = this;
    this.allAnew = false;
    if (allAnew) context.drawImage(this.backdrop, 0, 0);
    for (const tile of this.tiles) {
      const number = this.sources.get(tile.id)?.videoFrameNumber ?? -1;
      if (!allAnew && tile.drawn === number) continue;
      tile.drawn = number;
      this.drawTile(tile);
      if (!allAnew) this.drawCard(tile.at);
    }
    if (allAnew) this.drawCard(null);
  }

  private arrange(): void {
    const { layout, stage } = this.setting;
    this.tiles = tilesOf(layout, stage.length).map((at, i) => ({ id: stage[i]!, at, drawn: null }));
    this.allAnew = true;
  }

  private drawTile({ id, at }: Tile): void {
    const { context } = this;
    const videoFrame = this.sources.get(id)?.videoFrame ?? null;
    if (videoFrame) {
      const size = { width: videoFrame.displayWidth, height: videoFrame.displayHeight };
      const { x, y, width, height } = cropToFill(size, at);
      context.drawImage(videoFrame, x, y, width, height, at.x, at.y, at.width, at.height);
    } else {
      // Somebody whose picture is missing keeps their place: a dark field, and their name.
      context.fillStyle = '#1b211d';
      context.fillRect(at.x, at.y, at.width, at.height);
    }
    const plate = this.setting.plates[id];
    // A message stands where names would: both at once would be read as one.
    if (!plate || this.card) return;
    const { x, y } = lowerThirdOf(at);
    context.drawImage(plate, x, y);
  }

  /** @param within the part that was drawn under it; what stands beside that is there already */
  private drawCard(within: Rect | null): void {
    if (!this.card) return;
    const { context } = this;
    const { x, y } = messageCardOf();
    if (!within) {
      context.drawImage(this.card.image, x, y);
      return;
    }
    context.save();
    context.beginPath();
    context.rect(within.x, within.y, within.width, within.height);
    context.clip();
    context.drawImage(this.card.image, x, y);
    context.restore();
  }
}
