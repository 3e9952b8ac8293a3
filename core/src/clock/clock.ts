/**
 * The one clock of everything that is planned, due, or said to have happened.
 *
 * Server, jobs and stand-ins take the time from a `Clock`, never from the machine, so that a rehearsal or a
 * test can set or stretch it. Media runs on media time (see `stage/programme-clock`) and must not use it.
 */
export interface Clock {
  /** Now, in milliseconds since 1970-01-01T00:00Z. */
  now(): number;
}

/**
 * How a clock stands to the machine's own: at the machine's instant `machineAtMs` it showed `atMs`, and since
 * then it has run `rate` times as fast.
 */
export interface ClockSetting {
  /** Machine instant of the setting, ms since the epoch. */
  readonly machineAtMs: number;
  /** What the clock showed then, ms since the epoch. */
  readonly atMs: number;
  /** Speed, 0 (stands still) to {@link FASTEST_RATE}. */
  readonly rate: number;
}

/** A day in 24 s. Beyond this the timers of a rehearsal would be finer than the machine's. */
export const FASTEST_RATE = 3600;

/** The clock that is the machine's. */
export const REAL_SETTING: ClockSetting = { machineAtMs: 0, atMs: 0, rate: 1 };

/** What a clock with this setting shows at the machine's instant `machineNowMs`, in whole ms. */
export function timeAt(setting: ClockSetting, machineNowMs: number): number {
  return Math.round(setting.atMs + (machineNowMs - setting.machineAtMs) * setting.rate);
}

/**
 * How long the machine has to wait, from `machineNowMs`, until the clock shows `dueMs`: 0 when it already
 * does, null when the clock stands still and never will.
 */
export function machineDelayUntil(setting: ClockSetting, machineNowMs: number, dueMs: number): number | null {
  const missing = dueMs - timeAt(setting, machineNowMs);
  if (missing <= 0) return 0;
  return setting.rate === 0 ? null : Math.ceil(missing / setting.rate);
}

/** The same clock from `machineNowMs` on at another speed, without a jump in what it shows. */
export function withRate(setting: ClockSetting, machineNowMs: number, rate: number): ClockSetting {
  assertRate(rate);
  return { machineAtMs: machineNowMs, atMs: timeAt(setting, machineNowMs), rate };
}

/** The same speed, but showing `atMs` at `machineNowMs`. */
export function setTo(setting: ClockSetting, machineNowMs: number, atMs: number): ClockSetting {
  if (!Number.isFinite(atMs)) throw new RangeError('atMs must be a finite number of milliseconds');
  return { machineAtMs: machineNowMs, atMs, rate: setting.rate };
}

function assertRate(rate: number): void {
  if (!(rate >= 0 && rate <= FASTEST_RATE)) {
    throw new RangeError(`rate must be from 0 to ${FASTEST_RATE}, not ${rate}`);
  }
}
