import { encodePacket, type Packet } from '@juncta/core/media/packets';
import { decodeFile, isConfiguration, isKeyframe, TAG } from '@juncta/core/media/flv';
import { readConfigurationRecord, splitLengths } from '@juncta/core/media/h264';
import { OPUS_PACKET_SAMPLES } from '@juncta/core/media/audio';
import { execFileSync } from 'node:child_process';

/** What a desk would send, made by ffmpeg: a moving picture and a tone, really encoded. */
export interface Media {
  readonly seconds: number;
  readonly videoFrames: readonly { readonly key: boolean; readonly annexB: Uint8Array }[];
  /** Packets of 20 ms. */
  readonly audioFrames: readonly Uint8Array[];
}

const made = new Map<string, Media>();

/** H.264 with a keyframe every 2 s, and Opus. `kbps` bounds the video. */
export function makeMedia(seconds: number, size = '320x180', kbps = 400): Media {
  const name = `${seconds} ${size} ${kbps}`;
  const known = made.get(name);
  if (known) return known;
  const run = (args: string[]) =>
    execFileSync('ffmpeg', ['-hide_banner', '-loglevel', 'error', ...args], { maxBuffer: 512 * 1024 ** 2 });
  const rate = ['-b:v', `${kbps}k`, '-maxrate', `${kbps}k`, '-bufsize', `${kbps}k`];
  const video = run([
    ...[
      '-f',
      'lavfi',
      '-i',
      `testsrc2=size=${size}:rate=30${kbps > 5000 ? ',noise=alls=40:allf=t' : ''}`,
      '-t',
      String(seconds),
    ],
    ...[
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-tune',
      'zerolatency',
      '-profile:v',
      'baseline',
      '-pix_fmt',
      'yuv420p',
    ],
    ...['-g', '60', '-sc_threshold', '0', ...rate, '-f', 'flv', '-'],
  ]);
  const audioFrame = run([
    ...['-f', 'lavfi', '-i', 'sine=frequency=1000:sample_rate=48000', '-t', String(seconds), '-ac', '2'],
    ...['-c:a', 'libopus', '-b:a', '96k', '-page_duration', '20000', '-f', 'ogg', '-'],
  ]);
  const media = { seconds, videoFrames: readVideoFrames(video), audioFrames: readOpus(audioFrame) };
  made.set(name, media);
  return media;
}

/** The packets of one session, in the order of their times, numbered from 1. */
export function packetsOf(media: Media, session: string, fromUs = 0): Packet[] {
  const packets = [
    ...media.videoFrames.map(({ key, annexB }, i) => ({
      track: 'video' as const,
      key,
      timeUs: fromUs + Math.round((i * 1_000_000) / 30),
      durationUs: 33_333,
      payload: annexB,
    })),
    ...media.audioFrames.map((payload, i) => ({
      track: 'audio' as const,
      key: true,
      timeUs: fromUs + (i * OPUS_PACKET_SAMPLES * 1_000_000) / 48_000,
      durationUs: 20_000,
      payload,
    })),
  ].sort((a, b) => a.timeUs - b.timeUs);
  return packets.map((packet, i) => ({ ...packet, session, number: i + 1, slate: false }));
}

/** The first group of a medium as a standby slate: numbered from `number` on. */
export function slatePackets(media: Media, session: string, number: number): Packet[] {
  return media.videoFrames.slice(0, 60).map(({ key, annexB }, i) => ({
    session,
    number: number + i,
    track: 'video' as const,
    key,
    slate: true,
    timeUs: Math.round((i * 1_000_000) / 30),
    durationUs: 33_333,
    payload: annexB,
  }));
}

export const bytesOf = (packets: readonly Packet[]): Buffer => Buffer.concat(packets.map(encodePacket));

const START_CODE = Uint8Array.from([0, 0, 0, 1]);

function readVideoFrames(flv: Buffer): Media['videoFrames'] {
  let sets: Uint8Array[] = [];
  return decodeFile(flv).tags.flatMap((tag) => {
    if (tag.kind !== TAG.videoFrame) return [];
    if (isConfiguration(tag)) {
      const { sps, pps } = readConfigurationRecord(tag.body.subarray(5));
      sets = [sps, pps];
      return [];
    }
    // The end-of-sequence tag carries no frame.
    if (tag.body[1] !== 1) return [];
    const key = isKeyframe(tag);
    const units = [...(key ? sets : []), ...splitLengths(tag.body.subarray(5))];
    return [{ key, annexB: Buffer.concat(units.flatMap((unit) => [START_CODE, unit])) }];
  });
}

/** The packets of an Ogg stream, its two headers left out. No packet of ours spans pages. */
export function readOpus(ogg: Buffer): Uint8Array[] {
  const packets: Uint8Array[] = [];
  let at = 0;
  while (at < ogg.length) {
    const segments = ogg[at + 26]!;
    let data = at + 27 + segments;
    let length = 0;
    for (let i = 0; i < segments; i++) {
      const lace = ogg[at + 27 + i]!;
      length += lace;
      if (lace === 255) continue;
      packets.push(ogg.subarray(data, data + length));
      data += length;
      length = 0;
    }
    at = data;
  }
  return packets.slice(2);
}
