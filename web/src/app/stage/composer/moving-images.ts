import { ownLayerOf, type SourceId } from '@juncta/core/stage';
import type { DrawnOverlay } from '../messages';

/** Further behind than this it goes on from now: what was missed is not made up for. */
const MOST_LATE_MS = 100;

/** What is seen of one at the moment. */
export interface SeenImage {
  /** Null: nothing yet. */
  readonly image: ImageBitmap | null;
  /** Another one for every picture there was. */
  readonly number: number;
}

/** The overlays that move, for as long as they are on. All pictures of them show the same frame. */
export class MovingImages {
  private readonly playing = new Map<SourceId, MovingImage>();

  /** Those that are on from now on. One that stays on goes on where it is. */
  follow(overlays: readonly DrawnOverlay[]): void {
    const moving = new Map(
      overlays.flatMap(({ id, moving }) => (moving ? [[ownLayerOf(id), moving] as const] : [])),
    );
    for (const [layer, image] of this.playing)
      if (moving.get(layer)?.imageId !== image.imageId) {
        image.close();
        this.playing.delete(layer);
      }
    for (const [layer, { imageId, file, repeats }] of moving) {
      const image = this.playing.get(layer) ?? new MovingImage(imageId, file);
      image.repeats = repeats;
      this.playing.set(layer, image);
    }
  }

  advance(nowMs: number): void {
    for (const image of this.playing.values()) image.advance(nowMs);
  }

  get(layer: SourceId): SeenImage | undefined {
    return this.playing.get(layer);
  }

  close(): void {
    this.follow([]);
  }
}

/** A picture that moves, decoded a frame ahead of what is seen. */
class MovingImage implements SeenImage {
  repeats = false;
  private readonly decoder: Promise<ImageDecoder | null>;
  image: ImageBitmap | null = null;
  number = 0;
  private next: Decoded | null = null;
  private nextAtMs = -Infinity;
  /** Of the frame that is asked for next. */
  private index = 0;
  private isAsking = false;
  private isClosed = false;

  constructor(
    readonly imageId: string,
    file: Blob,
  ) {
    this.decoder = open(file);
  }

  advance(nowMs: number): void {
    if (this.next && nowMs >= this.nextAtMs) {
      this.image?.close();
      const startedMs = nowMs - this.nextAtMs > MOST_LATE_MS ? nowMs : this.nextAtMs;
      this.nextAtMs = startedMs + this.next.lengthMs;
      this.image = this.next.image;
      this.number += 1;
      this.next = null;
    }
    if (!this.next && !this.isAsking) void this.ask();
  }

  private async ask(): Promise<void> {
    this.isAsking = true;
    const decoder = await this.decoder;
    const frames = decoder?.tracks.selectedTrack?.frameCount ?? 0;
    if (this.index >= frames && this.repeats) this.index = 0;
    // One that has ended is asked again and again whether it repeats by now: that costs nothing.
    if (decoder && this.index < frames && !this.isClosed) {
      const decoded = await decode(decoder, this.index).catch(() => null);
      this.index += 1;
      if (this.isClosed) decoded?.image.close();
      else this.next = decoded;
    }
    this.isAsking = false;
  }

  close(): void {
    this.isClosed = true;
    this.image?.close();
    this.next?.image.close();
    this.image = this.next = null;
    void this.decoder.then((decoder) => decoder?.close());
  }
}

interface Decoded {
  readonly image: ImageBitmap;
  readonly lengthMs: number;
}

/** Null: this browser has no decoder for it, or it is damaged. The overlay is not seen then. */
async function open(file: Blob): Promise<ImageDecoder | null> {
  try {
    const decoder = new ImageDecoder({ data: await file.arrayBuffer(), type: file.type });
    await decoder.completed;
    return decoder;
  } catch {
    return null;
  }
}

/** As it is drawn with the least effort: brought into the canvas's own form once, and not at every place it covers. */
async function decode(decoder: ImageDecoder, frameIndex: number): Promise<Decoded> {
  const { image: frame } = await decoder.decode({ frameIndex });
  try {
    return { image: await createImageBitmap(frame), lengthMs: (frame.duration ?? 0) / 1000 };
  } finally {
    frame.close();
  }
}
