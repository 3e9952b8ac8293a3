import { SilenceDetector } from '@juncta/core/programme';
import type { Aired, ProgrammeSink } from './sink';

/** Listens to what goes out: whether viewers hear anything while the source is shown. */
export class AiredSilence implements ProgrammeSink {
  private readonly detector = new SilenceDetector();

  /** @param sourceShown whether viewers see the source just now, not the slate */
  constructor(private readonly sourceShown: () => boolean) {}

  push({ frame }: Aired): void {
    if (frame.track === 'audio') this.detector.hear(frame.frame, frame.at);
    if (!this.sourceShown()) this.detector.rest(frame.at);
  }

  /** A run begins: what was heard before does not count. */
  forget(): void {
    this.detector.forget();
  }

  /** @param at where the timeline is, samples. Gives ms; null: nothing was ever heard. */
  silentMs(at: number): number | null {
    return this.detector.silentMs(at);
  }

  tick(): void {
    // Counts by the programme's own clock.
  }

  close(): void {
    // Holds nothing.
  }
}
