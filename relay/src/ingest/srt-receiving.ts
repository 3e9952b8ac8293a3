import type { VideoCodec } from '@juncta/core/media/flv';
import { parseSrtAddress, readSrtKey } from '@juncta/core/media/srt';
import { AIRED_AUDIO_KBPS, KEYFRAME_INTERVAL_S, SAMPLE_RATE_HZ } from '@juncta/core/programme';
import { isIPv6 } from 'node:net';
import { resolveOutgoing } from '../feeds/outgoing';

/** What is made anew of what comes, since FLV cannot carry it. */
export interface MadeAnew {
  /** What the video was; null: it is handed on as it comes. */
  readonly video: VideoCodec | null;
  readonly audio: boolean;
}

/** As ffmpeg names them. */
const CODECS: Readonly<Record<string, VideoCodec>> = { hevc: 'h265', av1: 'av1', vp9: 'vp9' };
/** From here on its numbers of codecs are those of audio. */
const FIRST_AUDIO_CODEC = 0x10000;

/** Which track FLV cannot carry, in the words in which ffmpeg refuses to begin; null: it refused nothing of the kind. */
export function notOfFlv(says: string): MadeAnew | null {
  const [, codec] = /Video codec (\w+) not compatible with flv/.exec(says) ?? [];
  if (codec) return { video: CODECS[codec] ?? 'other', audio: false };
  const [, number] = /incompatible with output codec id '(\d+)'/.exec(says) ?? [];
  if (!number) return null;
  const isAudio = Number(number) >= FIRST_AUDIO_CODEC;
  return { video: isAudio ? null : 'other', audio: isAudio };
}

/** Nothing came for so long: the encoder is gone, whatever SRT still hopes for. */
const SILENCE_US = 2_000_000;
/** Then it listens anew: one that a relay left behind when it was killed is not to hold its port for ever. */
const LISTEN_US = 8_000_000;
/** How long what is lost may be asked for again, by an encoder that calls. */
const LATENCY_US = 200_000;
/** SRT's own patience with whoever says nothing to a greeting, ms. */
const GREETING_MS = 3000;

/** ffmpeg reads where it listens from a file of this form, so that no argument list shows the passphrase. */
export function whereItListens(
  { port, passphrase }: { readonly port: number; readonly passphrase: string },
  host: string,
): string {
  return listOf(host, port, {
    options: {
      mode: 'listener',
      latency: LATENCY_US,
      listen_timeout: LISTEN_US,
      timeout: SILENCE_US,
    },
    secrets: { passphrase },
  });
}

/**
 * And where it calls.
 *
 * @throws AddressRefused when the address leads to where we do not go
 */
export async function whereItCalls(
  { address, key }: { readonly address: string; readonly key: string },
  allowLocal: boolean,
): Promise<string> {
  const where = parseSrtAddress(address);
  if (!where) throw new RangeError(`${address} is no address of SRT`);
  const { streamId, passphrase } = readSrtKey(key);
  return listOf(await resolveOutgoing(where.host, allowLocal), where.port, {
    options: {
      mode: 'caller',
      latency: where.latencyMs * 1000,
      connect_timeout: GREETING_MS,
      timeout: SILENCE_US,
    },
    secrets: {
      ...(passphrase === '' ? {} : { passphrase }),
      ...(streamId === '' ? {} : { srt_streamid: streamId }),
    },
  });
}

interface Wanted {
  readonly options: Readonly<Record<string, string | number>>;
  /** In the words of somebody else: they stand by themselves, so that nothing in them is taken for an option. */
  readonly secrets: Readonly<Record<string, string>>;
}

function listOf(host: string, port: number, { options, secrets }: Wanted): string {
  const query = Object.entries(options).map(([name, value]) => `${name}=${value}`);
  const at = isIPv6(host) ? `[${host}]` : host;
  return [
    'ffconcat version 1.0',
    `file 'srt://${at}:${port}?${query.join('&')}'`,
    ...Object.entries(secrets).map(([name, value]) => `option ${name} ${quoted(value)}`),
    '',
  ].join('\n');
}

/** As ffmpeg reads quotes: nothing within them means anything, and a quote itself stands outside of them. */
const quoted = (text: string): string => `'${text.replaceAll(`'`, `'\\''`)}'`;

/** Out of MPEG-TS into FLV, as it comes. */
export function receivingArguments(made: MadeAnew, rateHz: number): string[] {
  const keyframes = String(rateHz * KEYFRAME_INTERVAL_S);
  const video = made.video
    ? [
        ...['-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'zerolatency', '-pix_fmt', 'yuv420p'],
        ...['-bf', '0', '-g', keyframes, '-keyint_min', keyframes, '-sc_threshold', '0'],
      ]
    : ['-c:v', 'copy'];
  const audio = made.audio
    ? ['-c:a', 'aac', '-b:a', `${AIRED_AUDIO_KBPS}k`, '-ar', String(SAMPLE_RATE_HZ), '-ac', '2']
    : ['-c:a', 'copy'];
  return [
    ...['-hide_banner', '-nostdin', '-loglevel', 'error', '-protocol_whitelist', 'srt,udp,file'],
    ...['-probesize', '500000', '-analyzeduration', '1000000', '-f', 'concat', '-safe', '0'],
    ...['-i', '/dev/fd/3', '-map', '0:v:0', '-map', '0:a:0?', ...video, ...audio],
    ...['-f', 'flv', '-flvflags', 'no_duration_filesize+no_sequence_end', '-flush_packets', '1', 'pipe:1'],
  ];
}
