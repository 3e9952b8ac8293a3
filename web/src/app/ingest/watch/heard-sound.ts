/** What is heard begins this much after it came, so that a piece that is a little late leaves no hole. s */
const AHEAD_S = 0.08;
/** What has piled up beyond this is left out. s */
const MOST_AHEAD_S = 0.6;
const RATE_HZ = 48_000;

/** Plays pieces of sound one after another, as they come. */
export class HeardSound {
  private readonly context = new AudioContext({ sampleRate: RATE_HZ, latencyHint: 'interactive' });
  private nextS = 0;

  /** @param channels one or two, at 48 kHz */
  play(channels: readonly Float32Array<ArrayBuffer>[]): void {
    const { currentTime } = this.context;
    const [first] = channels;
    if (!first || first.length === 0 || this.nextS > currentTime + MOST_AHEAD_S) return;
    const buffer = this.context.createBuffer(channels.length, first.length, RATE_HZ);
    channels.forEach((samples, i) => buffer.copyToChannel(samples, i));
    const source = this.context.createBufferSource();
    source.buffer = buffer;
    source.connect(this.context.destination);
    if (this.nextS < currentTime) this.nextS = currentTime + AHEAD_S;
    source.start(this.nextS);
    this.nextS += buffer.duration;
  }

  close(): void {
    void this.context.close();
  }
}
