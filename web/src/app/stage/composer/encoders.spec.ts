import { PROGRAMME } from '@juncta/core/stage';
import type { PacketMessage } from '../messages';
import { makeVideoEncoder, videoConfig } from './encoders';

/** NAL units of a type in a stream with start codes (ITU-T H.264, annex B), as numbers in hexadecimal. */
function unitsOf(payload: Uint8Array, type: number): string[] {
  const starts = [...payload.keys()].filter(
    (i) => payload[i] === 0 && payload[i + 1] === 0 && payload[i + 2] === 1,
  );
  return starts.flatMap((start, n) => {
    const unit = payload.slice(start + 3, starts[n + 1] ?? payload.length);
    const hex = Array.from(unit, (byte) => byte.toString(16).padStart(2, '0')).join('');
    return (unit[0]! & 0x1f) === type ? hex.replace(/(00)+$/, '') : [];
  });
}
const SPS = 7;
const PPS = 8;

describe('the encoder of the picture', () => {
  it('keeps to one format when the line carries less: places that take no other would drop the feed', async () => {
    const packets: PacketMessage[] = [];
    const encoder = makeVideoEncoder(4000, false, (packet) => packets.push(packet), fail);
    const canvas = new OffscreenCanvas(PROGRAMME.width, PROGRAMME.height);
    const context = canvas.getContext('2d')!;
    const encode = (frame: number, keyFrame: boolean) => {
      context.fillStyle = `hsl(${frame * 40}deg 60% 50%)`;
      context.fillRect(0, 0, canvas.width, canvas.height);
      const videoFrame = new VideoFrame(canvas, { timestamp: frame * 33_333 });
      encoder.encode(videoFrame, { keyFrame });
      videoFrame.close();
    };
    for (let frame = 0; frame < 4; frame++) encode(frame, frame === 0);
    encoder.configure(videoConfig(900));
    for (let frame = 4; frame < 8; frame++) encode(frame, frame === 6);
    await encoder.flush();
    encoder.close();
    const keys = packets.filter(({ key }) => key);
    expect(keys.length).withContext('each stands before a picture that can be begun with').toBeGreaterThan(1);
    const parameters = keys.map(({ payload }) => [...unitsOf(payload, SPS), ...unitsOf(payload, PPS)].join());
    expect(parameters[0]).toMatch(/^67/);
    expect(new Set(parameters).size).toBe(1);
  });
});
