import { FRAME_RATE_HZ, SAMPLE_RATE_HZ, samplesToUs } from '@juncta/core/programme';
import { PROGRAMME } from '@juncta/core/stage';
import type { PacketMessage } from '../messages';

/**
 * What the programme is encoded as. Level 3.1 is what 1280x720 at 30 frames a second needs (ITU-T H.264, table
 * A-1); the baseline profile keeps every frame in the order in which it is shown, and every place takes it.
 */
export function videoConfig(kbps: number): VideoEncoderConfig {
  return {
    codec: 'avc1.42001f',
    ...PROGRAMME,
    bitrate: kbps * 1000,
    bitrateMode: 'constant',
    framerate: FRAME_RATE_HZ,
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
        durationUs: chunk.duration ?? Math.round(1_000_000 / FRAME_RATE_HZ),
        payload,
      });
    },
    error: (error) => failed(error.message),
  });
  encoder.configure(videoConfig(kbps));
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
