import { figuresOf, SAMPLE_RATE_HZ, samplesToUs, type PictureFormat } from '@juncta/core/programme';
import type { PacketMessage, VideoEncoding } from '../messages';

const [HIGH, MAIN, BASELINE] = ['6400', '4d00', '4200'] as const;
/**
 * From the best down. A chip does the dearer profiles for nothing, at the same rate with a better picture; in software they
 * cost what the pictures of guests need, and the baseline profile does.
 */
const TRIED: readonly Omit<VideoEncoding, 'format'>[] = [
  { profile: HIGH, hardwareAcceleration: 'prefer-hardware' },
  { profile: MAIN, hardwareAcceleration: 'prefer-hardware' },
  { profile: BASELINE, hardwareAcceleration: 'prefer-hardware' },
  { profile: BASELINE, hardwareAcceleration: 'no-preference' },
];

/** What this browser really encodes of a format; null: nothing. */
export async function findEncoding(format: PictureFormat): Promise<VideoEncoding | null> {
  if (typeof VideoEncoder === 'undefined') return null;
  for (const one of TRIED) {
    const encoding = { format, ...one };
    const config = videoConfig(encoding, figuresOf(format).wantedKbps);
    const isThere = await VideoEncoder.isConfigSupported(config).catch(() => null);
    if (isThere?.supported) return encoding;
  }
  return null;
}

/** What the programme is encoded as: every frame in the order in which it is shown. */
export function videoConfig(
  { format, profile, hardwareAcceleration }: VideoEncoding,
  kbps: number,
): VideoEncoderConfig {
  const { width, height, rateHz, levelIdc } = figuresOf(format);
  return {
    codec: `avc1.${profile}${levelIdc.toString(16).padStart(2, '0')}`,
    width,
    height,
    bitrate: kbps * 1000,
    bitrateMode: 'constant',
    framerate: rateHz,
    hardwareAcceleration,
    latencyMode: 'realtime',
    avc: { format: 'annexb' },
  };
}

export const AUDIO_KBPS = 128;
export const AUDIO_CONFIG: AudioEncoderConfig = {
  codec: 'opus',
  sampleRate: SAMPLE_RATE_HZ,
  numberOfChannels: 2,
  bitrate: AUDIO_KBPS * 1000,
};
/** Samples that go into one packet: 20 ms. */
export const PACKET_SAMPLES = 960;

type Emit = (packet: PacketMessage) => void;

export function makeVideoEncoder(
  encoding: VideoEncoding,
  kbps: number,
  slate: boolean,
  emit: Emit,
  failed: (why: string) => void,
): VideoEncoder {
  const encoder = new VideoEncoder({
    output: (chunk) => {
      const payload = new Uint8Array(chunk.byteLength);
      chunk.copyTo(payload);
      emit({
        track: 'video',
        key: chunk.type === 'key',
        slate,
        timeUs: chunk.timestamp,
        durationUs: chunk.duration ?? Math.round(1_000_000 / figuresOf(encoding.format).rateHz),
        payload,
      });
    },
    error: (error) => failed(error.message),
  });
  encoder.configure(videoConfig(encoding, kbps));
  return encoder;
}

/** Packets are counted, not read off: 960 samples each, whatever the encoder says of its times. */
export function makeAudioEncoder(emit: Emit, failed: (why: string) => void): AudioEncoder {
  let packets = 0;
  const encoder = new AudioEncoder({
    output: (chunk) => {
      const payload = new Uint8Array(chunk.byteLength);
      chunk.copyTo(payload);
      const timeUs = samplesToUs(packets++ * PACKET_SAMPLES);
      emit({ track: 'audio', key: true, slate: false, timeUs, durationUs: 20_000, payload });
    },
    error: (error) => failed(error.message),
  });
  encoder.configure(AUDIO_CONFIG);
  return encoder;
}
