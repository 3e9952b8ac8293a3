import type { Carriage, IngestWants } from '@juncta/core/ingest';
import { AIRED_AUDIO_KBPS, KEYFRAME_INTERVAL_S, SAMPLE_RATE_HZ } from '@juncta/core/programme';
import { FLV_IN, FLV_OUT } from '../media/flv-converter';

/**
 * How ffmpeg makes an outside picture fit the show's format: what has to be made anew is encoded, the rest copied. Video of
 * the programme's size and rate, keyframes as often as places want them, nothing shown out of its order.
 */
export function fittingArguments(
  carriage: Carriage,
  { width, height, rateHz, mostKbps }: IngestWants,
): string[] {
  const keyframes = rateHz * KEYFRAME_INTERVAL_S;
  const shape = [
    'yadif=deint=interlaced',
    `scale=${width}:${height}:force_original_aspect_ratio=decrease`,
    `pad=${width}:${height}:-1:-1`,
    'setsar=1',
    `fps=${rateHz}`,
  ];
  const video = carriage.video
    ? [
        ...['-vf', shape.join(','), '-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'zerolatency'],
        ...['-pix_fmt', 'yuv420p', '-profile:v', 'main', '-bf', '0'],
        ...['-g', `${keyframes}`, '-keyint_min', `${keyframes}`, '-sc_threshold', '0'],
        ...['-b:v', `${mostKbps}k`, '-maxrate', `${mostKbps}k`, '-bufsize', `${mostKbps}k`],
      ]
    : ['-c:v', 'copy'];
  const audio = carriage.audio
    ? [
        ...['-af', 'aresample=async=1', '-c:a', 'aac', '-b:a', `${AIRED_AUDIO_KBPS}k`],
        ...['-ar', `${SAMPLE_RATE_HZ}`, '-ac', '2'],
      ]
    : ['-c:a', 'copy'];
  return [
    ...FLV_IN,
    // What it has to know stands in the first tags.
    ...['-probesize', '200000', '-analyzeduration', '500000', '-f', 'flv', '-i', 'pipe:0'],
    ...['-map', '0:v:0', '-map', '0:a:0?', ...video, ...audio, ...FLV_OUT],
  ];
}
