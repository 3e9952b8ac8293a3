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
