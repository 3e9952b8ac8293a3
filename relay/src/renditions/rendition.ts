import type { RenditionReport, RenditionRequest } from '@juncta/contract/relay';
import { readConfigurationRecord, type ParameterSets } from '@juncta/core/media/h264';
import { isConfiguration, isKeyframe, TAG, type FlvTag } from '@juncta/core/media/flv';
import {
  AIRED_AUDIO_KBPS,
  headerTags,
  LastGroup,
  type ProgrammeFormat,
  type ProgrammeTag,
} from '@juncta/core/programme';
import { sizeOf, TrackMerge } from '@juncta/core/renditions';
import type { Logger } from 'pino';
import { FlvConverter } from '../media/flv-converter';
import { isConfigurationOfVideo } from '../media/still';
import type { Aired, ProgrammeHeads } from '../programme/sink';
import { CoresOf } from './cores-of';
import { renditionArguments } from './encoding';

/** An encoder that died is begun again after this long. */
const AGAIN_MS = 500;
/** An encoder that is so far behind the programme does not keep pace with it. */
const BEHIND_MS = 1500;
/** What is further behind is left out, up to a keyframe: viewers who are late for good are worse off than by a gap. */
const MOST_BEHIND_MS = 2500;
/** Before the body's frame stand five bytes: codec, kind of packet, and the composition offset. */
const CONFIGURATION_AT = 5;

/** Whoever drives it. */
interface RenditionHouse {
  /** Of the programme that it is made of. */
  readonly programme: ProgrammeHeads;
  readonly log: Logger;
  /** What goes out, in order. */
  out(tag: ProgrammeTag): void;
}

/**
 * One more encoding of the programme, for the places that do not take its own: video through one encoder, audio as it is. It
 * begins at a keyframe, has the programme's times, and an encoder that dies is begun again: its feeds miss some video and
 * lose no connection.
 */
export class Rendition {
  private converter: FlvConverter | null = null;
  private merge = new TrackMerge();
  private group = new LastGroup();
  private sets: ParameterSets | null = null;
  private audioConfig: Uint8Array | null = null;
  /** Where on the programme's timeline the encoder's 0 lies, ms. */
  private zeroMs = 0;
  private newestMs = 0;
  /** The last that the encoder was given. */
  private givenMs = 0;
  private leavesOut = false;
  private encodedMs: number | null = null;
  private notBeforeMs = -Infinity;
  private hasDied = false;
  private cores: CoresOf | null = null;
  private isClosed = false;

  readonly heads: ProgrammeHeads = {
    headers: (timeMs) => {
      const format = this.format();
      return format && headerTags(format, timeMs);
    },
    lastGroup: () => this.group.tags,
    changed: () => this.house.programme.changed(),
    wantKeyframe: () => this.house.programme.wantKeyframe(),
  };

  constructor(
    readonly what: RenditionRequest,
    private readonly house: RenditionHouse,
  ) {
    house.programme.wantKeyframe();
  }

  push({ tag, format }: Aired): void {
    this.audioConfig = format?.audioConfig ?? this.audioConfig;
    if (tag.kind === TAG.audioFrame) {
      this.send(this.merge.pushAudio(tag));
      return;
    }
    this.newestMs = tag.timeMs;
    if (!this.converter && tag.key && performance.now() >= this.notBeforeMs) this.begin(tag.timeMs);
    if (!this.converter || this.isLeftOut(tag)) return;
    this.givenMs = tag.timeMs;
    this.converter.push({ ...tag, timeMs: tag.timeMs - this.zeroMs }, tag.key);
  }

  private isLeftOut(tag: ProgrammeTag): boolean {
    const isFarBehind = this.givenMs - (this.encodedMs ?? this.zeroMs) > MOST_BEHIND_MS;
    if (isFarBehind) this.leavesOut = true;
    else if (tag.key) this.leavesOut = false;
    return this.leavesOut;
  }

  /** @param destinationIds who gets it */
  report(destinationIds: readonly string[], nowMs: number): RenditionReport {
    const { shape, height, rateHz, videoKbps, keyframeS } = this.what;
    return {
      ...{ shape, height, rateHz, videoKbps, keyframeS },
      destinationIds: [...destinationIds],
      state: this.state(),
      cores: this.cores?.read(nowMs) ?? null,
    };
  }

  close(): void {
    this.isClosed = true;
    this.converter?.close();
  }

  private state(): RenditionReport['state'] {
    if (!this.converter) return this.hasDied ? 'again' : 'starting';
    if (this.encodedMs === null) return this.hasDied ? 'again' : 'starting';
    return this.newestMs - this.encodedMs > BEHIND_MS ? 'behind' : 'running';
  }

  private begin(atMs: number): void {
    const { programme, log } = this.house;
    const heads = programme.headers(0)?.filter(isConfigurationOfVideo);
    if (!heads || heads.length === 0) return;
    this.zeroMs = this.givenMs = atMs;
    this.encodedMs = null;
    this.leavesOut = false;
    const conversion = { of: 'a rendition', args: renditionArguments(this.what), hasAudio: false, heads };
    const converter = new FlvConverter(conversion, log, {
      tag: (tag) => {
        if (this.converter === converter) this.take(tag);
      },
      ended: () => {
        if (this.converter === converter) this.died();
      },
    });
    this.converter = converter;
    this.cores = converter.pid === null ? null : new CoresOf(converter.pid);
    log.info({ ...this.what }, 'a rendition begins');
  }

  private died(): void {
    this.converter = null;
    this.cores = null;
    this.hasDied = true;
    this.notBeforeMs = performance.now() + AGAIN_MS;
    if (this.isClosed) return;
    setTimeout(() => !this.isClosed && this.house.programme.wantKeyframe(), AGAIN_MS).unref();
    this.house.programme.changed();
  }

  private take(tag: FlvTag): void {
    if (tag.kind !== TAG.videoFrame) return;
    if (isConfiguration(tag)) {
      this.sets = readConfigurationRecord(tag.body.subarray(CONFIGURATION_AT));
      return;
    }
    const isFirst = this.encodedMs === null;
    this.encodedMs = tag.timeMs + this.zeroMs;
    this.send(this.merge.pushVideo({ ...tag, timeMs: this.encodedMs, key: isKeyframe(tag) }));
    if (isFirst) this.house.programme.changed();
  }

  private send(tags: readonly ProgrammeTag[]): void {
    for (const tag of tags) {
      this.group.push(tag);
      this.house.out(tag);
    }
  }

  private format(): ProgrammeFormat | null {
    const { sets, audioConfig } = this;
    if (!sets || !audioConfig) return null;
    const { rateHz, videoKbps } = this.what;
    const audioKbps = AIRED_AUDIO_KBPS;
    return { ...sizeOf(this.what), rateHz, sets, audioConfig, videoKbps, audioKbps };
  }
}
