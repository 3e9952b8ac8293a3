/**
 * AMF0, the values in RTMP's commands and FLV's metadata: Adobe Action Message Format, AMF 0 (2007). What places send
 * and what we send: numbers, booleans, strings, objects, null and undefined, arrays.
 */
export type AmfValue = number | boolean | string | null | undefined | AmfObject | readonly AmfValue[];
export interface AmfObject {
  readonly [name: string]: AmfValue;
}

const MARKER = {
  number: 0,
  boolean: 1,
  string: 2,
  object: 3,
  null: 5,
  undefined: 6,
  ecmaArray: 8,
  objectEnd: 9,
  strictArray: 10,
  longString: 12,
} as const;

const SHORT_STRING_BYTES = 0xffff;
/** Deeper than anything sensible; a sender that nests further wants to exhaust us. */
const DEEPEST = 16;

/** The bytes of some values, one after another. Throws a RangeError on what AMF0 cannot carry. */
export function encodeAmf(...values: readonly AmfValue[]): Uint8Array {
  const out: number[] = [];
  for (const value of values) write(out, value);
  return Uint8Array.from(out);
}

function write(out: number[], value: AmfValue): void {
  if (value === null) out.push(MARKER.null);
  else if (value === undefined) out.push(MARKER.undefined);
  else if (typeof value === 'number') {
    const bytes = new Uint8Array(8);
    new DataView(bytes.buffer).setFloat64(0, value);
    out.push(MARKER.number, ...bytes);
  } else if (typeof value === 'boolean') out.push(MARKER.boolean, value ? 1 : 0);
  else if (typeof value === 'string') writeString(out, value);
  else if (isArray(value)) {
    out.push(MARKER.strictArray, ...uint32(value.length));
    for (const one of value) write(out, one);
  } else {
    out.push(MARKER.object);
    for (const [name, one] of Object.entries(value)) {
      writeName(out, name);
      write(out, one);
    }
    out.push(0, 0, MARKER.objectEnd);
  }
}

function writeString(out: number[], text: string): void {
  const bytes = utf8(text);
  if (bytes.length <= SHORT_STRING_BYTES)
    out.push(MARKER.string, bytes.length >> 8, bytes.length & 0xff, ...bytes);
  else {
    out.push(MARKER.longString, ...uint32(bytes.length));
    for (const byte of bytes) out.push(byte);
  }
}

function writeName(out: number[], name: string): void {
  const bytes = utf8(name);
  if (bytes.length === 0 || bytes.length > SHORT_STRING_BYTES) {
    throw new RangeError('a name in an object must have from 1 to 65,535 bytes');
  }
  out.push(bytes.length >> 8, bytes.length & 0xff, ...bytes);
}

/**
 * All values in some bytes. Throws a RangeError on bytes that are cut short, nested too deep, or of a kind that has
 * no place in RTMP's commands: they come from outside and are not to be trusted.
 */
export function decodeAmf(bytes: Uint8Array): AmfValue[] {
  const reader = new Reader(bytes);
  const values: AmfValue[] = [];
  while (!reader.atEnd) values.push(reader.value(0));
  return values;
}

class Reader {
  private at = 0;
  private readonly view: DataView;

  constructor(private readonly bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  get atEnd(): boolean {
    return this.at >= this.bytes.length;
  }

  value(depth: number): AmfValue {
    if (depth > DEEPEST) throw new RangeError(`AMF0 that is nested deeper than ${DEEPEST}`);
    const marker = this.view.getUint8(this.take(1));
    switch (marker) {
      case MARKER.number:
        return this.view.getFloat64(this.take(8));
      case MARKER.boolean:
        return this.view.getUint8(this.take(1)) !== 0;
      case MARKER.string:
        return this.text(this.view.getUint16(this.take(2)));
      case MARKER.longString:
        return this.text(this.view.getUint32(this.take(4)));
      case MARKER.null:
        return null;
      case MARKER.undefined:
        return undefined;
      case MARKER.object:
        return this.object(depth);
      case MARKER.ecmaArray:
        // Its count is a hint that senders get wrong; the end marker counts.
        this.take(4);
        return this.object(depth);
      case MARKER.strictArray:
        return this.array(this.view.getUint32(this.take(4)), depth);
      default:
        throw new RangeError(`AMF0 of the unknown kind ${marker}`);
    }
  }

  private object(depth: number): AmfObject {
    // Without a prototype: a name from outside can be `__proto__`.
    const object = Object.create(null) as Record<string, AmfValue>;
    for (;;) {
      const name = this.text(this.view.getUint16(this.take(2)));
      if (name === '' && this.bytes[this.at] === MARKER.objectEnd) {
        this.at += 1;
        return object;
      }
      object[name] = this.value(depth + 1);
    }
  }

  private array(length: number, depth: number): AmfValue[] {
    if (length > this.bytes.length - this.at) throw new RangeError('an AMF0 array that is cut short');
    return Array.from({ length }, () => this.value(depth + 1));
  }

  private text(length: number): string {
    const from = this.take(length);
    return fromUtf8(this.bytes.subarray(from, from + length));
  }

  private take(count: number): number {
    const from = this.at;
    if (from + count > this.bytes.length) throw new RangeError('AMF0 that is cut short');
    this.at += count;
    return from;
  }
}

const isArray = (value: AmfObject | readonly AmfValue[]): value is readonly AmfValue[] =>
  Array.isArray(value);
const uint32 = (n: number): number[] => [n >>> 24, (n >>> 16) & 0xff, (n >>> 8) & 0xff, n & 0xff];

const LONE_SURROGATES = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

/** UTF-8 by percent-encoding, which every engine has: core knows no `TextEncoder`. Lone surrogates become U+FFFD. */
function utf8(text: string): number[] {
  const encoded = encodeURIComponent(text.replace(LONE_SURROGATES, '\ufffd'));
  const bytes: number[] = [];
  for (let i = 0; i < encoded.length; i++) {
    if (encoded[i] === '%') {
      bytes.push(parseInt(encoded.slice(i + 1, i + 3), 16));
      i += 2;
    } else bytes.push(encoded.charCodeAt(i));
  }
  return bytes;
}

function fromUtf8(bytes: Uint8Array): string {
  try {
    return decodeURIComponent(Array.from(bytes, (byte) => `%${byte.toString(16).padStart(2, '0')}`).join(''));
  } catch {
    throw new RangeError('an AMF0 text that is not UTF-8');
  }
}
