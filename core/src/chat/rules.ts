import { foldedText, foldedWords, hasPhrase } from './fold';

/** What a rule does: a person decides (`aside`), or nobody sees it (`hide`). */
export const RULE_ACTIONS = ['aside', 'hide'] as const;
export type RuleAction = (typeof RULE_ACTIONS)[number];

/**
 * What a moderator lays down for messages as they come. `words`: one of these words or phrases, however disguised;
 * `links`: an address, but to these hosts; `flood`: one writer, more than so many in ten seconds; `repeat`: the same from
 * so many writers within a minute; `capitals`: mostly capitals; `first`: a writer's first message; `long`: longer than so
 * many characters.
 */
export const RULE_KINDS = ['words', 'links', 'flood', 'repeat', 'capitals', 'first', 'long'] as const;
export type RuleKind = (typeof RULE_KINDS)[number];

export interface ChatRule {
  readonly kind: RuleKind;
  readonly action: RuleAction;
  readonly on: boolean;
  /** Of `words` the words, of `links` the hosts that are let through; of others empty. */
  readonly list: readonly string[];
  /** Of `flood`, `repeat` and `long`; of others it means nothing. */
  readonly most: number;
}

/** In the order in which they are asked: the first that says something decides. */
export const USUAL_RULES: readonly ChatRule[] = [
  { kind: 'words', action: 'hide', on: true, list: [], most: 0 },
  { kind: 'links', action: 'aside', on: true, list: [], most: 0 },
  { kind: 'flood', action: 'aside', on: true, list: [], most: 5 },
  // High enough that the same question from many places is none: those are asked once, by many.
  { kind: 'repeat', action: 'aside', on: true, list: [], most: 8 },
  { kind: 'capitals', action: 'aside', on: false, list: [], most: 0 },
  { kind: 'first', action: 'aside', on: false, list: [], most: 0 },
  { kind: 'long', action: 'aside', on: true, list: [], most: 600 },
];

export interface JudgedMessage {
  readonly author: string;
  readonly text: string;
  readonly writtenAtMs: number;
}

const FLOOD_MS = 10_000;
const REPEAT_MS = 60_000;
/** A text shorter than this, folded, is said by many who mean nothing by it: "hello", "yes please". */
const REPEATED_LENGTH = 16;
const LEAST_CAPITALS = 12;
const CAPITALS_SHARE = 0.7;

/** What was written before, as far as rules ask for it. Made for one show; fed in the order of arrival. */
export class ChatMemory {
  private readonly byAuthor = new Map<string, number[]>();
  private readonly said = new Map<string, { atMs: number; authors: Set<string> }>();

  note({ author, text, writtenAtMs }: JudgedMessage): void {
    const times = this.byAuthor.get(author) ?? [];
    // More than the last hundred no rule asks for.
    this.byAuthor.set(author, [...times.slice(-99), writtenAtMs]);
    const folded = foldedText(text);
    if (folded.length < REPEATED_LENGTH) return;
    const known = this.said.get(folded);
    if (known && writtenAtMs - known.atMs <= REPEAT_MS) known.authors.add(author);
    else this.said.set(folded, { atMs: writtenAtMs, authors: new Set([author]) });
    if (this.said.size > 2000) this.said.delete(this.said.keys().next().value!);
  }

  isFirst = (author: string): boolean => !this.byAuthor.has(author);

  within(author: string, atMs: number, ms: number): number {
    return (this.byAuthor.get(author) ?? []).filter((time) => Math.abs(atMs - time) <= ms).length;
  }

  writersOf(text: string, atMs: number): number {
    const known = this.said.get(foldedText(text));
    return known && atMs - known.atMs <= REPEAT_MS ? known.authors.size : 0;
  }
}

/** The first rule that has something against a message, which is not noted yet; null: none has. */
export function judge(
  message: JudgedMessage,
  memory: ChatMemory,
  rules: readonly ChatRule[],
): ChatRule | null {
  return rules.find((rule) => rule.on && isAgainst(rule, message, memory)) ?? null;
}

function isAgainst({ kind, list, most }: ChatRule, message: JudgedMessage, memory: ChatMemory): boolean {
  const { author, text, writtenAtMs } = message;
  switch (kind) {
    case 'words': {
      const words = foldedWords(text);
      return list.some((phrase) => hasPhrase(words, phrase));
    }
    case 'links':
      return hostsIn(text).some((host) => !list.some((allowed) => isWithin(host, allowed.toLowerCase())));
    case 'flood':
      return memory.within(author, writtenAtMs, FLOOD_MS) + 1 > most;
    case 'repeat':
      return memory.writersOf(text, writtenAtMs) + 1 > most;
    case 'capitals':
      return isShouted(text);
    case 'first':
      return memory.isFirst(author);
    case 'long':
      return Array.from(text).length > most;
  }
}

const ADDRESS =
  /(?:https?:\/\/|www\.)?((?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+(\p{L}{2,24}))(?=$|[\s/:?#,;)!\]"'.])/giu;
/** Endings that people mean as addresses even without a scheme before them. */
const KNOWN_ENDINGS =
  /^(com|net|org|info|biz|io|tv|me|co|app|dev|shop|store|online|site|xyz|example|[a-z]{2})$/i;

/** Hosts of the addresses in a text, in lower case, with or without a scheme. */
export function hostsIn(text: string): readonly string[] {
  return [...text.normalize('NFKC').matchAll(ADDRESS)].flatMap(([whole, host, ending]) => {
    const isMeant = /^(https?:|www\.)/i.test(whole) || KNOWN_ENDINGS.test(ending!);
    return isMeant ? [host!.toLowerCase().replace(/^www\./, '')] : [];
  });
}

const isWithin = (host: string, allowed: string): boolean => host === allowed || host.endsWith(`.${allowed}`);

function isShouted(text: string): boolean {
  const letters = Array.from(text).filter((one) => /\p{L}/u.test(one));
  // Many alphabets know no capitals.
  const cased = letters.filter((one) => one.toLowerCase() !== one.toUpperCase());
  const capitals = cased.filter((one) => one !== one.toLowerCase());
  return capitals.length >= LEAST_CAPITALS && capitals.length / cased.length > CAPITALS_SHARE;
}
