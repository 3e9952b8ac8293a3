import type { RenditionReport, RenditionRequest } from '@juncta/contract/relay';
import type { ProgrammeTag } from '@juncta/core/programme';
import type { Logger } from 'pino';
import type { Aired, ProgrammeHeads } from '../programme/sink';
import { Rendition } from './rendition';

/** By what a rendition is known: those that are the same in all are one. */
export const renditionName = (what: RenditionRequest): string =>
  [what.shape, what.height, what.rateHz, what.videoKbps, what.keyframeS, what.oneIn].join(' ');

/** A show's renditions: each begun by the first feed that wants it, and ended with the last. */
export class Renditions {
  private readonly all = new Map<string, Rendition>();

  constructor(
    private readonly programme: ProgrammeHeads,
    private readonly log: Logger,
    /** What goes out of one, in order. */
    private readonly out: (name: string, tag: ProgrammeTag) => void,
  ) {}

  open(what: RenditionRequest): Rendition {
    const name = renditionName(what);
    let rendition = this.all.get(name);
    if (!rendition) {
      const { programme, log } = this;
      rendition = new Rendition(what, { programme, log, out: (tag) => this.out(name, tag) });
      this.all.set(name, rendition);
    }
    return rendition;
  }

  push(aired: Aired): void {
    for (const rendition of this.all.values()) rendition.push(aired);
  }

  /** Ends what nobody gets any more. */
  keepOnly(names: ReadonlySet<string>): void {
    for (const [name, rendition] of this.all) {
      if (names.has(name)) continue;
      this.log.info({ ...rendition.what }, 'a rendition ends');
      this.all.delete(name);
      rendition.close();
      this.programme.changed();
    }
  }

  /** @param whoGets the destinations of one, by its name */
  report(whoGets: (name: string) => readonly string[], nowMs: number): RenditionReport[] {
    return [...this.all].map(([name, rendition]) => rendition.report(whoGets(name), nowMs));
  }

  close(): void {
    for (const rendition of this.all.values()) rendition.close();
  }
}
