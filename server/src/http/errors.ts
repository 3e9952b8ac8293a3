import { ERROR_STATUS, type ErrorBody, type ErrorCode, type FieldError } from '@juncta/contract/errors';

/** An answer that is not a success, thrown from wherever it is found out and written by `answerErrors`. */
export class Refusal extends Error {
  readonly status: number;

  constructor(
    readonly code: ErrorCode,
    readonly sentence: string,
    readonly more: Pick<ErrorBody, 'fields' | 'current' | 'retryAfterS'> = {},
  ) {
    super(`${code}: ${sentence}`);
    this.status = ERROR_STATUS[code];
  }
}

export function badInput(fields: readonly FieldError[]): Refusal {
  const sentence =
    fields.length === 1
      ? fields[0]!.sentence
      : `Nothing was saved: ${fields.length} entries need another look.`;
  return new Refusal('bad_input', sentence, { fields: [...fields] });
}

export const notFound = (what: string) =>
  new Refusal('not_found', `There is no such ${what}. It may have been removed, or the address is wrong.`);
