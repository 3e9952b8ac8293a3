import fc from 'fast-check';
import { crc32 } from './crc32';
import { decodePackets, encodePacket, MAX_PAYLOAD_BYTES, type Packet } from './packet';

const anyPacket: fc.Arbitrary<Packet> = fc.record({
  session: fc.uuid(),
  number: fc.maxSafeNat().map((n) => Math.max(1, n)),
  track: fc.constantFrom('video' as const, 'audio' as const),
  key: fc.boolean(),
  slate: fc.boolean(),
  timeUs: fc.maxSafeNat(),
  durationUs: fc.nat(0xffff_ffff),
  payload: fc.uint8Array({ maxLength: 300 }),
});
const packet: Packet = {
  session: '3f2b8c1e-0d4a-4e7b-9c55-7a1e2f30b6d8',
  number: 7,
  track: 'video',
  key: true,
  slate: false,
  timeUs: 2_000_000,
  durationUs: 33_333,
  payload: Uint8Array.of(0, 0, 0, 1, 0x65),
};

function join(parts: readonly Uint8Array[]): Uint8Array {
  const bytes = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  parts.reduce((at, part) => (bytes.set(part, at), at + part.length), 0);
  return bytes;
}

describe('packets', () => {
  it('come back as they were, one after another', () => {
    fc.assert(
      fc.property(fc.array(anyPacket, { maxLength: 6 }), (sent) => {
        const bytes = join(sent.map(encodePacket));
        expect(decodePackets(bytes)).toEqual({ packets: sent, consumed: bytes.length, problem: null });
      }),
    );
  });

  it('cut anywhere, give the whole ones before the cut and no problem', () => {
    const bytes = join([encodePacket(packet), encodePacket({ ...packet, number: 8 })]);
    const whole = encodePacket(packet).length;
    for (let cut = 0; cut < bytes.length; cut++) {
      const got = decodePackets(bytes.subarray(0, cut));
      expect(got.problem).toBeNull();
      expect(got.consumed).toBe(cut < whole ? 0 : whole);
    }
  });

  it('show any flipped bit', () => {
    const bytes = encodePacket(packet);
    for (let bit = 0; bit < bytes.length * 8; bit++) {
      const broken = bytes.slice();
      broken[bit >> 3]! ^= 1 << (bit & 7);
      const got = decodePackets(broken);
      // A flipped bit in the length may make a packet look unfinished, which is as good: it is not taken.
      expect(got.packets.length).toBe(0);
    }
  });

  it('that claim to be huge are refused before anything is read', () => {
    const bytes = encodePacket(packet);
    new DataView(bytes.buffer).setUint32(44, 100 * 1024 * 1024);
    expect(decodePackets(bytes).problem).toBe('too_long');
  });

  it('are told from anything else', () => {
    expect(decodePackets(Uint8Array.from({ length: 60 }, (_, i) => i)).problem).toBe('not_a_packet');
    expect(decodePackets(Uint8Array.of(1, 2, 3, 4)).problem).toBe('not_a_packet');
  });

  const wrong: [string, Partial<Packet>][] = [
    ['session', { session: 'X' }],
    ['number', { number: 0 }],
    ['number', { number: 1.5 }],
    ['timeUs', { timeUs: -1 }],
    ['durationUs', { durationUs: 2 ** 32 }],
    ['payload', { payload: new Uint8Array(MAX_PAYLOAD_BYTES + 1) }],
  ];
  for (const [field, change] of wrong) {
    it(`are not made with ${field} = ${String(Object.values(change)[0]).slice(0, 12)}`, () => {
      expect(() => encodePacket({ ...packet, ...change })).toThrowError(RangeError, new RegExp(field));
    });
  }
});

describe('crc32', () => {
  it('gives the check value of the standard', () => {
    expect(crc32(Uint8Array.from('123456789', (c) => c.charCodeAt(0)))).toBe(0xcbf43926);
  });
});
