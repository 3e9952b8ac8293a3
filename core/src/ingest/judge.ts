import { KEYFRAME_INTERVAL_S, SAMPLE_RATE_HZ } from '../programme/programme-clock';
import type { PictureFigures } from '../programme/picture-format';
import type { ArrivalFigures, AudioFigures, VideoFigures } from './arrival';

/**
 * What is to be said of an outside picture before it counts, and how it is carried: the frames copied where they fit the
 * show's format, made anew once where not, refused where neither can be done.
 */
export const INGEST_FINDINGS = [
  'no_video',
  'codec_not_taken',
  'unreadable',
  'codec_made',
  'no_keyframe',
  'interlaced',
  'colour',
  'size',
  'rate_high',
  'rate_low',
  'rate_varies',
  'reordered',
  'keyframes_far',
  'too_much',
  'too_little',
  'no_audio',
  'silent',
  'audio_codec',
  'audio_rate',
  'audio_channels',
  'late',
  'gaps',
  'clock_jumps',
] as const;
export type IngestFindingCode = (typeof INGEST_FINDINGS)[number];

export const INGEST_LEVELS = ['block', 'warning', 'converted', 'note'] as const;
/** `converted`: it is made to fit, which costs something; `block`: as it comes it cannot be shown. */
export type IngestLevel = (typeof INGEST_LEVELS)[number];

export interface IngestFinding {
  readonly code: IngestFindingCode;
  readonly level: IngestLevel;
  /** What it has, as numbers or words to be filled into a sentence. */
  readonly has: string | number | null;
  /** What it is made into, or what would be right. */
  readonly wants: string | number | null;
}

/** What is made anew; a track that is not is copied. */
export interface Carriage {
  readonly video: boolean;
  readonly audio: boolean;
}

export interface IngestVerdict {
  readonly findings: readonly IngestFinding[];
  /** Null: it cannot be carried as it comes, or too little of it is known yet. */
  readonly carriage: Carriage | null;
}

/** What a show wants of a picture. */
export interface IngestWants extends Pick<PictureFigures, 'width' | 'height' | 'rateHz' | 'leastKbps'> {
  /** The most video that all its places take, kbit/s. */
  readonly mostKbps: number;
}

/** A keyframe may come so much later than wanted: encoders count frames, and leave some out. */
const KEYFRAME_LEEWAY_S = 0.6;
/** Without one for this long nothing can begin. */
const NO_KEYFRAME_S = 10;
const RATE_LEEWAY_HZ = 0.5;
/** Fewer frames a second are seen to stutter. */
const LOW_RATE_HZ = 20;
/** Whoever decodes it waits for the slowest frame: beyond this the wait is felt in a conversation. */
const LATE_MS = 400;
/** Encoders overshoot. */
const KBPS_LEEWAY = 1.15;

export function judgeArrival(arrival: ArrivalFigures, wants: IngestWants): IngestVerdict {
  const { video, audio, gaps, jumps } = arrival;
  const findings = [
    ...(video ? ofVideo(video, wants) : [finding('no_video', 'block')]),
    ...ofAudio(audio),
    ...(gaps > 0 ? [finding('gaps', 'warning', gaps)] : []),
    ...(jumps > 0 ? [finding('clock_jumps', 'warning', jumps)] : []),
  ];
  const isKnown = video?.sequence != null && video.rateHz !== null;
  if (!isKnown || findings.some(({ level }) => level === 'block')) return { findings, carriage: null };
  const converts = (codes: readonly IngestFindingCode[]) =>
    findings.some(({ code, level }) => level === 'converted' && codes.includes(code));
  return { findings, carriage: { video: converts(OF_VIDEO), audio: converts(OF_AUDIO) } };
}

const OF_AUDIO: readonly IngestFindingCode[] = ['audio_codec', 'audio_rate', 'audio_channels'];
const OF_VIDEO: readonly IngestFindingCode[] = INGEST_FINDINGS.filter((code) => !OF_AUDIO.includes(code));

function ofVideo(video: VideoFigures, wants: IngestWants): IngestFinding[] {
  if (video.codec !== 'h264') return [finding('codec_not_taken', 'block', video.codec, 'h264')];
  if (video.isUnreadable) return [finding('unreadable', 'block')];
  const findings: IngestFinding[] = [];
  const { sequence, rateHz, keyframeS, kbps, madeFrom, lateMs } = video;
  if (madeFrom) findings.push(finding('codec_made', 'note', madeFrom, 'h264'));
  if (keyframeS !== null && keyframeS > NO_KEYFRAME_S) {
    findings.push(finding('no_keyframe', 'block', Math.round(keyframeS), KEYFRAME_INTERVAL_S));
  } else if (keyframeS !== null && keyframeS > KEYFRAME_INTERVAL_S + KEYFRAME_LEEWAY_S) {
    findings.push(finding('keyframes_far', 'converted', keyframeS, KEYFRAME_INTERVAL_S));
  }
  if (sequence) {
    const { width, height, chroma, bitDepth, isInterlaced } = sequence;
    if (isInterlaced) findings.push(finding('interlaced', 'converted'));
    if (chroma !== '4:2:0' || bitDepth !== 8)
      findings.push(finding('colour', 'converted', `${chroma}, ${bitDepth} bit`, '4:2:0, 8 bit'));
    if (width !== wants.width || height !== wants.height) {
      findings.push(finding('size', 'converted', `${width}x${height}`, `${wants.width}x${wants.height}`));
    }
  }
  if (rateHz !== null) {
    if (rateHz > wants.rateHz + RATE_LEEWAY_HZ)
      findings.push(finding('rate_high', 'converted', shown(rateHz), wants.rateHz));
    else if (video.isVariable) findings.push(finding('rate_varies', 'converted', null, wants.rateHz));
    else if (rateHz < LOW_RATE_HZ) findings.push(finding('rate_low', 'warning', shown(rateHz), wants.rateHz));
  }
  if (video.isReordered) findings.push(finding('reordered', 'converted'));
  if (kbps > wants.mostKbps * KBPS_LEEWAY)
    findings.push(finding('too_much', 'converted', kbps, wants.mostKbps));
  else if (rateHz !== null && kbps < wants.leastKbps)
    findings.push(finding('too_little', 'warning', kbps, wants.leastKbps));
  if (lateMs > LATE_MS) findings.push(finding('late', 'warning', lateMs));
  return findings;
}

function ofAudio(audio: AudioFigures | null): IngestFinding[] {
  if (!audio) return [finding('no_audio', 'warning')];
  const findings: IngestFinding[] = [];
  if (audio.codec !== 'aac') findings.push(finding('audio_codec', 'converted', audio.codec, 'aac'));
  else if (audio.rateHz !== null && audio.rateHz !== SAMPLE_RATE_HZ) {
    findings.push(finding('audio_rate', 'converted', audio.rateHz, SAMPLE_RATE_HZ));
  }
  if (audio.channels !== null && audio.channels !== 2)
    findings.push(finding('audio_channels', 'converted', audio.channels, 2));
  if (audio.isSilent) findings.push(finding('silent', 'warning'));
  return findings;
}

function finding(
  code: IngestFindingCode,
  level: IngestLevel,
  has: IngestFinding['has'] = null,
  wants: IngestFinding['wants'] = null,
): IngestFinding {
  return { code, level, has, wants };
}

/** As people say it: 29.97, 25, 48. */
const shown = (rateHz: number): number =>
  Math.abs(rateHz - Math.round(rateHz)) < 0.1 ? Math.round(rateHz) : rateHz;
