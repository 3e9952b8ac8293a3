import type { RenditionRequest } from '@juncta/contract/relay';
import { widthOf } from '@juncta/core/renditions';
import { FLV_IN, FLV_OUT } from '../media/flv-converter';

/** Of the gap between two frames that go out, so much has to pass: frames do not come quite evenly. */
const GAP_SHARE = 0.8;
/** Slices of one frame that are encoded at once. More cost quality, and there are rarely more cores to spare. */
const THREADS = 2;

/**
 * How ffmpeg makes a rendition of the programme's video. Every frame keeps its time, so that the programme's own audio goes
 * with it; none is kept back for the sake of the next; and the rate is never exceeded for longer than a second.
 */
export function renditionArguments(what: RenditionRequest): string[] {
  return [
    ...FLV_IN,
    // One thread decodes: several would keep a frame each.
    ...['-threads', '1', '-flags', 'low_delay', '-probesize', '32', '-analyzeduration', '0'],
    ...['-fpsprobesize', '0', '-f', 'flv', '-i', 'pipe:0'],
    ...['-map', '0:v:0', '-vf', shapeOf(what), '-fps_mode', 'passthrough', '-enc_time_base', '1:1000'],
    ...encoderOf(what),
    ...['-force_key_frames', `expr:gte(t,n_forced*${what.keyframeS})`, ...FLV_OUT],
  ];
}

export function shapeOf({ height, rateHz, oneIn }: RenditionRequest): string {
  const width = widthOf(height);
  return [
    ...(oneIn > 1 ? [`select=isnan(prev_selected_t)+gte(t-prev_selected_t\\,${GAP_SHARE / rateHz})`] : []),
    // Both are 16 by 9, to within a pixel of width; a programme of this size passes as it is.
    `scale=${width}:${height}:flags=fast_bilinear`,
    'setsar=1',
  ].join(',');
}

export function encoderOf({ rateHz, videoKbps, keyframeS }: RenditionRequest): string[] {
  const rate = `${videoKbps}k`;
  return [
    ...['-c:v', 'libx264', '-preset', 'superfast', '-tune', 'zerolatency', '-threads', String(THREADS)],
    ...['-pix_fmt', 'yuv420p', '-profile:v', 'main', '-bf', '0', '-r', String(rateHz)],
    ...['-g', String(Math.ceil(rateHz * keyframeS)), '-sc_threshold', '0'],
    ...['-b:v', rate, '-maxrate', rate, '-bufsize', rate],
  ];
}
