/** AMF0, as far as publishers use it. */
export type Amf = string | number | boolean | null | { [name: string]: Amf };

export function readAmf(bytes: Buffer): Amf[] {
  const values: Amf[] = [];
  let at = 0;
  const text = (): string => {
    const length = bytes.readUInt16BE(at);
    at += 2 + length;
    if (at > bytes.length) throw new Error('cut short');
    return bytes.toString('utf8', at - length, at);
  };
  const value = (depth: number): Amf => {
    if (depth > 8) throw new Error('nested too deep');
    const marker = bytes[at++];
    switch (marker) {
      case 0:
        at += 8;
        return bytes.readDoubleBE(at - 8);
      case 1:
        return bytes[at++] !== 0;
      case 2:
        return text();
      case 5:
      case 6:
        return null;
      case 8:
        at += 4;
        return object(depth);
      case 3:
        return object(depth);
      default:
        throw new Error(`AMF of kind ${marker}`);
    }
  };
  const object = (depth: number): Amf => {
    const entries: [string, Amf][] = [];
    while (bytes.readUIntBE(at, 3) !== 9) entries.push([text(), value(depth + 1)]);
    at += 3;
    return Object.fromEntries(entries);
  };
  while (at < bytes.length) values.push(value(0));
  return values;
}

export function writeAmf(...values: Amf[]): Buffer {
  return Buffer.concat(values.map(write));
}

function write(value: Amf): Buffer {
  if (value === null) return Buffer.from([5]);
  if (typeof value === 'boolean') return Buffer.from([1, value ? 1 : 0]);
  if (typeof value === 'number') {
    const bytes = Buffer.alloc(9);
    bytes.writeDoubleBE(value, 1);
    return bytes;
  }
  if (typeof value === 'string') return Buffer.concat([Buffer.from([2]), named(value)]);
  const entries = Object.entries(value).flatMap(([name, one]) => [named(name), write(one)]);
  return Buffer.concat([Buffer.from([3]), ...entries, Buffer.from([0, 0, 9])]);
}

function named(text: string): Buffer {
  const bytes = Buffer.from(text, 'utf8');
  const length = Buffer.alloc(2);
  length.writeUInt16BE(bytes.length);
  return Buffer.concat([length, bytes]);
}
