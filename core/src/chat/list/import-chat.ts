import type { ExportedMessage } from './export-chat';
import { MESSAGE_KINDS, QUESTION_STATES, STANDINGS } from './kinds';

/** What a file of messages held. */
export interface ImportedChat {
  readonly messages: readonly ExportedMessage[];
  /** Lines that could not be read, from 1, and what is wrong with each; at most {@link MOST_PROBLEMS}. */
  readonly problems: readonly { readonly line: number; readonly why: ImportProblem }[];
  /** All that could not be read. */
  readonly unread: number;
}

export type ImportProblem = 'not_json' | 'no_text' | 'no_author' | 'no_time' | 'too_long';

const MOST_PROBLEMS = 20;
/** Longer than any place lets through, and than what is kept of a message. */
const MOST_CHARACTERS = 20_000;

/**
 * Reads JSON lines as `toJsonLines` writes them. A line needs a text, an author and when it was written; what else is
 * missing or makes no sense is taken as nothing. Lines that cannot be read are told, and do not keep the others out.
 */
export function fromJsonLines(file: string): ImportedChat {
  const messages: ExportedMessage[] = [];
  const problems: { line: number; why: ImportProblem }[] = [];
  let unread = 0;
  file
    .replace(/^\ufeff/, '')
    .split(/\r?\n/)
    .forEach((line, i) => {
      if (line.trim() === '') return;
      const read = readLine(line);
      if (typeof read !== 'string') {
        messages.push(read);
        return;
      }
      unread += 1;
      if (problems.length < MOST_PROBLEMS) problems.push({ line: i + 1, why: read });
    });
  return { messages, problems, unread };
}

function readLine(line: string): ExportedMessage | ImportProblem {
  let value: Partial<Record<keyof ExportedMessage, unknown>>;
  try {
    const parsed: unknown = JSON.parse(line);
    if (typeof parsed !== 'object' || parsed === null || Array.isArray(parsed)) return 'not_json';
    value = parsed;
  } catch {
    return 'not_json';
  }
  const { text, author, writtenAtMs, showTimeMs, destination, owner, standing, question, kind } = value;
  if (typeof text !== 'string') return 'no_text';
  if (text.length > MOST_CHARACTERS) return 'too_long';
  if (typeof author !== 'string') return 'no_author';
  if (!isTime(writtenAtMs)) return 'no_time';
  return {
    text,
    author,
    writtenAtMs,
    showTimeMs: isTime(showTimeMs) && showTimeMs >= 0 ? showTimeMs : null,
    destination: typeof destination === 'string' ? destination : '',
    owner: owner === true,
    standing: oneOf(STANDINGS, standing) ?? 'shown',
    question: oneOf(QUESTION_STATES, question) ?? 'none',
    kind: oneOf(MESSAGE_KINDS, kind) ?? 'message',
    takenBack: value.takenBack === true,
    accountDays: isTime(value.accountDays) && value.accountDays >= 0 ? value.accountDays : null,
  };
}

const oneOf = <T extends string>(list: readonly T[], value: unknown): T | undefined =>
  list.find((one) => one === value);

/** What a date can be made of (ECMA-262, 21.4.1.1). */
const isTime = (value: unknown): value is number =>
  typeof value === 'number' && Number.isFinite(value) && Math.abs(value) <= 8.64e15;
