/** For so long each scene of a trial is composed. */
export const TRIAL_S = 5;
/** Made sources, hard to encode, in a grid with their names: the worst scene, and what most shows are. */
export const TRIAL_SOURCES = [6, 2] as const;
/** Of the programme's rate: a frame left out now and then has other reasons. */
const HELD_SHARE = 0.95;

export interface Trial {
  readonly sources: number;
  readonly framesPerS: number;
}

/** @returns whether a computer that made so many frames a second keeps pace with a programme */
export const isHeld = ({ framesPerS }: Trial, rateHz: number): boolean => framesPerS >= rateHz * HELD_SHARE;

/**
 * What a computer holds of a programme.
 *
 * @param trials of {@link TRIAL_SOURCES}, in their order, as far as they were made: one that is held ends it; 1 or more
 */
export function judgeTrials(
  trials: readonly Trial[],
  rateHz: number,
): { readonly verdict: 'holds' | 'holds_few' | 'short'; readonly last: Trial } {
  const last = trials.at(-1);
  if (!last) throw new RangeError('there must be 1 trial or more');
  if (!isHeld(last, rateHz)) return { verdict: 'short', last };
  return { verdict: trials.length === 1 ? 'holds' : 'holds_few', last };
}
