import { DestroyRef, inject, Injectable, signal } from '@angular/core';
import { timeAt, type Clock, type ClockSetting } from '@juncta/core/clock';
import { readClock } from '@juncta/contract/clock';
import { Api } from '../api/api';

const TICK_MS = 1000;
const ASK_EVERY_MS = 20_000;

/**
 * The clock a page shows: the server's, not that of the machine the page runs on, which may be wrong. Asked for
 * again and again, and carried on in between.
 */
@Injectable({ providedIn: 'root' })
export class PageClock implements Clock {
  private readonly api = inject(Api);
  private setting: ClockSetting = { machineAtMs: 0, atMs: 0, rate: 1 };

  /** Now, ms since the epoch, moved on every second. */
  readonly nowMs = signal(Date.now());
  /** Speed; other than 1 only in a rehearsal. */
  readonly rate = signal(1);
  /** Whether this is another time than the world's: a rehearsal clock that was set or stretched. */
  readonly rehearsal = signal(false);

  constructor() {
    this.ask();
    const ticking = setInterval(() => this.nowMs.set(this.now()), TICK_MS);
    const asking = setInterval(() => this.ask(), ASK_EVERY_MS);
    inject(DestroyRef).onDestroy(() => {
      clearInterval(ticking);
      clearInterval(asking);
    });
  }

  now(): number {
    return timeAt(this.setting, Date.now());
  }

  private ask(): void {
    const askedAt = Date.now();
    this.api.call(readClock).subscribe({
      next: ({ nowMs, rate, rehearsal }) => {
        const machineAtMs = (askedAt + Date.now()) / 2;
        this.setting = { machineAtMs, atMs: nowMs, rate };
        this.rate.set(rate);
        this.rehearsal.set(rehearsal && (rate !== 1 || Math.abs(nowMs - machineAtMs) > 60_000));
        this.nowMs.set(this.now());
      },
      // The time goes on as it was; that the server is away is said elsewhere.
      error: () => undefined,
    });
  }
}
