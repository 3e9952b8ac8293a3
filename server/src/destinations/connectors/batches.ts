import type { ReactionCounts } from '@juncta/core/chat';
import type { ChatListener, PlaceMessage } from './connector';

const MOST_AT_ONCE = 500;
/** With more than this waiting the line is given up: what was not kept is asked for again, a bit later. */
const MOST_WAITING = 20_000;

/**
 * Hands on what a line brings one by one, as many at once as came while those before were being kept. The cursor never
 * runs ahead of what is kept; when something could not be, the line is broken off and followed again from there.
 */
export class Batches {
  private waiting: PlaceMessage[] = [];
  private keeping: Promise<void> | null = null;
  private broken = new AbortController();

  /** @param cursor where the last message that is kept stands; null: none is */
  constructor(
    private readonly listener: ChatListener,
    public cursor: string | null,
  ) {}

  /** A line begins; the signal says that it is to be broken off. */
  begin(): AbortSignal {
    this.broken = new AbortController();
    return this.broken.signal;
  }

  add(message: PlaceMessage): void {
    if (this.broken.signal.aborted) return;
    this.waiting.push(message);
    if (this.waiting.length > MOST_WAITING) this.broken.abort();
    // What comes in one go is kept in one go.
    this.keeping ??= Promise.resolve().then(() => this.keepAll());
  }

  /** What viewers pressed. What cannot be kept of it is in the next total as well. */
  react(totals: ReactionCounts): void {
    this.listener.reacted(totals).catch(() => undefined);
  }

  /** The line has ended: what it brought is kept, or dropped to be asked for again. */
  async settle(): Promise<void> {
    await this.keeping;
    this.waiting = [];
  }

  private async keepAll(): Promise<void> {
    try {
      while (this.waiting.length > 0 && !this.broken.signal.aborted) {
        const batch = this.waiting.splice(0, MOST_AT_ONCE);
        const cursor = batch.at(-1)!.seq;
        await this.listener.messages(batch, cursor);
        this.cursor = cursor;
      }
    } catch {
      this.broken.abort();
    }
    this.keeping = null;
  }
}
