import { decodeTags, FLV_HEADER, type FlvTag } from '@juncta/core/media/flv';

/** Longer than any tag that ffmpeg makes of our formats. */
const MOST_REST_BYTES = 16 * 1024 * 1024;

/** The tags of what an ffmpeg writes as FLV, as it writes it. */
export class FlvPipe {
  private rest: Uint8Array = new Uint8Array(0);
  private needsHeader = true;

  /** @returns what has become whole, bodies that may be kept; null: it is no FLV, and nothing that follows is either */
  read(bytes: Uint8Array): readonly FlvTag[] | null {
    let all = this.rest.length === 0 ? bytes : Buffer.concat([this.rest, bytes]);
    if (this.needsHeader) {
      if (all.length < FLV_HEADER.length) {
        this.rest = all;
        return [];
      }
      this.needsHeader = false;
      all = all.subarray(FLV_HEADER.length);
    }
    const { tags, consumed, problem } = decodeTags(all);
    this.rest = all.slice(consumed);
    return problem !== null || this.rest.length > MOST_REST_BYTES ? null : tags;
  }
}
