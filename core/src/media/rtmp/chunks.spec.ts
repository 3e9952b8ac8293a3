import fc from 'fast-check';
import {
  ChunkReader,
  encodeMessage,
  FIRST_CHUNK_BYTES,
  MAX_MESSAGE_BYTES,
  MESSAGE,
  type RtmpMessage,
} from './chunks';

const anyMessage: fc.Arbitrary<RtmpMessage> = fc.record({
  chunkStream: fc.oneof(fc.integer({ min: 3, max: 70 }), fc.integer({ min: 250, max: 65_599 })),
  type: fc.constantFrom(MESSAGE.audioFrame, MESSAGE.videoFrame, MESSAGE.command, MESSAGE.data),
  stream: fc.nat(0xffff_ffff),
  timeMs: fc.oneof(fc.nat(0xffff_ffff), fc.constantFrom(2 ** 24 - 2, 2 ** 24 - 1, 2 ** 24, 2 ** 32 - 1)),
  payload: fc.uint8Array({ maxLength: 700 }),
});
const join = (parts: Uint8Array[]) => Uint8Array.from(parts.flatMap((part) => [...part]));
const chunkSize = (bytes: number): RtmpMessage => ({
  chunkStream: 2,
  type: MESSAGE.setChunkSize,
  stream: 0,
  timeMs: 0,
  payload: Uint8Array.of(bytes >>> 24, (bytes >> 16) & 255, (bytes >> 8) & 255, bytes & 255),
});
const message = (change: Partial<RtmpMessage> = {}): RtmpMessage => ({
  chunkStream: 4,
  type: MESSAGE.videoFrame,
  stream: 1,
  timeMs: 40,
  payload: Uint8Array.of(1, 2, 3),
  ...change,
});

describe('RTMP chunks', () => {
  it('bring messages as they were, in whatever packets the bytes come', () => {
    const cuts = fc.array(fc.integer({ min: 1, max: 400 }), { minLength: 1, maxLength: 20 });
    fc.assert(
      fc.property(fc.array(anyMessage, { maxLength: 5 }), cuts, (sent, packets) => {
        const bytes = join(sent.map((one) => encodeMessage(one, FIRST_CHUNK_BYTES)));
        const reader = new ChunkReader();
        const got: RtmpMessage[] = [];
        for (let at = 0, i = 0; at < bytes.length; i++) {
          const size = packets[i % packets.length]!;
          got.push(...reader.push(bytes.subarray(at, at + size)));
          at += size;
        }
        expect(got).toEqual(sent);
      }),
    );
  });

  it('change their size when the sender says so', () => {
    const long = message({ payload: new Uint8Array(5000).fill(7) });
    const reader = new ChunkReader();
    const bytes = join([encodeMessage(chunkSize(1000), FIRST_CHUNK_BYTES), encodeMessage(long, 1000)]);
    expect(reader.push(bytes)).toEqual([chunkSize(1000), long]);
    expect(bytes.length).toBe(12 + 4 + 12 + 5000 + 4);
  });

  it('of several streams take turns', () => {
    const [one, other] = [
      message({ payload: new Uint8Array(200).fill(1) }),
      message({ chunkStream: 5, payload: new Uint8Array(150).fill(2) }),
    ];
    const [a, b] = [encodeMessage(one, FIRST_CHUNK_BYTES), encodeMessage(other, FIRST_CHUNK_BYTES)];
    const cut = 12 + FIRST_CHUNK_BYTES;
    const turns = join([a.subarray(0, cut), b.subarray(0, cut), a.subarray(cut), b.subarray(cut)]);
    expect(new ChunkReader().push(turns)).toEqual([one, other]);
  });

  it('with short headers take over what the header before them said', () => {
    const full = encodeMessage(message({ timeMs: 1000 }), FIRST_CHUNK_BYTES);
    const sameStream = [0x44, 0, 0, 40, 0, 0, 1, MESSAGE.audioFrame, 9];
    const sameLength = [0x84, 0, 0, 20, 8];
    const sameAll = [0xc4, 7];
    const got = new ChunkReader().push(Uint8Array.from([...full, ...sameStream, ...sameLength, ...sameAll]));
    expect(got.map(({ timeMs, type, payload }) => [timeMs, type, ...payload])).toEqual([
      [1000, MESSAGE.videoFrame, 1, 2, 3],
      [1040, MESSAGE.audioFrame, 9],
      [1060, MESSAGE.audioFrame, 8],
      [1080, MESSAGE.audioFrame, 7],
    ]);
  });

  it('from a sender out of its senses are refused', () => {
    const wrong: number[][] = [
      [0xc5, 1, 2, 3],
      [0x04, 0, 0, 0, 0xff, 0xff, 0xff, 9, 1, 0, 0, 0],
      [...encodeMessage(chunkSize(0), FIRST_CHUNK_BYTES)],
      [
        ...encodeMessage(message({ payload: new Uint8Array(200) }), FIRST_CHUNK_BYTES).subarray(0, 140),
        0x04,
        ...Array<number>(20).fill(0),
      ],
    ];
    for (const bytes of wrong) {
      expect(() => new ChunkReader().push(Uint8Array.from(bytes))).toThrowError(RangeError);
    }
    const many = new ChunkReader();
    expect(() => {
      for (let stream = 3; stream < 200; stream++)
        many.push(encodeMessage(message({ chunkStream: stream }), 128));
    }).toThrowError(RangeError, /too many/);
  });

  it('never break the reader otherwise, whatever comes', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (noise) => {
        try {
          expect(new ChunkReader().push(noise)).toBeInstanceOf(Array);
        } catch (error) {
          expect(error).toBeInstanceOf(RangeError);
        }
      }),
    );
  });

  it('are not made of what cannot be sent', () => {
    const long = new Uint8Array(MAX_MESSAGE_BYTES + 1);
    expect(() => encodeMessage(message({ payload: long }), 128)).toThrowError(RangeError, /at most/);
    expect(() => encodeMessage(message({ chunkStream: 1 }), 128)).toThrowError(RangeError, /chunkStream/);
    expect(() => encodeMessage(message(), 0)).toThrowError(RangeError, /chunkBytes/);
  });
});
