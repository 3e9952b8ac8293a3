import fc from 'fast-check';
import { crc32 } from './crc32';
import { encodeTag, TAG, TAG_FORMAT, type FlvTag } from '../flv';
import { decodePackets, encodePacket, PACKET_FORMAT, type Packet } from './packet';
import { ResyncReader, type FramedFormat } from './resync-reader';

const packet = (number: number, payload: Uint8Array): Packet => ({
  session: '3f2b8c1e-0d4a-4e7b-9c55-7a1e2f30b6d8',
  number,
  track: 'video',
  key: true,
  slate: false,
  timeUs: number * 1000,
  durationUs: 1000,
  payload,
});
const tag = (number: number, body: Uint8Array): FlvTag => ({ kind: TAG.videoFrame, timeMs: number, body });

/** Reads `bytes` in chunks of `chunk` bytes. */
function readAll<T>(format: FramedFormat<T>, bytes: Uint8Array, chunk: number) {
  const reader = new ResyncReader(format);
  const found = [];
  for (let at = 0; at < bytes.length; at += chunk) found.push(...reader.push(bytes.slice(at, at + chunk)));
  found.push(...reader.end());
  return { found, reader };
}
const joined = (parts: readonly Uint8Array[]) => Uint8Array.from(parts.flatMap((part) => [...part]));

const bodies = fc.array(fc.uint8Array({ minLength: 1, maxLength: 90 }), { minLength: 3, maxLength: 12 });
const formats = [
  ['packets', PACKET_FORMAT, packet, encodePacket],
  ['tags', TAG_FORMAT, tag, encodeTag],
] as const as unknown as [
  string,
  FramedFormat<unknown>,
  (n: number, b: Uint8Array) => unknown,
  (item: unknown) => Uint8Array,
][];

for (const [name, format, make, encode] of formats) {
  describe(`a file of ${name}`, () => {
    it('is read whole, in chunks of any size, each with its place', () => {
      fc.assert(
        fc.property(bodies, fc.integer({ min: 1, max: 200 }), (payloads, chunk) => {
          const items = payloads.map((payload, i) => make(i + 1, payload));
          const parts = items.map(encode);
          const { found, reader } = readAll(format, joined(parts), chunk);
          expect(found.map(({ item }) => item)).toEqual(items);
          let at = 0;
          for (const [i, part] of parts.entries()) {
            expect(found[i]!.at).toBe(at);
            at += part.length;
          }
          expect([reader.damagedBytes, reader.tornBytes]).toEqual([0, 0]);
        }),
      );
    });

    it('loses to damage what was damaged, and nothing behind it', () => {
      fc.assert(
        fc.property(
          bodies,
          fc.nat(),
          fc.nat(),
          fc.integer({ min: 1, max: 255 }),
          (payloads, at, where, bits) => {
            const items = payloads.map((payload, i) => make(i + 1, payload));
            const parts = items.map(encode);
            const hit = at % (parts.length - 1);
            // Of a tag only its frame shows damage: a changed body looks like any other.
            const span = name === 'tags' ? 1 : parts[hit]!.length;
            parts[hit]![where % span]! ^= bits;
            const kept = readAll(format, joined(parts), 64).found.map(({ item }) => item);
            for (const [i, item] of items.entries()) {
              if (i !== hit) expect(kept).toContain(item);
            }
          },
        ),
      );
    });

    it('that ends within an item says so, and is whole up to there', () => {
      const parts = [1, 2, 3].map((n) => encode(make(n, Uint8Array.of(n, 7, 7, 7))));
      const bytes = joined(parts).subarray(0, -5);
      const { found, reader } = readAll(format, bytes, 16);
      expect(found.length).toBe(2);
      expect(reader.tornBytes).toBe(parts[2]!.length - 5);
      expect(reader.damagedBytes).toBe(0);
    });

    it('finds an item behind one that claims to be longer than the file', () => {
      const parts = [1, 2, 3].map((n) => encode(make(n, Uint8Array.of(n, 7, 7, 7))));
      // The second byte of each format's length.
      parts[1]![name === 'tags' ? 2 : 46] = 0x20;
      const { found, reader } = readAll(format, joined(parts), 1000);
      expect(found.map(({ item }) => item)).toEqual([1, 3].map((n) => make(n, Uint8Array.of(n, 7, 7, 7))));
      expect(reader.damagedBytes).toBe(parts[1]!.length);
    });
  });
}

describe('a packet', () => {
  for (const [field, at] of [
    ['number', 24],
    ['time', 32],
  ] as const) {
    it(`is refused when its ${field} is not exact`, () => {
      const bytes = encodePacket(packet(1, Uint8Array.of(1)));
      const view = new DataView(bytes.buffer);
      view.setBigUint64(at, 2n ** 64n - 1n);
      view.setUint32(bytes.length - 4, crc32(bytes.subarray(0, -4)));
      expect(decodePackets(bytes).problem).toBe('out_of_range');
    });
  }
});
