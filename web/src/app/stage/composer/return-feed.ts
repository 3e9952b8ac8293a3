import { SAMPLE_RATE_HZ } from '@juncta/core/programme';
import { limit } from '@juncta/core/stage';

/** The programme on its way back into the room: what guests see and hear of it. */
export class ReturnFeed {
  private readonly videoFrames: WritableStreamDefaultWriter<VideoFrame>;
  private readonly audioFrames: WritableStreamDefaultWriter<AudioData>;

  constructor(video: WritableStream<VideoFrame>, audio: WritableStream<AudioData>) {
    this.videoFrames = video.getWriter();
    this.audioFrames = audio.getWriter();
  }

  /** @param small guests look at a small picture: it costs the desk and their lines little */
  show(small: OffscreenCanvas, timestamp: number): void {
    write(this.videoFrames, new VideoFrame(small, { timestamp }));
  }

  /** @param planes left and right, one after the other */
  audio(planes: Float32Array, timestamp: number): void {
    const data = planes.slice();
    limit(data);
    const numberOfFrames = data.length / 2;
    const format = 'f32-planar';
    write(
      this.audioFrames,
      new AudioData({
        format,
        sampleRate: SAMPLE_RATE_HZ,
        numberOfFrames,
        numberOfChannels: 2,
        timestamp,
        data,
      }),
    );
  }

  close(): void {
    for (const writer of [this.videoFrames, this.audioFrames]) void writer.close().catch(() => undefined);
  }
}

/** A track that is not read takes nothing: then this one is left out. */
function write<T extends VideoFrame | AudioData>(writer: WritableStreamDefaultWriter<T>, what: T): void {
  if ((writer.desiredSize ?? 0) <= 0) what.close();
  else writer.write(what).catch(() => what.close());
}
