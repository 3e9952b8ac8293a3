import { spawn } from 'node:child_process';

/** An outside encoder: ffmpeg, sending one colour and a tone in real time. What it wants of the house is an address. */
export class Encoder {
  private readonly child;
  private readonly ended: Promise<void>;

  constructor(
    url: string,
    {
      colour,
      rateHz = 25,
      soundHz = 44_100,
      passphrase,
    }: { colour: string; rateHz?: number; soundHz?: number; passphrase?: string },
  ) {
    this.child = spawn(
      'ffmpeg',
      [
        ...['-hide_banner', '-nostdin', '-v', 'error'],
        ...['-re', '-f', 'lavfi', '-i', `color=c=${colour}:s=1280x720:r=${rateHz}`],
        ...['-re', '-f', 'lavfi', '-i', `sine=frequency=440:sample_rate=${soundHz}`],
        ...['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', '-bf', '0'],
        ...['-g', String(2 * rateHz), '-keyint_min', String(2 * rateHz), '-sc_threshold', '0'],
        ...['-c:a', 'aac', '-b:a', '96k', '-ac', '1'],
        ...(passphrase === undefined ? [] : ['-passphrase', passphrase]),
        ...['-f', url.startsWith('srt:') ? 'mpegts' : 'flv', url],
      ],
      { stdio: 'ignore' },
    );
    this.ended = new Promise((done) => this.child.once('close', () => done()));
  }

  /** As if its machine had died. */
  async kill(): Promise<void> {
    this.child.kill('SIGKILL');
    await this.ended;
  }
}
