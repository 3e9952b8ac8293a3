/**
 * Ogg pages around Opus packets, so that a decoder outside can read them as they come. RFC 3533 (Ogg), RFC 7845
 * (Opus in Ogg).
 */

/** Samples of one packet of ours: 20 ms, what Opus is made for. */
export const OPUS_PACKET_SAMPLES = 960;
/** What an Opus encoder at 48 kHz looks ahead; a decoder drops as many from the beginning (RFC 7845, 4.2). */
export const OPUS_PRE_SKIP = 312;
/** One packet of 20 ms stereo silence: CELT, full band, one frame, nothing in it (RFC 6716, 3.1 and 2.1.9). */
export const OPUS_SILENCE: Uint8Array = Uint8Array.from([0xfc, 0xff, 0xfe]);

const CONTINUES_NOT = 0;
const FIRST_PAGE = 2;
const HEADER_BYTES = 27;
const SEGMENT_BYTES = 255;
const MAX_SEGMENTS = 255;

const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, i) => {
  let r = i << 24;
  for (let bit = 0; bit < 8; bit++) r = r & 0x8000_0000 ? (r << 1) ^ 0x04c1_1db7 : r << 1;
  return r >>> 0;
});

/** The checksum of Ogg: CRC-32 without reflection, from 0 (RFC 3533, 6). */
export function oggChecksum(bytes: Uint8Array): number {
  let crc = 0;
  for (const byte of bytes) crc = ((crc << 8) ^ CRC_TABLE[(crc >>> 24) ^ byte]!) >>> 0;
  return crc;
}

/** Writes one logical stream of stereo Opus at 48 kHz, one packet to a page: nothing waits for its page to fill. */
export class OpusPages {
  private page = 0;
  private granule = 0;

  /** `serial` tells this stream from others: any number of 32 bits. */
  constructor(private readonly serial: number) {}

  /** The two pages that a stream begins with. */
  headers(): Uint8Array {
    const head = new Uint8Array(19);
    head.set(ascii('OpusHead'));
    const view = new DataView(head.buffer);
    view.setUint8(8, 1);
    view.setUint8(9, 2);
    view.setUint16(10, OPUS_PRE_SKIP, true);
    view.setUint32(12, 48_000, true);
    const vendor = ascii('juncta');
    const tags = new Uint8Array(8 + 4 + vendor.length + 4);
    tags.set(ascii('OpusTags'));
    new DataView(tags.buffer).setUint32(8, vendor.length, true);
    tags.set(vendor, 12);
    const pages = [this.write(head, FIRST_PAGE), this.write(tags, CONTINUES_NOT)];
    return Uint8Array.from(pages.flatMap((page) => [...page]));
  }

  /** The page of one packet of {@link OPUS_PACKET_SAMPLES}. */
  packet(payload: Uint8Array): Uint8Array {
    this.granule += OPUS_PACKET_SAMPLES;
    return this.write(payload, CONTINUES_NOT);
  }

  private write(payload: Uint8Array, flags: number): Uint8Array {
    const segments = Math.floor(payload.length / SEGMENT_BYTES) + 1;
    if (segments > MAX_SEGMENTS) throw new RangeError('an Opus packet must have less than 65,025 bytes');
    const bytes = new Uint8Array(HEADER_BYTES + segments + payload.length);
    const view = new DataView(bytes.buffer);
    bytes.set(ascii('OggS'));
    view.setUint8(5, flags);
    view.setBigUint64(6, BigInt(this.granule), true);
    view.setUint32(14, this.serial >>> 0, true);
    view.setUint32(18, this.page++, true);
    view.setUint8(26, segments);
    bytes.fill(SEGMENT_BYTES, HEADER_BYTES, HEADER_BYTES + segments - 1);
    bytes[HEADER_BYTES + segments - 1] = payload.length % SEGMENT_BYTES;
    bytes.set(payload, HEADER_BYTES + segments);
    view.setUint32(22, oggChecksum(bytes), true);
    return bytes;
  }
}

const ascii = (text: string): Uint8Array => Uint8Array.from(text, (letter) => letter.charCodeAt(0));
