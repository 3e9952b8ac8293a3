/**
 * An input, as its card shows it. `knocking`: somebody tried it lately with a key that it does not have; `in_preview`: it
 * is here, and reaches no viewer; `as_programme`: it is what viewers get.
 */
export const INPUT_STATES = ['nothing', 'knocking', 'in_preview', 'as_programme'] as const;
export type InputState = (typeof INPUT_STATES)[number];

/** Who stays when a second encoder comes with the key of one that is sending. */
export const SECOND_SENDERS = ['refused', 'takes_over'] as const;
export type SecondSender = (typeof SECOND_SENDERS)[number];

/** How an encoder reaches an input. `srt`: it calls, and is let in by its passphrase; `srt_called`: it listens, and we call. */
export const TRANSPORTS = ['rtmp', 'srt', 'srt_called'] as const;
export type Transport = (typeof TRANSPORTS)[number];

/** Why an encoder that is called does not come. `not_allowed`: it lies within the house's own network. */
export const CALL_PROBLEMS = [
  'not_found',
  'not_allowed',
  'no_answer',
  'wrong_passphrase',
  'refused',
] as const;
export type CallProblem = (typeof CALL_PROBLEMS)[number];

/** Each input that comes by SRT has a port of its own; so many stand beside one another. */
export const SRT_PORTS = 8;

/**
 * What becomes of an input that arrives. `waits`: in preview, until somebody takes it; `joins_stage`: it is a source on the
 * stage, at hand there before it has come; `is_taken`: it becomes the programme at once; `test_only`: it is looked at, and
 * reaches no viewer.
 */
export const ON_ARRIVAL = ['waits', 'joins_stage', 'is_taken', 'test_only'] as const;
export type OnArrival = (typeof ON_ARRIVAL)[number];

/** A wrong key is told this long after somebody came with one. */
export const KNOCK_MS = 30_000;

/** Of one show. */
export const MOST_INPUTS = 8;
