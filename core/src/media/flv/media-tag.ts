import { TAG, type FlvTag } from './flv';

/**
 * What stands in the body of a tag, whoever sent it: FLV 10.1, annex E.4, and the codecs that Enhanced RTMP (v2, 2024)
 * names by four letters. Codecs that we do not take are named too, so that it can be said which one it is.
 */
export const VIDEO_CODECS = ['h264', 'h265', 'av1', 'vp9', 'other'] as const;
export type VideoCodec = (typeof VIDEO_CODECS)[number];
export const AUDIO_CODECS = ['aac', 'mp3', 'opus', 'other'] as const;
export type AudioCodec = (typeof AUDIO_CODECS)[number];

export interface VideoBody {
  readonly track: 'video';
  readonly codec: VideoCodec;
  readonly part: 'configuration' | 'frame' | 'end';
  readonly key: boolean;
  /** How much later than it is decoded it is to be shown, ms; other than 0 where frames change their order. */
  readonly laterMs: number;
  /** A view into the body. */
  readonly data: Uint8Array;
}
export interface AudioBody {
  readonly track: 'audio';
  readonly codec: AudioCodec;
  readonly part: 'configuration' | 'frame' | 'end';
  readonly data: Uint8Array;
}
export type MediaBody = VideoBody | AudioBody;

const PARTS = ['configuration', 'frame', 'end'] as const;
const AVC = 7;
const AAC = 10;
const MP3 = 2;
const EXTENDED_AUDIO = 9;
/** `PacketType`s of Enhanced RTMP. */
const EXTENDED = { configuration: 0, frame: 1, end: 2, frameWithoutOffset: 3 } as const;
const FOUR_CC: Readonly<Record<string, VideoCodec>> = {
  avc1: 'h264',
  hvc1: 'h265',
  av01: 'av1',
  vp09: 'vp9',
};
const AUDIO_FOUR_CC: Readonly<Record<string, AudioCodec>> = { mp4a: 'aac', Opus: 'opus', '.mp3': 'mp3' };
/** Of these the offset stands before each frame (Enhanced RTMP, table 4). */
const WITH_OFFSET: readonly VideoCodec[] = ['h264', 'h265'];

/** Null: metadata, a body that is cut short, or a part that no player needs. */
export function readBody({ kind, body }: FlvTag): MediaBody | null {
  if (kind === TAG.videoFrame) return readVideo(body);
  return kind === TAG.audioFrame ? readAudio(body) : null;
}

function readVideo(body: Uint8Array): VideoBody | null {
  if (body.length < 2) return null;
  const key = ((body[0]! >> 4) & 7) === 1;
  if ((body[0]! & 0x80) !== 0) return readExtendedVideo(body, key);
  if ((body[0]! & 15) !== AVC)
    return { track: 'video', codec: 'other', part: 'frame', key, laterMs: 0, data: body.subarray(1) };
  const part = PARTS[body[1]!];
  if (body.length < 5 || !part) return null;
  return { track: 'video', codec: 'h264', part, key, laterMs: signed24(body, 2), data: body.subarray(5) };
}

function readExtendedVideo(body: Uint8Array, key: boolean): VideoBody | null {
  if (body.length < 5) return null;
  const codec = FOUR_CC[fourCc(body)] ?? 'other';
  const common = { track: 'video', codec, key } as const;
  switch (body[0]! & 15) {
    case EXTENDED.configuration:
      return { ...common, part: 'configuration', laterMs: 0, data: body.subarray(5) };
    case EXTENDED.end:
      return { ...common, part: 'end', laterMs: 0, data: body.subarray(5) };
    case EXTENDED.frameWithoutOffset:
      return { ...common, part: 'frame', laterMs: 0, data: body.subarray(5) };
    case EXTENDED.frame:
      if (!WITH_OFFSET.includes(codec))
        return { ...common, part: 'frame', laterMs: 0, data: body.subarray(5) };
      return body.length < 8
        ? null
        : { ...common, part: 'frame', laterMs: signed24(body, 5), data: body.subarray(8) };
    default:
      return null;
  }
}

function readAudio(body: Uint8Array): AudioBody | null {
  if (body.length < 2) return null;
  const format = body[0]! >> 4;
  if (format === EXTENDED_AUDIO) {
    if (body.length < 5) return null;
    const part = PARTS[[EXTENDED.configuration, EXTENDED.frame, EXTENDED.end].indexOf((body[0]! & 15) as 0)];
    return part
      ? { track: 'audio', codec: AUDIO_FOUR_CC[fourCc(body)] ?? 'other', part, data: body.subarray(5) }
      : null;
  }
  if (format !== AAC)
    return { track: 'audio', codec: format === MP3 ? 'mp3' : 'other', part: 'frame', data: body.subarray(1) };
  const part = body[1] === 0 ? 'configuration' : body[1] === 1 ? 'frame' : null;
  return part && { track: 'audio', codec: 'aac', part, data: body.subarray(2) };
}

const fourCc = (body: Uint8Array): string => String.fromCharCode(...body.subarray(1, 5));
const signed24 = (bytes: Uint8Array, at: number): number =>
  ((bytes[at]! << 24) | (bytes[at + 1]! << 16) | (bytes[at + 2]! << 8)) >> 8;
