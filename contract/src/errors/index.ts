import * as z from 'zod/mini';

/** What can go wrong with a request, for a program. The HTTP status follows from it. */
export const ERROR_STATUS = {
  bad_input: 400,
  signed_out: 401,
  wrong_credentials: 401,
  forbidden: 403,
  not_same_site: 403,
  not_found: 404,
  changed_meanwhile: 409,
  composed_elsewhere: 409,
  not_ready: 409,
  gone: 410,
  too_long: 413,
  too_many: 429,
  internal: 500,
  place_away: 502,
  database_away: 503,
  relay_away: 503,
  closing: 503,
} as const;

export type ErrorCode = keyof typeof ERROR_STATUS;
export const ERROR_CODES = Object.keys(ERROR_STATUS) as [ErrorCode, ...ErrorCode[]];

export const FieldError = z.object({
  /** Where: names and indexes joined by dots, as in `people.0.name`. */
  field: z.string(),
  /** What is wrong, for a program. */
  code: z.string(),
  /** What is wrong and what would be right, for a person. */
  sentence: z.string(),
});
export type FieldError = z.infer<typeof FieldError>;

/** The body of every answer that is not a success. */
export const ErrorBody = z.object({
  code: z.enum(ERROR_CODES),
  /** What happened, what was kept, and what to do, for a person. */
  sentence: z.string(),
  /** Only with `bad_input`. */
  fields: z.optional(z.array(FieldError)),
  /** Only with `changed_meanwhile`: the thing as it is now. */
  current: z.optional(z.unknown()),
  /** Seconds until it is worth trying again. Only with `too_many`, `database_away`, `relay_away` and `closing`. */
  retryAfterS: z.optional(z.int()),
  /** Names the request in the log. */
  requestId: z.optional(z.string()),
});
export type ErrorBody = z.infer<typeof ErrorBody>;
