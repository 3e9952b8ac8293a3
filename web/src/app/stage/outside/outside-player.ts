import { readAacConfig } from '@juncta/core/media/audio';
import { readBody, type AudioBody, type FlvTag, type VideoBody } from '@juncta/core/media/flv';
import { Playout, type DeviceFate } from '@juncta/core/stage';
import { channelsOf } from '../composer/programme-audio';
import type { SourceMessage } from '../messages';

/** Nothing of a track for so long, and it is taken to be gone. */
const GONE_MS = 1500;
/** A decoder that is so far behind does not keep up: on to the next keyframe. */
const MOST_UNDECODED = 40;

interface Waiting<Body> {
  readonly body: Body;
  readonly atMs: number;
}

/** Which of the two flow. */
export interface Fates {
  readonly video: DeviceFate;
  readonly audio: DeviceFate;
}

/**
 * Decodes an outside picture when its frames are due, and hands them to the composer. H.264 and AAC; of anything else it is
 * told that there is none.
 */
export class OutsidePlayer {
  private playout = new Playout();
  private video: Waiting<VideoBody>[] = [];
  private audio: Waiting<AudioBody>[] = [];
  private videoDecoder: VideoDecoder | null = null;
  private audioDecoder: AudioDecoder | null = null;
  private videoHead: Uint8Array | null = null;
  /** Frames come in another order than they are shown. */
  private isReordered = false;
  private needsKey = true;
  private shownAtUs = -Infinity;
  private isHere = false;
  private readonly seenAtMs = { video: -Infinity, audio: -Infinity };

  constructor(private readonly port: MessagePort) {}

  /** The encoder is there: times count from anew. */
  begins(): void {
    this.forget();
    this.isHere = true;
  }

  ends(): void {
    this.forget();
    this.isHere = false;
    this.give({ frame: null });
  }

  tag(tag: FlvTag): void {
    const body = readBody(tag);
    if (!body || body.part === 'end') return;
    const atMs = tag.timeMs;
    if (body.part === 'frame') this.playout.take(body.track, atMs, performance.now());
    // What a decoder is to know goes with the frames that follow it.
    if (body.track === 'video') this.video.push({ body, atMs });
    else this.audio.push({ body, atMs });
  }

  /** Decodes what is due. To be called many times a second. */
  tick(nowMs: number): void {
    for (;;) {
      const next = this.video[0];
      if (!next || this.playout.dueMs(next.atMs) > nowMs) break;
      this.video.shift();
      this.decodeVideo(next);
    }
    for (;;) {
      const next = this.audio[0];
      if (!next || this.playout.dueMs(next.atMs) > nowMs) break;
      this.audio.shift();
      this.decodeAudio(next);
    }
    // What viewers saw last is not to stand for what is there.
    if (this.isHere && Number.isFinite(this.seenAtMs.video) && nowMs - this.seenAtMs.video > GONE_MS) {
      this.seenAtMs.video = -Infinity;
      this.give({ frame: null });
    }
  }

  fates(nowMs: number): Fates {
    const flows = (track: 'video' | 'audio') => nowMs - this.seenAtMs[track] < GONE_MS;
    return {
      video: flows('video') ? 'there' : 'gone',
      // A picture without sound is one that has none.
      audio: flows('audio') ? 'there' : flows('video') ? 'none' : 'gone',
    };
  }

  close(): void {
    this.forget();
    this.port.close();
  }

  private forget(): void {
    this.playout = new Playout();
    this.video = [];
    this.audio = [];
    for (const decoder of [this.videoDecoder, this.audioDecoder])
      if (decoder && decoder.state !== 'closed') decoder.close();
    this.videoDecoder = null;
    this.audioDecoder = null;
    this.videoHead = null;
    this.isReordered = false;
    this.needsKey = true;
    this.shownAtUs = -Infinity;
    this.seenAtMs.video = this.seenAtMs.audio = -Infinity;
  }

  private decodeVideo({ body, atMs }: Waiting<VideoBody>): void {
    if (body.codec !== 'h264') return;
    if (body.part === 'configuration') {
      this.videoHead = body.data.slice();
      this.needsKey = true;
      return;
    }
    const isReordered = this.isReordered || body.laterMs !== 0;
    if (isReordered !== this.isReordered) {
      this.isReordered = isReordered;
      this.needsKey = true;
    }
    if ((this.videoDecoder?.decodeQueueSize ?? 0) > MOST_UNDECODED) {
      // What it has not come to yet would only be shown late.
      this.videoDecoder?.close();
      this.videoDecoder = null;
    }
    const isReady = !this.needsKey && this.videoDecoder?.state === 'configured';
    if (!isReady && !(body.key && this.beginVideo())) return;
    const timestamp = Math.round((atMs + body.laterMs) * 1000);
    const type = body.key ? 'key' : 'delta';
    this.videoDecoder?.decode(new EncodedVideoChunk({ type, timestamp, data: body.data }));
  }

  /** A decoder that begins at a keyframe, or begins again. False: it is not known yet what comes. */
  private beginVideo(): boolean {
    const head = this.videoHead;
    if (!head || head.length < 4) return false;
    if (!this.videoDecoder || this.videoDecoder.state === 'closed') {
      const decoder = new VideoDecoder({
        output: (frame) => this.show(frame, decoder),
        error: () => {
          if (this.videoDecoder === decoder) this.needsKey = true;
        },
      });
      this.videoDecoder = decoder;
    }
    const digits = Array.from(head.subarray(1, 4), (byte) => byte.toString(16).padStart(2, '0'));
    try {
      this.videoDecoder.configure({
        codec: `avc1.${digits.join('')}`,
        description: head,
        // Frames in another order would come out in that order.
        optimizeForLatency: !this.isReordered,
      });
    } catch {
      // An encoder may say anything of its video.
      return false;
    }
    this.needsKey = false;
    return true;
  }

  private show(frame: VideoFrame, decoder: VideoDecoder): void {
    if (decoder !== this.videoDecoder || frame.timestamp < this.shownAtUs) {
      frame.close();
      return;
    }
    this.shownAtUs = frame.timestamp;
    this.seenAtMs.video = performance.now();
    this.give({ frame }, [frame]);
  }

  private decodeAudio({ body, atMs }: Waiting<AudioBody>): void {
    if (body.codec !== 'aac') return;
    if (body.part === 'configuration') {
      this.beginAudio(body.data.slice());
      return;
    }
    if (this.audioDecoder?.state !== 'configured') return;
    const timestamp = Math.round(atMs * 1000);
    this.audioDecoder.decode(new EncodedAudioChunk({ type: 'key', timestamp, data: body.data }));
  }

  private beginAudio(head: Uint8Array<ArrayBuffer>): void {
    const figures = readAacConfig(head);
    if (!figures) return;
    if (this.audioDecoder && this.audioDecoder.state !== 'closed') this.audioDecoder.close();
    const decoder = new AudioDecoder({
      output: (data) => {
        const audio = channelsOf(data);
        if (decoder !== this.audioDecoder) return;
        this.seenAtMs.audio = performance.now();
        this.give(
          { audio },
          audio.map(({ buffer }) => buffer),
        );
      },
      error: () => undefined,
    });
    this.audioDecoder = decoder;
    const config: AudioDecoderConfig = {
      codec: `mp4a.40.${figures.objectType}`,
      sampleRate: figures.rateHz,
      numberOfChannels: Math.max(1, figures.channels),
      description: head,
    };
    try {
      decoder.configure(config);
    } catch {
      // As of its video.
    }
  }

  private give(message: SourceMessage, transfer: Transferable[] = []): void {
    this.port.postMessage(message, transfer);
  }
}
