import { machineDelayUntil, REAL_SETTING, timeAt, type Clock, type ClockSetting } from '@juncta/core/clock';

/**
 * The server's clock: the machine's, unless a rehearsal clock is followed, which alone can set it (see
 * `rehearsal-clock.ts`). Timers set here come due by what the clock shows and are set anew when it is changed.
 */
export class ServerClock implements Clock {
  private setting = REAL_SETTING;
  private readonly timers = new Set<ClockTimer>();

  now(): number {
    return timeAt(this.setting, Date.now());
  }

  get rate(): number {
    return this.setting.rate;
  }

  /** Only for `rehearsal-clock.ts` and tests. */
  adopt(setting: ClockSetting): void {
    this.setting = setting;
    for (const timer of this.timers) timer.arm();
  }

  /** Calls `act` once the clock shows `dueMs` or later. Returns what takes it back. */
  at(dueMs: number, act: () => void): () => void {
    const timer = new ClockTimer(
      () => machineDelayUntil(this.setting, Date.now(), dueMs),
      () => {
        this.timers.delete(timer);
        act();
      },
    );
    this.timers.add(timer);
    timer.arm();
    return () => {
      this.timers.delete(timer);
      timer.disarm();
    };
  }
}

/** Node's timers overflow beyond about 24 days; a longer wait is made of several. */
const LONGEST_TIMEOUT_MS = 2 ** 31 - 1;

class ClockTimer {
  private handle: NodeJS.Timeout | undefined;

  constructor(
    private readonly remaining: () => number | null,
    private readonly due: () => void,
  ) {}

  arm(): void {
    this.disarm();
    const delay = this.remaining();
    if (delay === null) return;
    const step = Math.min(delay, LONGEST_TIMEOUT_MS);
    this.handle = setTimeout(() => (step < delay ? this.arm() : this.due()), step);
    this.handle.unref();
  }

  disarm(): void {
    clearTimeout(this.handle);
  }
}

/**
 * The clock of sessions, links and limits: always the machine's. A rehearsal that jumps a week ahead must not
 * sign everybody out, and one that turns back must not bring an expired link to life.
 */
export const securityClock: Clock = { now: () => Date.now() };
