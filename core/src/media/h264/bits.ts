/** Bits of a unit, from the highest down. ITU-T H.264, 7.2 and 9.1. Throws a RangeError behind the end. */
export class BitReader {
  private at = 0;

  constructor(private readonly bytes: Uint8Array) {}

  /** @param count 0 to 31 */
  bits(count: number): number {
    let value = 0;
    for (let i = 0; i < count; i++) value = (value << 1) | this.bit();
    return value;
  }

  bit(): number {
    const byte = this.bytes[this.at >> 3];
    if (byte === undefined) throw new RangeError('a parameter set that is cut short');
    const bit = (byte >> (7 - (this.at & 7))) & 1;
    this.at += 1;
    return bit;
  }

  /** 32 bits, unsigned. */
  word(): number {
    return this.bits(16) * 65_536 + this.bits(16);
  }

  /** ue(v). */
  unsigned(): number {
    let zeros = 0;
    while (this.bit() === 0) {
      zeros += 1;
      if (zeros > 31) throw new RangeError('a number that no parameter set has');
    }
    return 2 ** zeros - 1 + this.bits(zeros);
  }

  /** se(v). */
  signed(): number {
    const value = this.unsigned();
    return value % 2 === 1 ? (value + 1) / 2 : -value / 2;
  }
}

/** Without the bytes that keep start codes from arising (7.4.1). */
export function withoutEmulation(unit: Uint8Array): Uint8Array {
  const out = new Uint8Array(unit.length);
  let length = 0;
  let zeros = 0;
  for (const byte of unit) {
    if (zeros >= 2 && byte === 3) {
      zeros = 0;
      continue;
    }
    zeros = byte === 0 ? zeros + 1 : 0;
    out[length++] = byte;
  }
  return out.subarray(0, length);
}
