import type { FieldError } from '@juncta/contract/errors';
import type { core } from 'zod/mini';

type Issue = core.$ZodIssue;

/** Zod's issues as field errors: one for each field, the first that was found, in words. */
export function fieldErrors(issues: readonly Issue[]): FieldError[] {
  const byField = new Map<string, FieldError>();
  for (const issue of issues) {
    const field = issue.path.join('.');
    if (!byField.has(field)) byField.set(field, { field, ...describeIssue(issue) });
  }
  return [...byField.values()];
}

function describeIssue(issue: Issue): Omit<FieldError, 'field'> {
  const name = nameOf(issue.path);
  switch (issue.code) {
    case 'too_big':
      return {
        code: 'too_long',
        sentence: `${name} is too ${size(issue.origin, 'big')}: at most ${amount(issue.maximum, issue.origin)}.`,
      };
    case 'too_small':
      return {
        code: 'too_short',
        sentence: `${name} is too ${size(issue.origin, 'small')}: at least ${amount(issue.minimum, issue.origin)}.`,
      };
    case 'invalid_type':
      return issue.input === undefined || issue.input === null
        ? { code: 'missing', sentence: `${name} is missing.` }
        : { code: 'wrong_kind', sentence: `${name} must be ${KINDS[issue.expected] ?? issue.expected}.` };
    case 'invalid_format':
      return {
        code: 'bad_form',
        sentence: `${name} is not ${FORMATS[issue.format] ?? 'in the right form'}.`,
      };
    case 'invalid_value':
      return {
        code: 'not_one_of',
        sentence: `${name} must be one of: ${issue.values.map(String).join(', ')}.`,
      };
    case 'custom':
      return (
        CUSTOM[issue.message]?.(name) ?? { code: 'bad_form', sentence: `${name} cannot be used as it is.` }
      );
    default:
      return { code: 'bad_form', sentence: `${name} cannot be used as it is.` };
  }
}

const KINDS: Record<string, string> = {
  string: 'a text',
  int: 'a whole number',
  number: 'a number',
  array: 'a list',
  object: 'an object',
  boolean: 'yes or no',
};
const FORMATS: Record<string, string> = {
  email: 'an e-mail address',
  uuid: 'an id',
  regex: 'in the right form',
};

const CUSTOM: Record<string, (name: string) => Omit<FieldError, 'field'>> = {
  empty: (name) => ({ code: 'empty', sentence: `${name} is empty.` }),
  one_line: (name) => ({ code: 'one_line', sentence: `${name} must be one line.` }),
  outside_picture: (name) => ({
    code: 'outside_picture',
    sentence: `${name} reaches beyond the picture: its left and width, or its top and height, are more than 1 together.`,
  }),
  not_an_address: (name) => ({
    code: 'not_an_address',
    sentence: `${name} is not an address of the web: it begins with https:// and names a site.`,
  }),
  unknown_zone: (name) => ({ code: 'unknown_zone', sentence: `${name} is not a time zone we know.` }),
  invisible: (name) => ({
    code: 'invisible',
    sentence: `${name} contains control characters or marks that turn the direction of writing. Type it anew.`,
  }),
};

function size(origin: string, which: 'big' | 'small'): string {
  const number = which === 'big' ? 'large' : 'small';
  const length = which === 'big' ? 'long' : 'short';
  return origin === 'string' || origin === 'array' ? length : number;
}

function amount(n: number | bigint, origin: string): string {
  if (origin === 'string') return `${n} characters`;
  return origin === 'array' ? `${n} entries` : String(n);
}

/** `people.0.name` as people call it: the last name in the path, spelt out. */
function nameOf(path: readonly PropertyKey[]): string {
  const last = [...path].reverse().find((part) => typeof part === 'string') ?? 'the request';
  const words = last.replace(/([a-z])([A-Z])/g, '$1 $2').toLowerCase();
  return words.charAt(0).toUpperCase() + words.slice(1);
}
