import fc from 'fast-check';
import {
  decodeFile,
  decodeTags,
  encodeTag,
  FLV_HEADER,
  isConfiguration,
  isKeyframe,
  MAX_BODY_BYTES,
  videoTag,
  videoConfigurationTag,
  audioTag,
  audioConfigurationTag,
  TAG,
  TIME_MODULUS,
  unwrapTime,
  type FlvTag,
} from './flv';

const anyTag: fc.Arbitrary<FlvTag> = fc.record({
  kind: fc.constantFrom(TAG.audioFrame, TAG.videoFrame, TAG.data),
  timeMs: fc.integer({ min: 0, max: TIME_MODULUS - 1 }),
  body: fc.uint8Array({ maxLength: 60 }),
});
const join = (parts: Uint8Array[]) => Uint8Array.from(parts.flatMap((part) => [...part]));
const file = (tags: FlvTag[]) => join([FLV_HEADER, ...tags.map(encodeTag)]);

describe('FLV tags', () => {
  it('come back as they were', () => {
    fc.assert(
      fc.property(fc.array(anyTag, { maxLength: 5 }), (tags) => {
        const bytes = file(tags);
        expect(decodeFile(bytes)).toEqual({ tags, consumed: bytes.length, problem: null });
      }),
    );
  });

  it('cut anywhere, give the whole ones before the cut and no problem', () => {
    fc.assert(
      fc.property(fc.array(anyTag, { minLength: 1, maxLength: 3 }), fc.nat(300), (tags, at) => {
        const bytes = file(tags);
        const cut = Math.min(at, bytes.length);
        const got = decodeFile(bytes.subarray(0, cut));
        expect(got.problem).toBeNull();
        expect(got.tags).toEqual(tags.slice(0, got.tags.length));
        const rest = decodeTags(bytes.subarray(Math.max(got.consumed, FLV_HEADER.length)));
        expect([...got.tags, ...rest.tags]).toEqual(tags);
      }),
    );
  });

  for (const timeMs of [0, 2 ** 24 - 1, 2 ** 24, 2 ** 24 + 1, 2 ** 31, 2 ** 32 - 1]) {
    it(`keep the time ${timeMs}`, () => {
      const bytes = encodeTag({ kind: TAG.audioFrame, timeMs, body: Uint8Array.of(1) });
      expect(decodeTags(bytes).tags[0]!.timeMs).toBe(timeMs);
    });
  }

  it('wrap their time where 32 bits end, and are put back on an unbroken timeline', () => {
    const hour = 3_600_000;
    for (const start of [0, 2 ** 24 - hour, TIME_MODULUS - hour, 2 * TIME_MODULUS - hour]) {
      let last = start;
      for (let timeMs = start; timeMs < start + 25 * hour; timeMs += 7 * 60_000) {
        const carried = decodeTags(encodeTag({ kind: TAG.data, timeMs, body: new Uint8Array(0) })).tags[0]!
          .timeMs;
        last = unwrapTime(carried, last);
        expect(last).toBe(timeMs);
      }
    }
  });

  it('with a broken back pointer, an unknown kind or another file are refused', () => {
    const good = encodeTag({ kind: TAG.audioFrame, timeMs: 5, body: Uint8Array.of(1, 2) });
    const pointer = good.slice();
    pointer[pointer.length - 1]! += 1;
    expect(decodeTags(pointer).problem).toBe('wrong_back_pointer');
    expect(decodeTags(Uint8Array.from(good, (byte, i) => (i === 0 ? 7 : byte))).problem).toBe('unknown_tag');
    expect(decodeFile(Uint8Array.from('RIFF1234567890', (c) => c.charCodeAt(0))).problem).toBe('not_flv');
  });

  it('are not made longer than their length can say, nor before the beginning', () => {
    const body = new Uint8Array(MAX_BODY_BYTES + 1);
    expect(() => encodeTag({ kind: TAG.data, timeMs: 0, body })).toThrowError(RangeError);
    expect(() => encodeTag({ kind: TAG.data, timeMs: -1, body: new Uint8Array(0) })).toThrowError(RangeError);
  });

  it('say what they carry in their first bytes', () => {
    const sets = { sps: Uint8Array.of(0x67, 0x42, 0xc0, 0x1f), pps: Uint8Array.of(0x68, 1) };
    const slice = [Uint8Array.of(0x65, 9)];
    const [config, key, inter] = [
      videoConfigurationTag(sets, 0),
      videoTag(slice, true, 0),
      videoTag(slice, false, 33),
    ];
    const [aacConfig, aac] = [
      audioConfigurationTag(Uint8Array.of(0x11, 0x90), 0),
      audioTag(Uint8Array.of(0x21), 0),
    ];
    expect([config, key, inter, aacConfig, aac].map((tag) => [...tag.body.subarray(0, 2)])).toEqual([
      [0x17, 0],
      [0x17, 1],
      [0x27, 1],
      [0xaf, 0],
      [0xaf, 1],
    ]);
    expect([config, key, inter, aac].map(isKeyframe)).toEqual([false, true, false, false]);
    expect([config, key, aacConfig, aac].map(isConfiguration)).toEqual([true, false, true, false]);
    expect([...key.body.subarray(2)]).toEqual([0, 0, 0, 0, 0, 0, 2, 0x65, 9]);
  });
});
