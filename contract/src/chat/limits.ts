/** Longer than any place takes. */
export const ANSWER_MAX = 2000;
