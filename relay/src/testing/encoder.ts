import { spawn } from 'node:child_process';

export interface EncoderSettings {
  readonly size?: string;
  readonly rateHz?: number;
  /** Frames from one keyframe to the next. */
  readonly keyframes?: number;
  readonly kbps?: number;
  /** Frames that are shown in another order. */
  readonly reordered?: boolean;
  /** Null: no sound at all. */
  readonly audio?: { readonly rateHz: number; readonly channels: number } | null;
  /** Hz of its tone. */
  readonly tone?: number;
  readonly colour?: string | null;
  /** An encoder of ffmpeg: `libx264` unless another is said. */
  readonly codec?: string;
  /** `aac` unless another is said. */
  readonly audioCodec?: string;
  /** Of SRT. */
  readonly passphrase?: string;
}

/** An outside encoder: ffmpeg with a test pattern or one colour, and a tone, in real time. */
export class TestEncoder {
  says = '';
  readonly ended: Promise<void>;
  private readonly child;

  constructor(url: string, settings: EncoderSettings = {}) {
    const { size = '320x180', rateHz = 30, keyframes = 2 * rateHz, kbps = 400, tone = 440 } = settings;
    const audio = settings.audio === undefined ? { rateHz: 48_000, channels: 2 } : settings.audio;
    const picture = settings.colour
      ? `color=c=${settings.colour}:s=${size}:r=${rateHz}`
      : `testsrc2=size=${size}:rate=${rateHz}`;
    this.child = spawn(
      'ffmpeg',
      [
        ...['-hide_banner', '-nostdin', '-loglevel', 'error', '-re', '-f', 'lavfi', '-i', picture],
        ...(audio ? ['-re', '-f', 'lavfi', '-i', `sine=frequency=${tone}:sample_rate=${audio.rateHz}`] : []),
        ...[
          '-c:v',
          settings.codec ?? 'libx264',
          '-preset',
          'ultrafast',
          '-pix_fmt',
          'yuv420p',
          '-g',
          String(keyframes),
        ],
        ...['-keyint_min', String(keyframes), '-sc_threshold', '0', '-bf', settings.reordered ? '2' : '0'],
        ...['-b:v', `${kbps}k`, '-maxrate', `${kbps}k`, '-bufsize', `${kbps}k`],
        ...(audio
          ? ['-c:a', settings.audioCodec ?? 'aac', '-b:a', '96k', '-ac', String(audio.channels)]
          : []),
        ...(settings.passphrase ? ['-passphrase', settings.passphrase] : []),
        ...['-f', url.startsWith('srt:') ? 'mpegts' : 'flv', url],
      ],
      { stdio: ['ignore', 'ignore', 'pipe'] },
    );
    this.child.stderr.on('data', (text: Buffer) => (this.says += String(text)));
    this.ended = new Promise((done) => this.child.once('close', () => done()));
  }

  async kill(): Promise<void> {
    this.child.kill('SIGKILL');
    await this.ended;
  }
}
