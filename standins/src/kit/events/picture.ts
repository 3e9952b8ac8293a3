/** What a place takes for a picture. Null: anything. */
export interface PictureRule {
  readonly needed: boolean;
  /** Width to height. */
  readonly aspect: readonly [number, number];
  readonly minWidth: number;
  readonly minHeight: number;
  readonly maxBytes: number;
}

export interface KeptPicture {
  readonly type: 'image/png' | 'image/jpeg';
  readonly width: number;
  readonly height: number;
  readonly bytes: number;
}

/** The size of a PNG (its specification, 11.2.2) or a baseline or progressive JPEG (T.81, B.2.2); null: neither. */
export function readPicture(file: Buffer): KeptPicture | null {
  if (file.length > 24 && file.readUInt32BE(0) === 0x89504e47 && file.toString('latin1', 12, 16) === 'IHDR')
    return {
      type: 'image/png',
      width: file.readUInt32BE(16),
      height: file.readUInt32BE(20),
      bytes: file.length,
    };
  if (file.length < 4 || file.readUInt16BE(0) !== 0xffd8) return null;
  for (let at = 2; at + 9 < file.length;) {
    if (file[at] !== 0xff) return null;
    const marker = file[at + 1]!;
    if (marker >= 0xc0 && marker <= 0xc2)
      return {
        type: 'image/jpeg',
        height: file.readUInt16BE(at + 5),
        width: file.readUInt16BE(at + 7),
        bytes: file.length,
      };
    at += 2 + file.readUInt16BE(at + 2);
  }
  return null;
}

/** Why a place does not take a picture; null: it does. */
export function judgePicture(picture: KeptPicture | null, rule: PictureRule): string | null {
  if (!picture) return 'This is neither a PNG nor a JPEG.';
  const [across, down] = rule.aspect;
  if (picture.bytes > rule.maxBytes) return `At most ${rule.maxBytes} bytes.`;
  if (picture.width < rule.minWidth || picture.height < rule.minHeight)
    return `At least ${rule.minWidth}x${rule.minHeight} pixels.`;
  if (Math.abs(picture.width / picture.height / (across / down) - 1) > 0.02)
    return `It has to be ${across} to ${down}.`;
  return null;
}
