import { JitterBuffer } from '@juncta/core/stage';
import type { SourceMessage } from '../messages';
import { channelsOf } from './programme-audio';

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
      if (data.frame) this.show(data.frame);
      else if (data.frame === null) this.replace(null);
      if (data.audio?.[0]) this.audio.push(data.audio[0], data.audio[1]);
    };
  }

  readVideo(stream: ReadableStream<VideoFrame>): void {
    void this.readAll(stream, 'video', (frame) => this.show(frame));
  }

  readAudio(stream: ReadableStream<AudioData>): void {
    void this.readAll(stream, 'audio', (data) => {
      const channels = channelsOf(data);
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
