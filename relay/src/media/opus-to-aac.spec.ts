import { AAC_FRAME_SAMPLES, decodeAdts } from '@juncta/core/media/audio';
import { execFileSync } from 'node:child_process';
import pino from 'pino';
import { makeSilence, OpusToAac } from './opus-to-aac';
import { until } from '../testing/place';
import { readOpus } from '../testing/media';

const log = pino({ level: 'silent' });

/** Opus packets of audio that is silent but for a tone from 1.0 s to 1.1 s. */
function beep(): Uint8Array[] {
  const tone = 'aevalsrc=if(between(t\\,1\\,1.1)\\,0.5*sin(2*PI*1000*t)\\,0):s=48000:d=3';
  const args = [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    tone,
    '-ac',
    '2',
    '-c:a',
    'libopus',
    '-b:a',
    '128k',
    '-f',
    'ogg',
    '-',
  ];
  return readOpus(execFileSync('ffmpeg', args));
}

/** Where in some AAC frames it becomes loud, in samples from the first frame's beginning. */
function loudFrom(frames: readonly Uint8Array[]): number {
  const adts = Buffer.concat(
    frames.map((frame) => {
      const length = frame.length + 7;
      return Buffer.concat([
        Buffer.from([
          0xff,
          0xf1,
          0x4c,
          0x80 | (length >> 11),
          (length >> 3) & 0xff,
          ((length & 7) << 5) | 0x1f,
          0xfc,
        ]),
        frame,
      ]);
    }),
  );
  const pcm = execFileSync(
    'ffmpeg',
    ['-v', 'error', '-f', 'aac', '-i', '-', '-f', 's16le', '-ac', '1', '-'],
    { input: adts },
  );
  for (let i = 0; i + 1 < pcm.length; i += 2) if (Math.abs(pcm.readInt16LE(i)) > 2000) return i / 2;
  return -1;
}

describe('Opus to AAC', () => {
  it('counts its times in samples: what was heard at a moment is heard there', async () => {
    const frames: { frame: Uint8Array; at: number }[] = [];
    const converter = new OpusToAac((frame, at) => frames.push({ frame: frame.slice(), at }), log);
    const beginsAt = 123_456;
    beep().forEach((packet, i) => converter.push(packet, beginsAt + i * 960));
    await until('two seconds have come out', () => frames.length * AAC_FRAME_SAMPLES > 2 * 48_000);
    converter.close();
    expect(frames.every(({ at }, i) => i === 0 || at === frames[i - 1]!.at + AAC_FRAME_SAMPLES)).toBeTrue();
    const heardAt = frames[0]!.at + loudFrom(frames.map(({ frame }) => frame));
    // An encoder smears a beginning over a few ms; a frame too many or too few would be 21.
    expect(heardAt - (beginsAt + 48_000)).toBeGreaterThan(-480);
    expect(heardAt - (beginsAt + 48_000)).toBeLessThan(480);
  }, 20_000);

  it('fills a short hole with silence, and begins afresh after a long one', async () => {
    const ats: number[] = [];
    const converter = new OpusToAac((_frame, at) => ats.push(at), log);
    const packets = beep();
    const play = (from: number) =>
      packets.slice(0, 50).forEach((packet, i) => converter.push(packet, from + i * 960));
    play(0);
    play(50 * 960 + 20 * 960);
    await until('both stretches have come out', () => (ats.at(-1) ?? 0) > 100 * 960);
    expect(ats.every((at, i) => i === 0 || at === ats[i - 1]! + AAC_FRAME_SAMPLES)).toBeTrue();
    play(10_000_000);
    play(10_048_000);
    await until('it has begun afresh', () => (ats.at(-1) ?? 0) >= 10_000_000);
    converter.close();
  }, 20_000);

  it('ignores what comes twice', async () => {
    const ats: number[] = [];
    const converter = new OpusToAac((_frame, at) => ats.push(at), log);
    const packets = beep();
    packets.forEach((packet, i) => {
      converter.push(packet, i * 960);
      converter.push(packet, i * 960);
    });
    await until('two seconds have come out', () => ats.length > 95);
    converter.close();
    expect(ats.at(-1)!).toBeLessThan(packets.length * 960);
  }, 20_000);
});

describe('silence', () => {
  it('is a frame that decodes to nothing, with its configuration', async () => {
    const { frame, config } = await makeSilence();
    expect([...config]).toEqual([0x11, 0x90]);
    expect(loudFrom([frame, frame, frame, frame])).toBe(-1);
    expect(decodeAdts(new Uint8Array(0)).frames).toEqual([]);
  });
});
