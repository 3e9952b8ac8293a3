import { msOfSamples } from './programme-tags';

/**
 * A frame of AAC that holds silence and nothing else takes no more bytes: six with the relay's encoder. The faintest
 * noise, 60 dB below full scale, takes hundreds.
 */
export const SILENT_FRAME_BYTES = 16;

/** Listens to what goes out, frame by frame, without decoding it: whether viewers hear anything. Times in samples. */
export class SilenceDetector {
  private heardAt: number | null = null;

  /** The next frame of what goes out. */
  hear(frame: Uint8Array, at: number): void {
    if (frame.length > SILENT_FRAME_BYTES) this.heardAt = at;
  }

  /** It is meant to be silent here: what follows is judged from here on. */
  rest(at: number): void {
    if (this.heardAt !== null) this.heardAt = at;
  }

  forget(): void {
    this.heardAt = null;
  }

  /** How long nothing has been heard, ms; null: nothing ever was, and it may be meant to be silent. */
  silentMs(at: number): number | null {
    return this.heardAt === null ? null : Math.max(0, msOfSamples(at - this.heardAt));
  }
}
