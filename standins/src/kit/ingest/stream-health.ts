/**
 * What a place says of a stream that it receives: measured on what really came, and on nothing the sender claims.
 */
export interface StreamHealth {
  readonly video: { codec: string; profile: number; level: number; width: number; height: number } | null;
  readonly audio: { codec: string; rateHz: number; channels: number } | null;
  /** Pictures a second over the last ten seconds of the stream's own time. */
  readonly framesPerS: number;
  readonly kbps: number;
  /** Seconds between the last two keyframes; null before the second. */
  readonly keyframeS: number | null;
  /** The longest that it ever was. */
  readonly longestKeyframeS: number;
  readonly pictures: number;
  readonly sounds: number;
  /** Stretches longer than two pictures, or two frames of sound, without any; and the longest, ms. */
  readonly gaps: { picture: number; sound: number; longestMs: number };
  /** Times that did not rise within their track. */
  readonly notRising: number;
  readonly formatChanges: number;
  readonly warnings: readonly string[];
}

export interface EncoderRules {
  readonly maxHeight: number;
  readonly maxFramesPerS: number;
  readonly maxKbps: number;
  readonly keyframeS: number | null;
}

const WINDOW_MS = 10_000;
const PICTURE_GAP_MS = 67;
const SOUND_GAP_MS = 43;

interface Track {
  lastMs: number | null;
  count: number;
  gaps: number;
}

export class HealthMeter {
  private video: StreamHealth['video'] = null;
  private audio: StreamHealth['audio'] = null;
  private videoConfig = '';
  private readonly tracks: Record<'picture' | 'sound', Track> = {
    picture: { lastMs: null, count: 0, gaps: 0 },
    sound: { lastMs: null, count: 0, gaps: 0 },
  };
  private recent: { ms: number; bytes: number; picture: boolean }[] = [];
  private lastKeyMs: number | null = null;
  private keyframeS: number | null = null;
  private longestKeyframeS = 0;
  private longestGapMs = 0;
  private notRising = 0;
  private formatChanges = 0;

  constructor(private readonly rules: EncoderRules) {}

  take(kind: number, timeMs: number, body: Buffer): void {
    if (kind === 9) this.takePicture(timeMs, body);
    else if (kind === 8) this.takeSound(timeMs, body);
  }

  read(): StreamHealth {
    const spanMs = this.recent.length > 1 ? this.recent.at(-1)!.ms - this.recent[0]!.ms : 0;
    const perS = (sum: number) => (spanMs > 0 ? (sum * 1000) / spanMs : 0);
    const framesPerS = perS(Math.max(0, this.recent.filter(({ picture }) => picture).length - 1));
    const kbps = Math.round((perS(this.recent.reduce((sum, { bytes }) => sum + bytes, 0)) * 8) / 1000);
    return {
      video: this.video,
      audio: this.audio,
      framesPerS: Math.round(framesPerS * 10) / 10,
      kbps,
      keyframeS: this.keyframeS,
      longestKeyframeS: this.longestKeyframeS,
      pictures: this.tracks.picture.count,
      sounds: this.tracks.sound.count,
      gaps: {
        picture: this.tracks.picture.gaps,
        sound: this.tracks.sound.gaps,
        longestMs: this.longestGapMs,
      },
      notRising: this.notRising,
      formatChanges: this.formatChanges,
      warnings: this.warnings(framesPerS, kbps),
    };
  }

  private warnings(framesPerS: number, kbps: number): string[] {
    const { rules } = this;
    const found: string[] = [];
    if (this.video && this.video.height > rules.maxHeight) found.push(`more than ${rules.maxHeight} lines`);
    if (framesPerS > rules.maxFramesPerS * 1.05)
      found.push(`more than ${rules.maxFramesPerS} pictures a second`);
    if (kbps > rules.maxKbps) found.push(`more than ${rules.maxKbps} kbit/s`);
    if (rules.keyframeS !== null && this.longestKeyframeS > rules.keyframeS * 1.1) {
      found.push(`keyframes ${this.longestKeyframeS} s apart, ${rules.keyframeS} s allowed`);
    }
    if (this.audio === null && this.tracks.picture.count > 60) found.push('no sound');
    return found;
  }

  private takePicture(timeMs: number, body: Buffer): void {
    if ((body[0]! & 15) !== 7) {
      this.video = { codec: `codec ${body[0]! & 15}`, profile: 0, level: 0, width: 0, height: 0 };
      return;
    }
    if (body[1] === 0) {
      const config = body.toString('hex', 5);
      if (this.videoConfig !== '' && this.videoConfig !== config) this.formatChanges += 1;
      this.videoConfig = config;
      const spsLength = body.readUInt16BE(11);
      const sps = body.subarray(13, 13 + spsLength);
      this.video = { codec: 'h264', profile: sps[1]!, level: sps[3]!, ...sizeOfSps(sps) };
      return;
    }
    if (body[1] !== 1) return;
    this.count('picture', timeMs, body.length, PICTURE_GAP_MS);
    if (body[0]! >> 4 !== 1) return;
    if (this.lastKeyMs !== null) {
      this.keyframeS = (timeMs - this.lastKeyMs) / 1000;
      this.longestKeyframeS = Math.max(this.longestKeyframeS, this.keyframeS);
    }
    this.lastKeyMs = timeMs;
  }

  private takeSound(timeMs: number, body: Buffer): void {
    if (body[0]! >> 4 !== 10) {
      this.audio = { codec: `codec ${body[0]! >> 4}`, rateHz: 0, channels: 0 };
      return;
    }
    if (body[1] === 0) {
      const rates = [96000, 88200, 64000, 48000, 44100, 32000, 24000];
      const index = ((body[2]! & 7) << 1) | (body[3]! >> 7);
      this.audio = { codec: 'aac', rateHz: rates[index] ?? 0, channels: (body[3]! >> 3) & 15 };
    } else this.count('sound', timeMs, body.length, SOUND_GAP_MS);
  }

  private count(name: 'picture' | 'sound', ms: number, bytes: number, gapMs: number): void {
    const track = this.tracks[name];
    if (track.lastMs !== null) {
      if (ms <= track.lastMs) this.notRising += 1;
      const step = ms - track.lastMs;
      if (step > gapMs) {
        track.gaps += 1;
        this.longestGapMs = Math.max(this.longestGapMs, step);
      }
    }
    track.lastMs = ms;
    track.count += 1;
    this.recent.push({ ms, bytes, picture: name === 'picture' });
    while (this.recent.length > 0 && ms - this.recent[0]!.ms > WINDOW_MS) this.recent.shift();
  }
}

/** Width and height from a sequence parameter set (ITU-T H.264, 7.3.2.1.1). */
export function sizeOfSps(sps: Buffer): { width: number; height: number } {
  const bits = new Bits(sps);
  bits.skip(8);
  const profile = bits.read(8);
  bits.skip(16);
  bits.golomb();
  let chroma = 1;
  if ([100, 110, 122, 244, 44, 83, 86, 118, 128].includes(profile)) {
    chroma = bits.golomb();
    if (chroma === 3) bits.skip(1);
    bits.golomb();
    bits.golomb();
    bits.skip(1);
    if (bits.read(1) === 1) throw new Error('scaling matrices are not read here');
  }
  bits.golomb();
  const order = bits.golomb();
  if (order === 0) bits.golomb();
  else if (order === 1) {
    bits.skip(1);
    bits.golomb();
    bits.golomb();
    for (let left = bits.golomb(); left > 0; left--) bits.golomb();
  }
  bits.golomb();
  bits.skip(1);
  const width = (bits.golomb() + 1) * 16;
  const mapUnits = bits.golomb() + 1;
  const frameOnly = bits.read(1);
  if (frameOnly === 0) bits.skip(1);
  bits.skip(1);
  const height = mapUnits * 16 * (2 - frameOnly);
  if (bits.read(1) === 0) return { width, height };
  const [left, right, top, bottom] = [bits.golomb(), bits.golomb(), bits.golomb(), bits.golomb()];
  const [unitX, unitY] = [chroma === 1 || chroma === 2 ? 2 : 1, (chroma === 1 ? 2 : 1) * (2 - frameOnly)];
  return { width: width - (left + right) * unitX, height: height - (top + bottom) * unitY };
}

class Bits {
  private at = 0;
  private readonly bytes: number[] = [];

  constructor(unit: Buffer) {
    // An escape byte after two zeros is not part of the set (7.4.1).
    for (let i = 0, zeros = 0; i < unit.length; i++) {
      const byte = unit[i]!;
      if (zeros >= 2 && byte === 3) {
        zeros = 0;
        continue;
      }
      zeros = byte === 0 ? zeros + 1 : 0;
      this.bytes.push(byte);
    }
  }

  skip(count: number): void {
    this.at += count;
  }

  read(count: number): number {
    let value = 0;
    for (let i = 0; i < count; i++, this.at++) {
      value = value * 2 + (((this.bytes[this.at >> 3] ?? 0) >> (7 - (this.at & 7))) & 1);
    }
    return value;
  }

  /** ue(v): 9.1. */
  golomb(): number {
    let zeros = 0;
    while (zeros < 32 && this.read(1) === 0) zeros += 1;
    return 2 ** zeros - 1 + this.read(zeros);
  }
}
