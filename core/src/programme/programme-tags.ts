import {
  videoTag,
  videoConfigurationTag,
  audioTag,
  audioConfigurationTag,
  TAG,
  type FlvTag,
} from '../media/flv/flv';
import type { ParameterSets } from '../media/h264/h264';
import { encodeAmf } from '../media/rtmp/amf0';
import type { Spliced } from './splicer';
import { SAMPLE_RATE_HZ } from './programme-clock';

/** What stays the same for a whole show: one size, one profile, one sound. Settled when its first picture comes. */
export interface ProgrammeFormat {
  readonly width: number;
  readonly height: number;
  readonly sets: ParameterSets;
  /** AudioSpecificConfig (ISO/IEC 14496-3). */
  readonly audioConfig: Uint8Array;
  readonly videoKbps: number;
  readonly audioKbps: number;
  /** Frames a second; left out: nobody has said. */
  readonly rateHz?: number;
}

/** A tag of the spliced programme. Its time is unbroken: it does not wrap. */
export interface ProgrammeTag extends FlvTag {
  /** A group of pictures begins here. */
  readonly key: boolean;
}

/** Place on the timeline, in samples, to ms as tags carry it. */
export const msOfSamples = (at: number): number => Math.round((at * 1000) / SAMPLE_RATE_HZ);

export function tagOf(spliced: Spliced): ProgrammeTag {
  const timeMs = msOfSamples(spliced.at);
  return spliced.track === 'video'
    ? { ...videoTag(spliced.units, spliced.key, timeMs), key: spliced.key }
    : { ...audioTag(spliced.frame, timeMs), key: false };
}

/** What every receiver has to have before the first group: description, video and audio configuration. */
export function headerTags(format: ProgrammeFormat, timeMs: number): FlvTag[] {
  const description = {
    width: format.width,
    height: format.height,
    ...(format.rateHz === undefined ? {} : { framerate: format.rateHz }),
    videocodecid: 7,
    videodatarate: format.videoKbps,
    audiocodecid: 10,
    audiodatarate: format.audioKbps,
    audiosamplerate: SAMPLE_RATE_HZ,
    audiosamplesize: 16,
    stereo: true,
    encoder: 'juncta',
  };
  return [
    { kind: TAG.data, timeMs, body: encodeAmf('onMetaData', description) },
    videoConfigurationTag(format.sets, timeMs),
    audioConfigurationTag(format.audioConfig, timeMs),
  ];
}

/** What goes out beside the video: AAC-LC, stereo. */
export const AIRED_AUDIO_KBPS = 160;

/** The last group of pictures with its audio: what a receiver that joins now is given to begin with. */
export class LastGroup {
  private kept: ProgrammeTag[] = [];

  /** Tags since the last keyframe, in order; empty before the first. */
  get tags(): readonly ProgrammeTag[] {
    return this.kept;
  }

  push(tag: ProgrammeTag): void {
    if (tag.key) this.kept = [tag];
    else if (this.kept.length > 0 && this.kept.length < MOST_KEPT) this.kept.push(tag);
  }
}

/** A group of 2 s has about 160 tags; one that never ends must not fill the memory. */
const MOST_KEPT = 2000;
