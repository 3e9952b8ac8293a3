import { PROGRAMME } from '@juncta/core/stage';
import type { PacketMessage, VideoEncoding } from '../messages';
import { findEncoding, makeVideoEncoder, videoConfig } from './encoders';

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

/** Encodes this and gives the first frame as it comes out of a decoder. */
async function encodeAndDecode(
  encoding: VideoEncoding,
  canvas: OffscreenCanvas,
): Promise<{ size: number[]; corner: number[] }> {
  const packets: PacketMessage[] = [];
  const encoder = makeVideoEncoder(encoding, 4000, false, (packet) => packets.push(packet), fail);
  const videoFrame = new VideoFrame(canvas, { timestamp: 0 });
  encoder.encode(videoFrame, { keyFrame: true });
  videoFrame.close();
  await encoder.flush();
  encoder.close();
  const decoded = await new Promise<VideoFrame>((done, failed) => {
    const decoder = new VideoDecoder({ output: done, error: failed });
    decoder.configure({ codec: videoConfig(encoding, 4000).codec });
    decoder.decode(new EncodedVideoChunk({ type: 'key', timestamp: 0, data: packets[0]!.payload }));
    void decoder.flush().then(() => decoder.close());
  });
  const { displayWidth: width, displayHeight: height } = decoded;
  const context = new OffscreenCanvas(width, height).getContext('2d')!;
  context.drawImage(decoded, 0, 0);
  decoded.close();
  return { size: [width, height], corner: [...context.getImageData(width - 8, height - 8, 1, 1).data] };
}

describe('the encoder of the picture', () => {
  it('keeps to one format when the line carries less: places that take no other would drop the feed', async () => {
    const packets: PacketMessage[] = [];
    const encoding = (await findEncoding('720p30'))!;
    const encoder = makeVideoEncoder(encoding, 4000, false, (packet) => packets.push(packet), fail);
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
    encoder.configure(videoConfig(encoding, 900));
    for (let frame = 4; frame < 8; frame++) encode(frame, frame === 6);
    await encoder.flush();
    encoder.close();
    const keys = packets.filter(({ key }) => key);
    expect(keys.length).withContext('each stands before a picture that can be begun with').toBeGreaterThan(1);
    const parameters = keys.map(({ payload }) => [...unitsOf(payload, SPS), ...unitsOf(payload, PPS)].join());
    expect(parameters[0]).toMatch(/^67/);
    expect(new Set(parameters).size).toBe(1);
  });

  for (const [format, size] of [
    ['720p30', [1280, 720]],
    ['1080p30', [1920, 1080]],
  ] as const)
    it(`makes ${format} in its size, also of a picture that was drawn smaller`, async () => {
      const encoding = (await findEncoding(format))!;
      for (const share of [1, 2 / 3]) {
        const canvas = new OffscreenCanvas(size[0] * share, size[1] * share);
        const context = canvas.getContext('2d')!;
        context.fillStyle = '#204060';
        context.fillRect(0, 0, canvas.width, canvas.height);
        context.fillStyle = '#e0e0e0';
        context.fillRect(canvas.width - 40, canvas.height - 40, 40, 40);
        const made = await encodeAndDecode(encoding, canvas);
        expect(made.size).toEqual([...size]);
        expect(made.corner[0])
          .withContext(`drawn at ${share}: the corner is where it was`)
          .toBeGreaterThan(180);
      }
    });
});
