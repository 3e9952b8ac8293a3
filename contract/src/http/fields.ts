import { FIRST_INSTANT_MS, LAST_INSTANT_MS } from '@juncta/core/schedule';
import * as z from 'zod/mini';

/** Ids are random UUIDs, so that none can be guessed from another. */
export const Id = z.uuid();

/** An instant, ms since 1970-01-01T00:00Z. */
export const InstantMs = z.int();

/** Nothing: for endpoints without parameters, without a body, or without an answer. */
export const Nothing = z.object({});

/** Cc but tab and newline, and the marks that turn the direction of what follows: they can disguise a text. */
const INVISIBLE = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/;

/** A text that is kept as it was written, and holds nothing that cannot be seen. */
export const seen = (max: number) =>
  z.string().check(
    z.maxLength(max),
    z.refine((text) => !INVISIBLE.test(text), { error: 'invisible' }),
  );

/** An instant that somebody plans, ms; see core. */
export const PlannedMs = z.int().check(z.minimum(FIRST_INSTANT_MS), z.maximum(LAST_INSTANT_MS));

/** Codes of our own refinements; the sentence for each is written where sentences are written. */
export const TEXT_PROBLEMS = ['empty', 'one_line', 'invisible'] as const;

/** Takes room and shows nothing: formats, marks, blanks, and letters that are drawn as a blank. */
const UNSEEN = /[\p{C}\p{Z}\p{M}\u115f\u1160\u2800\u3164\uffa0]/gu;

function cleaned(value: string): string {
  return value.normalize('NFC').replaceAll('\r\n', '\n').trim();
}

/** A text of one line, trimmed and in NFC. HTML in it is text like any other, and is shown as such. */
export function line(max: number, min: 0 | 1 = 1) {
  return z.pipe(
    z.pipe(z.string().check(z.maxLength(max * 4)), z.transform(cleaned)),
    z.string().check(
      z.refine((text) => min === 0 || text.replace(UNSEEN, '') !== '', { error: 'empty' }),
      z.maxLength(max),
      z.refine((text) => !/[\n\t]/.test(text), { error: 'one_line' }),
      z.refine((text) => !INVISIBLE.test(text), { error: 'invisible' }),
    ),
  );
}

/** A text of any number of lines, trimmed and in NFC; may be empty. */
export function paragraphs(max: number) {
  return z.pipe(
    z.pipe(z.string().check(z.maxLength(max * 4)), z.transform(cleaned)),
    z.string().check(
      z.maxLength(max),
      z.refine((text) => !INVISIBLE.test(text), { error: 'invisible' }),
    ),
  );
}
