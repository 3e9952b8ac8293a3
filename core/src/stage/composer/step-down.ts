/**
 * When a computer cannot make every frame. First they are drawn smaller, which viewers hardly see; then half of them are
 * made, evenly, which is better than most of them in jerks. One bad
 * window is borne, because somebody who comes in costs a moment and no more; two in a row step down. It steps up again
 * only after a calm while, which is twice as long after each relapse, so that the picture does not go back and forth.
 */
const TOO_MANY_LEFT_OUT = 0.15;
/** A frame that is missed now and then has other reasons. */
const CALM_LEFT_OUT = 0.02;
const BAD_WINDOWS = 2;
/** Windows that are calm before all are tried again; the caller's windows are about five seconds. */
const CALM_WINDOWS = 4;
const MOST_CALM_WINDOWS = 64;

/** From the best down: whole; two thirds of the width and height, brought to size by the encoder; half of those. */
const DRAWN = ['whole', 'smaller', 'smaller_halved'] as const;
export type Drawn = (typeof DRAWN)[number];

/** The share of its width and height in which a programme is drawn. */
export const drawnShare = (drawn: Drawn): number => (drawn === 'whole' ? 1 : 2 / 3);

export interface StepDown {
  readonly drawn: Drawn;
  /** Windows in a row in which next to nothing was left out. */
  readonly calm: number;
  /** Windows in a row in which too much was. */
  readonly bad: number;
  /** Calm windows that are wanted before the next step up. */
  readonly wanted: number;
}

export const FULL_PACE: StepDown = { drawn: 'whole', calm: 0, bad: 0, wanted: CALM_WINDOWS };

/**
 * After each window: what is to be done in the next.
 *
 * @param due frames that should have been made, 1 or more
 * @param leftOut those of them that were not, 0 to `due`
 */
export function judgeWindow(step: StepDown, due: number, leftOut: number): StepDown {
  const calm = leftOut / due <= CALM_LEFT_OUT ? step.calm + 1 : 0;
  const bad = leftOut / due > TOO_MANY_LEFT_OUT ? step.bad + 1 : 0;
  const at = DRAWN.indexOf(step.drawn);
  const below = DRAWN[at + 1];
  if (below && bad >= BAD_WINDOWS) return { drawn: below, calm: 0, bad: 0, wanted: step.wanted };
  const above = DRAWN[at - 1];
  if (!above || calm < step.wanted) return { ...step, calm, bad };
  return { drawn: above, calm: 0, bad: 0, wanted: Math.min(MOST_CALM_WINDOWS, step.wanted * 2) };
}
