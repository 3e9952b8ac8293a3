import fc from 'fast-check';
import { decodeAdts } from './adts';
import { oggChecksum, OPUS_PACKET_SAMPLES, OpusPages } from './ogg';

/** Reads pages as RFC 3533 says, and nothing of ours. */
function readPages(bytes: Uint8Array) {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const pages = [];
  for (let at = 0; at < bytes.length;) {
    const segments = bytes[at + 26]!;
    const laces = bytes.subarray(at + 27, at + 27 + segments);
    const length = laces.reduce((sum, lace) => sum + lace, 0);
    const end = at + 27 + segments + length;
    const page = bytes.slice(at, end);
    const checksum = view.getUint32(at + 22, true);
    page.fill(0, 22, 26);
    pages.push({
      mark: String.fromCharCode(...page.subarray(0, 4)),
      first: (page[5]! & 2) !== 0,
      granule: Number(view.getBigUint64(at + 6, true)),
      number: view.getUint32(at + 18, true),
      intact: checksum === oggChecksum(page),
      whole: laces.length > 0 && laces.at(-1)! < 255,
      payload: page.subarray(27 + segments),
    });
    at = end;
  }
  return pages;
}

const join = (parts: readonly Uint8Array[]) => Uint8Array.from(parts.flatMap((part) => [...part]));

describe('Ogg pages', () => {
  it('have the checksum that RFC 3533 names', () => {
    // By the definition: polynomial 0x04c11db7, from 0, most significant bit first.
    const slow = (bytes: Uint8Array) => {
      let crc = 0;
      for (const byte of bytes) {
        for (let bit = 7; bit >= 0; bit--) {
          const top = ((crc >>> 31) ^ (byte >> bit)) & 1;
          crc = ((crc << 1) ^ (top ? 0x04c11db7 : 0)) >>> 0;
        }
      }
      return crc;
    };
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 80 }), (bytes) => expect(oggChecksum(bytes)).toBe(slow(bytes))),
    );
  });

  it('carry each packet whole, numbered, with the samples up to its end', () => {
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ minLength: 1, maxLength: 1300 }), { maxLength: 8 }), (packets) => {
        const writer = new OpusPages(42);
        const pages = readPages(join([writer.headers(), ...packets.map((packet) => writer.packet(packet))]));
        expect(pages.every(({ mark, intact, whole }) => mark === 'OggS' && intact && whole)).toBeTrue();
        expect(pages.map(({ number }) => number)).toEqual(pages.map((_, i) => i));
        expect(pages.map(({ first }) => first)).toEqual(pages.map((_, i) => i === 0));
        expect(pages.slice(2).map(({ payload }) => [...payload])).toEqual(
          packets.map((packet) => [...packet]),
        );
        expect(pages.slice(2).map(({ granule }) => granule)).toEqual(
          packets.map((_, i) => (i + 1) * OPUS_PACKET_SAMPLES),
        );
      }),
    );
  });
});

describe('ADTS', () => {
  const frame = (payload: Uint8Array) => {
    const length = payload.length + 7;
    const head = [
      0xff,
      0xf1,
      0x4c,
      0x80 | (length >> 11),
      (length >> 3) & 0xff,
      ((length & 7) << 5) | 0x1f,
      0xfc,
    ];
    return Uint8Array.from([...head, ...payload]);
  };

  it('gives the frames and their configuration, however the bytes are cut', () => {
    fc.assert(
      fc.property(
        fc.array(fc.uint8Array({ minLength: 1, maxLength: 400 }), { minLength: 1, maxLength: 6 }),
        fc.nat(),
        (payloads, cut) => {
          const bytes = join(payloads.map(frame));
          const at = cut % bytes.length;
          const head = decodeAdts(bytes.subarray(0, at));
          const tail = decodeAdts(bytes.subarray(head.consumed));
          expect([...head.frames, ...tail.frames].map((one) => [...one])).toEqual(
            payloads.map((one) => [...one]),
          );
          // AAC-LC, 48 kHz, two channels: ISO/IEC 14496-3, 1.6.2.1.
          expect([...(head.config ?? tail.config)!]).toEqual([0x11, 0x90]);
        },
      ),
    );
  });

  it('refuses what is something else', () => {
    expect(() => decodeAdts(Uint8Array.of(1, 2, 3, 4, 5, 6, 7, 8))).toThrowError(RangeError);
    expect(() => decodeAdts(Uint8Array.of(0xff, 0xf1, 0x4c, 0x80, 0, 0x1f, 0xfc))).toThrowError(RangeError);
  });
});
