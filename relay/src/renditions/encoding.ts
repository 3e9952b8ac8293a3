import type { RenditionRequest } from '@juncta/contract/relay';
import { sizeOf } from '@juncta/core/renditions';
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
    ...['-map', '0:v:0', '-vf', filtersOf(what), '-fps_mode', 'passthrough', '-enc_time_base', '1:1000'],
    ...encoderOf(what),
    ...['-force_key_frames', `expr:gte(t,n_forced*${what.keyframeS})`, ...FLV_OUT],
  ];
}

export function filtersOf(what: RenditionRequest): string {
  const { rateHz, oneIn } = what;
  return [
    ...(oneIn > 1 ? [`select=isnan(prev_selected_t)+gte(t-prev_selected_t\\,${GAP_SHARE / rateHz})`] : []),
    shaped(what),
    'setsar=1',
  ].join(',');
}

/** Out of a picture that is 16 by 9. */
function shaped({ shape, ...what }: RenditionRequest): string {
  const { width, height } = sizeOf({ shape, ...what });
  const to = (w: number, h: number) => `scale=${w}:${h}:flags=fast_bilinear`;
  switch (shape) {
    case 'landscape':
      // Both are 16 by 9, to within a pixel of width; a programme of this size passes as it is.
      return to(width, height);
    case 'upright_middle':
      return `crop=floor(ih*9/32)*2:ih,${to(width, height)}`;
    case 'upright_halves': {
      // Of each half as much of its height as it takes: the middle, where the people are.
      const half = (side: 'l' | 'r') =>
        `[${side}]crop=iw/2:floor(iw*2/9)*2:${side === 'l' ? '0' : 'iw/2'}:(ih-oh)/2,${to(width, height / 2)}`;
      return `split[l][r];${half('l')}[upper];${half('r')}[lower];[upper][lower]vstack`;
    }
    case 'upright_whole': {
      // Made very small and large again it is blurred, which costs next to nothing; dark, so that it is not looked at.
      const ground = `crop=floor(ih*9/32)*2:ih,scale=18:32:flags=area,drawbox=c=black@0.5:t=fill,${to(width, height)}`;
      const across = to(width, linesAcross(width));
      return `split[a][b];[a]${ground}[ground];[b]${across}[whole];[ground][whole]overlay=0:(H-h)/2`;
    }
  }
}

/** Lines of a picture of this width that is 16 by 9; encoders want even numbers. */
const linesAcross = (width: number): number => 2 * Math.round((width * 9) / 32);

export function encoderOf({ rateHz, videoKbps, keyframeS }: RenditionRequest): string[] {
  const rate = `${videoKbps}k`;
  return [
    ...['-c:v', 'libx264', '-preset', 'superfast', '-tune', 'zerolatency', '-threads', String(THREADS)],
    ...['-pix_fmt', 'yuv420p', '-profile:v', 'main', '-bf', '0', '-r', String(rateHz)],
    ...['-g', String(Math.ceil(rateHz * keyframeS)), '-sc_threshold', '0'],
    ...['-b:v', rate, '-maxrate', rate, '-bufsize', rate],
  ];
}
