import { SAMPLE_RATE_HZ, frameToUs } from '@juncta/core/programme';
import { limit } from '@juncta/core/stage';

/** The programme on its way back into the room: what guests see and hear of it. */
export class ReturnFeed {
  private readonly pictures: WritableStreamDefaultWriter<VideoFrame>;
  private readonly sounds: WritableStreamDefaultWriter<AudioData>;

  constructor(picture: WritableStream<VideoFrame>, sound: WritableStream<AudioData>) {
    this.pictures = picture.getWriter();
    this.sounds = sound.getWriter();
  }

  /** @param small guests look at a small picture: it costs the desk and their lines little */
  show(small: OffscreenCanvas, frame: number): void {
    write(this.pictures, new VideoFrame(small, { timestamp: frameToUs(frame) }));
  }

  /** @param planes left and right, one after the other */
  sound(planes: Float32Array, timestamp: number): void {
    const data = planes.slice();
    limit(data);
    const numberOfFrames = data.length / 2;
    const format = 'f32-planar';
    write(
      this.sounds,
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
    for (const writer of [this.pictures, this.sounds]) void writer.close().catch(() => undefined);
  }
}

/** A track that is not read takes nothing: then this one is left out. */
function write<T extends VideoFrame | AudioData>(writer: WritableStreamDefaultWriter<T>, what: T): void {
  if ((writer.desiredSize ?? 0) <= 0) what.close();
  else writer.write(what).catch(() => what.close());
}
