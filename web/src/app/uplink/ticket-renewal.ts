import type { ErrorBody } from '@juncta/contract/errors';
import type { Response } from '@juncta/contract/http';
import type { compose } from '@juncta/contract/programme';
import { TICKET_RENEWED_EVERY_MS } from '@juncta/contract/uplink';

/** A ticket that could not be renewed is asked for again after so long: the first while none is wanted yet. */
const AGAIN_MS = { early: 15_000, refused: 3000 };

export type Ticket = Response<typeof compose>;

/** What the desk does with what comes of it. `wasRefused`: the relay wants another ticket before it takes anything. */
export interface TicketHolder {
  ask(): Promise<Ticket>;
  renewed(ticket: Ticket, wasRefused: boolean): void;
  takenOver(sentence: string): void;
  failed(sentence: string): void;
}

/** Keeps a composing desk's ticket good, for as long as it takes: the server may be away, or nobody signed in here. */
export class TicketRenewal {
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** Raised when what is under way is wanted no longer. */
  private turn = 0;

  constructor(private readonly holder: TicketHolder) {}

  /** A ticket was given just now. */
  begin(): void {
    this.later(TICKET_RENEWED_EVERY_MS, false);
  }

  stop(): void {
    clearTimeout(this.timer);
    this.turn += 1;
  }

  /** @param isRefused the relay refused the one there is; false: it will run out */
  async now(isRefused: boolean): Promise<void> {
    const { turn, holder } = this;
    try {
      const ticket = await holder.ask();
      if (this.turn !== turn) return;
      holder.renewed(ticket, isRefused);
      this.begin();
    } catch (error) {
      if (this.turn !== turn) return;
      const { code, sentence } = error as ErrorBody;
      if (code === 'composed_elsewhere') {
        holder.takenOver(sentence);
        return;
      }
      // Nothing is lost yet: the relay takes the old one for as long as the server is away.
      if (isRefused) holder.failed(sentence);
      this.later(isRefused ? AGAIN_MS.refused : AGAIN_MS.early, isRefused);
    }
  }

  private later(ms: number, isRefused: boolean): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.now(isRefused), ms);
  }
}
