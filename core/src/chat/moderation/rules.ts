import { foldedText, foldedWords, hasPhrase } from './fold';

/** What a rule does: a person decides (`aside`), or nobody sees it (`hide`). */
export const RULE_ACTIONS = ['aside', 'hide'] as const;
export type RuleAction = (typeof RULE_ACTIONS)[number];

/**
 * What a moderator lays down for messages as they come. `words`: one of these words or phrases, however disguised;
 * `links`: an address, but to these hosts; `flood`: one writer, more than so many in ten seconds; `repeat`: the same from
 * so many writers within a minute; `capitals`: mostly capitals; `first`: a writer's first message; `long`: longer than so
 * many characters; `new_account`: an account that is younger than so many days, at places that say how old it is;
 * `language`: in none of these languages, as far as that can be told.
 */
export const RULE_KINDS = [
  'words',
  'links',
  'flood',
  'repeat',
  'capitals',
  'first',
  'new_account',
  'language',
  'long',
] as const;
export type RuleKind = (typeof RULE_KINDS)[number];

export interface ChatRule {
  readonly kind: RuleKind;
  readonly action: RuleAction;
  readonly on: boolean;
  /**
   * Of `words` the words, of `links` the hosts that are let through, of `language` the languages that are (BCP 47, the
   * first part); of others empty.
   */
  readonly list: readonly string[];
  /** Of `flood`, `repeat`, `long` and `new_account`; of others it means nothing. */
  readonly most: number;
  /** Destinations at which it holds; empty: everywhere. */
  readonly where: readonly string[];
}

/** In the order in which they are asked: the first that says something decides. */
export const USUAL_RULES: readonly ChatRule[] = [
  { kind: 'words', action: 'aside', on: true, list: [], most: 0, where: [] },
  { kind: 'links', action: 'aside', on: true, list: [], most: 0, where: [] },
  { kind: 'flood', action: 'aside', on: true, list: [], most: 5, where: [] },
  // High enough that the same question from many places is none: those are asked once, by many.
  { kind: 'repeat', action: 'aside', on: true, list: [], most: 8, where: [] },
  { kind: 'capitals', action: 'aside', on: false, list: [], most: 0, where: [] },
  { kind: 'first', action: 'aside', on: false, list: [], most: 0, where: [] },
  { kind: 'new_account', action: 'aside', on: false, list: [], most: 7, where: [] },
  { kind: 'language', action: 'aside', on: false, list: ['en', 'es', 'de'], most: 0, where: [] },
  { kind: 'long', action: 'aside', on: true, list: [], most: 600, where: [] },
];

/** Rules as they were kept, with those that there were not yet when they were, in today's order. */
export const completeRules = (kept: readonly (Omit<ChatRule, 'where'> & Partial<ChatRule>)[]): ChatRule[] =>
  USUAL_RULES.map((usual) => ({ ...usual, ...kept.find(({ kind }) => kind === usual.kind) }));

/** Rules that go by what a message says, and not by who says it or how often: they are asked again when it changes. */
const OF_TEXT: readonly RuleKind[] = ['words', 'links', 'capitals', 'language', 'long'];
export const rulesOfText = (rules: readonly ChatRule[]): ChatRule[] =>
  rules.filter(({ kind }) => OF_TEXT.includes(kind));

export interface JudgedMessage {
  readonly author: string;
  readonly destination: string;
  readonly text: string;
  readonly writtenAtMs: number;
  /** Days; null: the place does not say. */
  readonly accountDays: number | null;
}

/** In which language a text is (BCP 47, the first part); null: that cannot be told. */
export type LanguageOf = (text: string) => string | null;

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

  note({ author, text, writtenAtMs }: Pick<JudgedMessage, 'author' | 'text' | 'writtenAtMs'>): void {
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
  languageOf: LanguageOf,
): ChatRule | null {
  const holds = ({ on, where }: ChatRule) =>
    on && (where.length === 0 || where.includes(message.destination));
  return rules.find((rule) => holds(rule) && isAgainst(rule, message, memory, languageOf)) ?? null;
}

function isAgainst(
  { kind, list, most }: ChatRule,
  message: JudgedMessage,
  memory: ChatMemory,
  languageOf: LanguageOf,
): boolean {
  const { author, text, writtenAtMs, accountDays } = message;
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
    case 'new_account':
      return accountDays !== null && accountDays < most;
    case 'language': {
      // With no language let through the rule would mean every message: it means none.
      const language = list.length === 0 ? null : languageOf(text);
      return language !== null && !list.includes(language);
    }
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
