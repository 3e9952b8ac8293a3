import { LoudnessMeter } from '@juncta/core/media/audio';
import { outsideSource } from '@juncta/core/stage';
import { OutsideSources } from '../../stage/outside/outside-sources';
import type { RelayLine } from '../../stage/outside/messages';
import type { SourceMessage } from '../../stage/messages';
import { HeardSound } from './heard-sound';

/** Whoever looks at an outside picture. */
export interface Watcher {
  /** A frame, to be drawn at once: it is closed when this returns. Null: there is none any more. */
  shows(frame: VideoFrame | null): void;
  /** LUFS, over the last three seconds; null: silence. */
  hears(lufs: number | null): void;
  /** The relay wants another ticket. */
  ticketRefused(): void;
  /** The relay says no otherwise: too many look, or the input is no more. */
  refused(sentence: string): void;
}

const METERED_EVERY_MS = 500;

/** An outside picture that is looked at, with its loudness, and its sound where somebody listens. */
export class WatchedInput {
  private readonly sources: OutsideSources;
  private readonly port: MessagePort | null;
  private meter = new LoudnessMeter();
  private sound: HeardSound | null = null;
  private readonly metering: ReturnType<typeof setInterval>;

  constructor(inputId: string, line: RelayLine, watcher: Watcher) {
    this.sources = new OutsideSources({
      line: () => line,
      flows: () => undefined,
      ticketRefused: () => watcher.ticketRefused(),
      refused: (_source, sentence) => watcher.refused(sentence),
    });
    this.port = this.sources.receive(outsideSource(inputId), inputId);
    if (this.port) {
      this.port.onmessage = ({ data: { frame, audio } }: MessageEvent<SourceMessage>) => {
        if (frame !== undefined) {
          watcher.shows(frame);
          frame?.close();
          // Another encoder may come, and another loudness.
          if (frame === null) this.meter = new LoudnessMeter();
        }
        if (!audio) return;
        this.meter.take(audio);
        this.sound?.play(audio);
      };
    }
    this.metering = setInterval(() => watcher.hears(this.meter.lufs), METERED_EVERY_MS);
  }

  renew(line: RelayLine): void {
    this.sources.renew(line);
  }

  /** To be called by a person’s click: without one, browsers play nothing. */
  listen(isHeard: boolean): void {
    if (isHeard) {
      this.sound ??= new HeardSound();
      return;
    }
    this.sound?.close();
    this.sound = null;
  }

  close(): void {
    clearInterval(this.metering);
    this.listen(false);
    this.port?.close();
    this.sources.letGo();
  }
}
