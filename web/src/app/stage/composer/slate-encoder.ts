import { FRAME_RATE_HZ, frameToUs, KEYFRAME_INTERVAL_S } from '@juncta/core/programme';
import type { PacketMessage, VideoEncoding } from '../messages';
import { makeVideoEncoder } from './encoders';

/** The relay shows the slate at the usual rate, whatever the programme's is. */
const SLATE_FRAMES = KEYFRAME_INTERVAL_S * FRAME_RATE_HZ;

/** Encodes what viewers see while the programme is away. The relay keeps it, and is given another when it is another. */
export class SlateEncoder {
  private last = 0;

  constructor(
    private readonly encoding: VideoEncoding,
    private readonly emit: (packet: PacketMessage) => void,
    private readonly failed: (why: string) => void,
  ) {}

  /**
   * Done when all of it is on its way. One that is asked for while another is under way takes its place.
   *
   * @param pauseMs between two frames, so that the programme, which is encoded meanwhile, has its share; 0: there is none
   */
  async encode(slate: ImageBitmap, videoKbps: number, pauseMs: number): Promise<void> {
    const mine = ++this.last;
    const isLast = () => mine === this.last;
    const encoder = makeVideoEncoder(
      this.encoding,
      videoKbps,
      true,
      (packet) => {
        if (isLast()) this.emit(packet);
      },
      (why) => this.failed(why),
    );
    for (let frame = 0; frame < SLATE_FRAMES && isLast(); frame++) {
      const videoFrame = new VideoFrame(slate, { timestamp: frameToUs(frame) });
      encoder.encode(videoFrame, { keyFrame: frame === 0 });
      videoFrame.close();
      if (pauseMs > 0) await new Promise((done) => setTimeout(done, pauseMs));
    }
    await encoder.flush().catch(() => undefined);
    if (encoder.state !== 'closed') encoder.close();
    slate.close();
  }

  stop(): void {
    this.last += 1;
  }
}
