import { JitterBuffer } from '@juncta/core/stage';
import type { SourceMessage } from '../messages';

/** One source as the composer sees it: its latest frame, and its audio on the way into the mix. */
export class Source {
  readonly audio: JitterBuffer;
  private latest: VideoFrame | null = null;
  private changes = 0;
  private closed = false;
  private isOff = false;
  private port: MessagePort | null = null;
  private readonly readers: ReadableStreamDefaultReader[] = [];

  constructor(
    /** It comes from the room of guests. */
    readonly fromRoom: boolean,
    /** How much longer its frames take to come than its audio, ms. */
    videoLateMs: number,
    private readonly ended: (track: 'video' | 'audio') => void,
  ) {
    this.audio = new JitterBuffer(videoLateMs);
  }

  /** Null before the first frame, and after the source has lost it. */
  get videoFrame(): VideoFrame | null {
    return this.latest;
  }

  /** Another number for every frame there was, and for none. */
  get videoFrameNumber(): number {
    return this.changes;
  }

  takeFrom(port: MessagePort): void {
    this.port = port;
    port.onmessage = ({ data }: MessageEvent<SourceMessage>) => {
      this.show(data.frame);
      this.audio.push(data.audio);
    };
  }

  readVideo(stream: ReadableStream<VideoFrame>): void {
    void this.readAll(stream, 'video', (frame) => this.show(frame));
  }

  readAudio(stream: ReadableStream<AudioData>): void {
    void this.readAll(stream, 'audio', (data) => {
      const channels = Array.from({ length: Math.min(2, data.numberOfChannels) }, (_, planeIndex) => {
        const plane = new Float32Array(data.numberOfFrames);
        data.copyTo(plane, { planeIndex, format: 'f32-planar' });
        return atProgrammeRate(plane, data.sampleRate);
      });
      data.close();
      this.audio.push(channels[0]!, channels[1]);
    });
  }

  /** No frame is shown while it is off. */
  turnOff(isOff: boolean): void {
    this.isOff = isOff;
    if (isOff) this.replace(null);
  }

  close(): void {
    this.closed = true;
    this.port?.close();
    for (const reader of this.readers) void reader.cancel().catch(() => undefined);
    this.replace(null);
  }

  private show(frame: VideoFrame): void {
    if (this.closed || this.isOff) {
      frame.close();
      return;
    }
    this.replace(frame);
  }

  private replace(frame: VideoFrame | null): void {
    this.latest?.close();
    this.latest = frame;
    this.changes += 1;
  }

  private async readAll<T>(
    stream: ReadableStream<T>,
    track: 'video' | 'audio',
    take: (one: T) => void,
  ): Promise<void> {
    const reader = stream.getReader();
    this.readers.push(reader);
    try {
      for (;;) {
        const { done, value } = await reader.read();
        if (done) break;
        take(value);
      }
    } catch {
      // A device that goes away ends its stream, one way or the other.
    }
    if (this.closed) return;
    if (track === 'video') this.replace(null);
    this.ended(track);
  }
}

const PROGRAMME_RATE_HZ = 48_000;

/** Most devices give 48 kHz; what they give else is brought there in a straight line. */
function atProgrammeRate(samples: Float32Array<ArrayBuffer>, rateHz: number): Float32Array<ArrayBuffer> {
  if (rateHz === PROGRAMME_RATE_HZ) return samples;
  const count = Math.round((samples.length * PROGRAMME_RATE_HZ) / rateHz);
  return Float32Array.from({ length: count }, (_, i) => {
    const at = (i * (samples.length - 1)) / Math.max(1, count - 1);
    const low = Math.floor(at);
    const high = Math.min(samples.length - 1, low + 1);
    return samples[low]! + (samples[high]! - samples[low]!) * (at - low);
  });
}
