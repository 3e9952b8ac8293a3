/** The stretches of a show's life, in order. A show is in exactly one of them. */
export const PHASES = ['plan', 'prepare', 'ready', 'live', 'wrap'] as const;
export type Phase = (typeof PHASES)[number];

/** What the phase of a show follows from. Instants in ms since the epoch; null where it has not happened. */
export interface ShowTimes {
  /** The planned start; null while none is set. */
  readonly startsAtMs: number | null;
  /** When the programme really went out. */
  readonly startedAtMs: number | null;
  readonly endedAtMs: number | null;
}

export interface PhaseNow {
  readonly phase: Phase;
  /** The next moment at which the answer can change by time alone; null when time alone changes nothing. */
  readonly changesAtMs: number | null;
  /** The planned start has gone by and nobody has started the show. */
  readonly overdue: boolean;
}

const HOUR = 3_600_000;

/** From here on people are invited, gear is checked and the rundown is written: a week before the start. */
export const PREPARE_FROM_MS = 7 * 24 * HOUR;
/** From here on the desk is opened and the line is tested: two hours before the start. */
export const READY_FROM_MS = 2 * HOUR;

/** Whoever starts a show further from its planned start than this may have taken it for another: 15 minutes. */
export const OFF_PLAN_MS = HOUR / 4;

/**
 * How far from its planned start a show would begin at `nowMs`, in ms; negative: it would be early. Null: near enough, no
 * start is planned, or it has begun already.
 */
export function offPlanMs({ startsAtMs, startedAtMs }: ShowTimes, nowMs: number): number | null {
  if (startsAtMs === null || startedAtMs !== null) return null;
  const off = nowMs - startsAtMs;
  return Math.abs(off) > OFF_PLAN_MS ? off : null;
}

/** Whoever started a show by mistake notices within a day; later it is history, with figures that would be lost. */
export const PUT_BACK_WITHIN_MS = 24 * HOUR;

/** Whether a show that is over can be put back to planned. */
export function canBePutBack({ startedAtMs, endedAtMs }: ShowTimes, nowMs: number): boolean {
  return startedAtMs !== null && endedAtMs !== null && nowMs - endedAtMs <= PUT_BACK_WITHIN_MS;
}

/**
 * The phase of a show at `nowMs`. Going live and ending are things somebody did; the phases before follow from
 * how near the start is. A show that was never started stays `ready` and is `overdue`: a booked time starts
 * nothing by itself.
 */
export function phaseAt(times: ShowTimes, nowMs: number): PhaseNow {
  const { startsAtMs, startedAtMs, endedAtMs } = times;
  if (endedAtMs !== null) return { phase: 'wrap', changesAtMs: null, overdue: false };
  if (startedAtMs !== null) return { phase: 'live', changesAtMs: null, overdue: false };
  if (startsAtMs === null) return { phase: 'plan', changesAtMs: null, overdue: false };
  const prepareAt = startsAtMs - PREPARE_FROM_MS;
  const readyAt = startsAtMs - READY_FROM_MS;
  if (nowMs < prepareAt) return { phase: 'plan', changesAtMs: prepareAt, overdue: false };
  if (nowMs < readyAt) return { phase: 'prepare', changesAtMs: readyAt, overdue: false };
  if (nowMs <= startsAtMs) return { phase: 'ready', changesAtMs: startsAtMs + 1, overdue: false };
  return { phase: 'ready', changesAtMs: null, overdue: true };
}
