import type { ErrorBody } from '@juncta/contract/errors';
import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';
import { isDatabaseAway } from '../database/connect';
import { Refusal } from './errors';

/** Everything that was thrown on the way becomes an `ErrorBody`; what we did not foresee tells nothing of itself. */
export function answerErrors(log: Logger): ErrorRequestHandler {
  return (error: unknown, req, res, next) => {
    if (res.headersSent) {
      next(error);
      return;
    }
    const refusal = asRefusal(error);
    if (refusal.status >= 500) log.error({ err: error, requestId: req.id }, 'a request failed');
    const { retryAfterS } = refusal.more;
    if (retryAfterS !== undefined) res.setHeader('Retry-After', String(retryAfterS));
    const body: ErrorBody = {
      code: refusal.code,
      sentence: refusal.sentence,
      ...refusal.more,
      requestId: req.id as string,
    };
    res.setHeader('Cache-Control', 'no-store');
    res.status(refusal.status).json(body);
  };
}

/** SQLSTATE 22021 and 22P05: a NUL, or half a surrogate pair, which PostgreSQL keeps in no text. */
function isUnwritable(error: unknown): boolean {
  for (let e: unknown = error; e instanceof Error; e = e.cause) {
    const { code } = e as { code?: unknown };
    if (code === '22021' || code === '22P05') return true;
  }
  return false;
}

function asRefusal(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  if (isDatabaseAway(error)) {
    return new Refusal(
      'database_away',
      'The database does not answer just now. Nothing of yours is lost; try again in a few seconds.',
      { retryAfterS: 3 },
    );
  }
  if (isUnwritable(error)) {
    return new Refusal(
      'bad_input',
      'What was sent holds a character that no text can hold. Nothing was saved; write it once more.',
    );
  }
  const type = (error as { type?: unknown } | null)?.type;
  if (type === 'entity.too.large') {
    return new Refusal(
      'too_long',
      'What was sent is too long for this house to read. Shorten it and try again.',
    );
  }
  if (type === 'entity.parse.failed' || type === 'encoding.unsupported' || type === 'charset.unsupported') {
    return new Refusal('bad_input', 'What was sent is not JSON in UTF-8.');
  }
  if (error instanceof URIError) return new Refusal('not_found', 'There is no such page.');
  return new Refusal(
    'internal',
    'Something went wrong here. It was written to the log; nothing was changed.',
  );
}
