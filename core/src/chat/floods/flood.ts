import { foldedWords } from '../moderation/fold';
import { isOrdinary } from './ordinary';

/**
 * Floods: many messages at once that say the same, or that come from a few who do not stop. Loud is not enough: people
 * greet, cheer and answer polls all at once too, but in short words and each once. So a message counts as *alike* when
 * several long enough texts like it came just before, or when its writer does not let up; and there is a flood when
 * most of what comes is alike, and far more of it than in the show's own last ten minutes. Greetings and questions are
 * alike only where one writer repeats them. A flood is one group of messages that are like each other, and whatever else
 * is frequent at that time is no part of it.
 */
/** What stands on messages that were set aside with a flood: nobody looked at each of them. */
export const BY_FLOOD = 'in_flood';
/** With a flood that is none these are shown again: rules caught them for the same reasons. */
export const LET_BE_WITH_FLOOD: readonly string[] = [BY_FLOOD, 'repeat', 'flood'];

export interface FloodMessage {
  /** The place's own id of a message, unique within a show together with its place. */
  readonly id: string;
  /** Unique over all places. */
  readonly author: string;
  readonly text: string;
  /** When it came to us, ms: places' own clocks differ. */
  readonly atMs: number;
}

/** What a flood is known by: enough to tell whether one more message belongs to it. */
export interface FloodMarks {
  readonly traits: readonly string[];
  readonly authors: readonly string[];
}

export interface Flood extends FloodMarks {
  /** When the first of it came, ms. */
  readonly sinceMs: number;
  /** When the last of it came, ms. */
  readonly lastMs: number;
  readonly messages: number;
  readonly writers: number;
  /** What most of it says, the most frequent first, at most {@link MOST_SAMPLES}. */
  readonly samples: readonly string[];
}

/** As many examples are told of a flood. */
export const MOST_SAMPLES = 3;
/** In so many ms it has to be found. */
const WINDOW_MS = 5000;
/** So long before what is like a message may lie. */
const ALIKE_MS = 20_000;
const BASELINE_MS = 10 * 60_000;
/** In a window: so many alike make a flood, in a quiet show. */
const LEAST_ALIKE = 8;
/** Alike of all that came in the window. */
const LEAST_SHARE = 0.5;
/** So many times what the last ten minutes had of such in a window. */
const TIMES_USUAL = 4;
/** With so many before it that are like it. */
const LIKE_BEFORE = 3;
/** A writer with so many in a window does not let up. */
const UNREMITTING = 5;
/** Shorter than this, and it is said by many who mean nothing by it. */
const LEAST_WORDS = 5;
const LEAST_SIGNS = 12;
/** Words that are compared together: openings of four are everybody's. */
const STRETCH = 5;
/** What looked like a flood and was none is looked at again after so long. */
const AGAIN_MS = 500;
/** So long after the last of it a flood is over. */
export const FLOOD_OVER_MS = 20_000;
/** Who wrote so many that are like the flood belongs to it with whatever else they write. */
const TAKING_PART = 3;
/** Of a message's own traits: so many are the flood's, or it is another message that only says some of the same. */
const LIKENESS = 0.5;
/** Of a flood's messages that have a trait which is one of its own. */
const COMMON_SHARE = 0.2;
/** A flood is known by no more than this; the first are the ones that tell. */
const MOST_MARKS = 400;

interface Seen {
  readonly message: FloodMessage;
  readonly traits: readonly string[];
  alike: boolean;
  /** Its writer does not let up. */
  unremitting: boolean;
  /** It is among those of the last window. */
  inWindow: boolean;
}

/** Those that came lately and have something in common. */
interface Group {
  count: number;
  lastMs: number;
  /** Those that were not found alike yet. */
  waiting: Seen[];
}

/**
 * Watches one show. Fed in the order of arrival; each message costs about the same, however many came before: what is
 * asked for is counted as it comes and goes.
 */
export class FloodWatch {
  private came: Seen[] = [];
  private windowFrom = 0;
  private inWindow = 0;
  private alikeInWindow = 0;
  private readonly byTrait = new Map<string, Group>();
  private readonly byAuthor = new Map<string, Seen[]>();
  /** How many alike there were, by window. */
  private readonly usual: { readonly window: number; alike: number }[] = [];
  private flood: FloodCount | null = null;
  private notBeforeMs = 0;

  /** The flood that is on; null: none is. */
  get current(): Flood | null {
    return this.flood?.told() ?? null;
  }

  /** Takes what came. Gives those of them that belong to a flood, and those before them that turned out to. */
  take(messages: readonly FloodMessage[]): readonly string[] {
    return messages.flatMap((message) => this.takeOne(message));
  }

  /** At this time: a flood may be over since nothing of it came. */
  look(nowMs: number): Flood | null {
    this.endIfOver(nowMs);
    return this.current;
  }

  private endIfOver(nowMs: number): void {
    if (this.flood && nowMs - this.flood.lastMs > FLOOD_OVER_MS) this.flood = null;
  }

  private takeOne(message: FloodMessage): readonly string[] {
    const { atMs, author } = message;
    this.endIfOver(atMs);
    const traits = traitsOf(message.text);
    if (this.flood?.has(author, traits)) {
      this.flood.add(message, traits);
      return [message.id];
    }
    this.forget(atMs);
    const seen: Seen = { message, traits, alike: false, unremitting: false, inWindow: true };
    this.came.push(seen);
    this.inWindow += 1;
    this.compare(seen);
    if (!seen.alike || atMs < this.notBeforeMs || !this.isFlood(atMs)) return [];
    const found = this.takeOut();
    // To look through all that came is dear: not for each message of a loud evening.
    if (found.length === 0) this.notBeforeMs = atMs + AGAIN_MS;
    // Another one while a flood is on is more of it: whoever answers it means all that comes down just now.
    if (this.flood) this.flood.join(found);
    else if (found.length > 0) this.flood = new FloodCount(found);
    return found.map(({ message: { id } }) => id);
  }

  /** What is a flood is not compared any more. */
  private takeOut(): readonly Seen[] {
    const found = sameOf(this.came.filter(({ alike }) => alike));
    // Here and there something alike, all over: no flood.
    if (found.filter(({ inWindow }) => inWindow).length < LEAST_ALIKE) return [];
    const taken = new Set(found);
    this.came = this.came.filter((seen) => !taken.has(seen));
    const from = this.came.findIndex(({ inWindow }) => inWindow);
    this.windowFrom = from < 0 ? this.came.length : from;
    this.inWindow = this.came.length - this.windowFrom;
    this.alikeInWindow = this.came.slice(this.windowFrom).filter(({ alike }) => alike).length;
    return found;
  }

  /** Whether it is like others; those before it that it makes many are so too. */
  private compare(seen: Seen): void {
    const { author, atMs, text } = seen.message;
    const before = this.byAuthor.get(author) ?? [];
    // Many greet and ask at once, each once: only who repeats it is like others.
    const isOwn = isOrdinary(text);
    if (isOwn)
      for (const one of before)
        if (atMs - one.message.atMs <= ALIKE_MS && one.traits.some((trait) => seen.traits.includes(trait)))
          [one, seen].forEach((both) => this.setAlike(both));
    const groups = isOwn ? [] : seen.traits.map((trait) => this.groupOf(trait, atMs));
    if (groups.some(({ count }) => count >= LIKE_BEFORE)) {
      this.setAlike(seen);
      for (const group of groups) {
        group.waiting.forEach((one) => this.setAlike(one));
        group.waiting = [];
      }
    }
    for (const group of groups) {
      group.count += 1;
      group.lastMs = atMs;
      if (!seen.alike) group.waiting.push(seen);
    }
    const own = [...before, seen].slice(-UNREMITTING);
    this.byAuthor.set(author, own);
    if (own.length === UNREMITTING && atMs - own[0]!.message.atMs <= WINDOW_MS) {
      for (const one of own) {
        one.unremitting = true;
        this.setAlike(one);
      }
    }
  }

  private groupOf(trait: string, atMs: number): Group {
    const known = this.byTrait.get(trait);
    if (known && atMs - known.lastMs <= ALIKE_MS) return known;
    const group: Group = { count: 0, lastMs: atMs, waiting: [] };
    this.byTrait.set(trait, group);
    return group;
  }

  private setAlike(seen: Seen): void {
    if (seen.alike) return;
    seen.alike = true;
    if (seen.inWindow) this.alikeInWindow += 1;
    const window = Math.floor(seen.message.atMs / WINDOW_MS);
    const known = this.usual.find((one) => one.window === window);
    if (known) known.alike += 1;
    else this.usual.push({ window, alike: 1 });
  }

  private isFlood(nowMs: number): boolean {
    const wanted = Math.max(LEAST_ALIKE, TIMES_USUAL * this.usualAlike(nowMs));
    return this.alikeInWindow >= wanted && this.alikeInWindow >= LEAST_SHARE * this.inWindow;
  }

  /** Alike in a window of the last ten minutes, on average; what is being judged is not among it. */
  private usualAlike(nowMs: number): number {
    const now = Math.floor(nowMs / WINDOW_MS);
    const windows = BASELINE_MS / WINDOW_MS;
    while (this.usual.length > 0 && this.usual[0]!.window < now - windows) this.usual.shift();
    const judged = ALIKE_MS / WINDOW_MS;
    return this.usual.reduce((sum, one) => sum + (one.window < now - judged ? one.alike : 0), 0) / windows;
  }

  /** Takes off what is too long ago to matter. */
  private forget(nowMs: number): void {
    for (; this.windowFrom < this.came.length; this.windowFrom++) {
      const seen = this.came[this.windowFrom]!;
      if (nowMs - seen.message.atMs <= WINDOW_MS) break;
      seen.inWindow = false;
      this.inWindow -= 1;
      if (seen.alike) this.alikeInWindow -= 1;
    }
    const old = this.came.findIndex(({ message }) => nowMs - message.atMs <= ALIKE_MS);
    const gone = old < 0 ? this.windowFrom : Math.min(old, this.windowFrom);
    // Seldom, so that moving the rest costs nothing to speak of.
    if (gone < FORGOTTEN_AT_ONCE) return;
    for (const { message, traits } of this.came.splice(0, gone)) {
      for (const trait of traits) {
        const group = this.byTrait.get(trait);
        if (group && nowMs - group.lastMs > ALIKE_MS) this.byTrait.delete(trait);
      }
      const last = this.byAuthor.get(message.author)?.at(-1);
      if (last && nowMs - last.message.atMs > ALIKE_MS) this.byAuthor.delete(message.author);
    }
    this.windowFrom -= gone;
  }
}

const FORGOTTEN_AT_ONCE = 256;

/** Traits that many of these have: what only some happen to have in common says nothing. */
function commonTraits(seen: readonly Seen[]): ReadonlySet<string> {
  const counts = new Map<string, number>();
  for (const { traits } of seen) for (const trait of traits) counts.set(trait, (counts.get(trait) ?? 0) + 1);
  const wanted = Math.max(LIKE_BEFORE + 1, COMMON_SHARE * seen.length);
  return new Set([...counts].flatMap(([trait, count]) => (count >= wanted ? trait : [])));
}

/** By how much a message is like a flood: the share of its own traits that are the flood's; 0 where it has none. */
function likeness(traits: readonly string[], ofFlood: { has(trait: string): boolean }): number {
  if (traits.length === 0) return 0;
  return traits.filter((trait) => ofFlood.has(trait)).length / traits.length;
}

const isLike = (traits: readonly string[], ofFlood: { has(trait: string): boolean }) =>
  likeness(traits, ofFlood) >= LIKENESS;

/**
 * The largest group of those that are of one kind: they say the same, or their writers do not let up. What is frequent at
 * the same time and says something else is another group.
 */
function sameOf(alike: readonly Seen[]): readonly Seen[] {
  const common = commonTraits(alike);
  // Whatever has something in common with two groups makes them one.
  const leads = new Map<string, string>();
  const leadOf = (key: string): string => {
    let lead = key;
    for (let next = leads.get(lead); next !== undefined && next !== lead; next = leads.get(lead)) lead = next;
    leads.set(key, lead);
    return lead;
  };
  const keyed = alike.flatMap((seen) => {
    const keys = seen.traits.filter((trait) => common.has(trait));
    if (seen.unremitting) keys.push(`by ${seen.message.author}`);
    for (const key of keys) leads.set(leadOf(key), leadOf(keys[0]!));
    return keys.length > 0 ? [{ seen, key: keys[0]! }] : [];
  });
  const groups = new Map<string, Seen[]>();
  for (const { seen, key } of keyed) {
    const group = groups.get(leadOf(key));
    if (group) group.push(seen);
    else groups.set(leadOf(key), [seen]);
  }
  let largest: readonly Seen[] = [];
  for (const group of groups.values()) if (group.length > largest.length) largest = group;
  const traits = commonTraits(largest);
  return largest.filter((seen) => seen.unremitting || isLike(seen.traits, traits));
}

/** A flood as it grows. */
class FloodCount {
  lastMs = 0;
  private readonly traits = new Set<string>();
  /** How many of it had which trait, until it is one of its own. */
  private readonly candidates = new Map<string, number>();
  private readonly byAuthor = new Map<string, number>();
  /** Those who wrote so many of it that all they write belongs to it. */
  private readonly takingPart = new Set<string>();
  /** How often it says what, by what is compared, with the first that said so. */
  private readonly said = new Map<string, { text: string; count: number }>();
  private messages = 0;
  private readonly first: FloodMessage;

  /** @param found in the order of arrival, at least one */
  constructor(found: readonly Seen[]) {
    this.first = found[0]!.message;
    this.join(found);
  }

  join(found: readonly Seen[]): void {
    for (const trait of commonTraits(found)) this.traits.add(trait);
    for (const { message, traits, unremitting } of found) {
      this.add(message, traits);
      if (unremitting) this.takingPart.add(message.author);
    }
  }

  has(author: string, traits: readonly string[]): boolean {
    return isLike(traits, this.traits) || this.takingPart.has(author);
  }

  add({ author, atMs, text }: FloodMessage, traits: readonly string[]): void {
    this.messages += 1;
    this.lastMs = atMs;
    const isOfIt = isLike(traits, this.traits);
    const written = (this.byAuthor.get(author) ?? 0) + (isOfIt ? 1 : 0);
    this.byAuthor.set(author, written);
    if (written >= TAKING_PART) this.takingPart.add(author);
    this.sayAgain(text);
    // Floods change their words as they go on: what many of its messages have becomes one of its traits.
    if (!isOfIt) return;
    for (const trait of traits) {
      if (this.traits.has(trait) || this.traits.size >= MOST_MARKS) continue;
      const count = (this.candidates.get(trait) ?? 0) + 1;
      if (this.candidates.size < 10 * MOST_MARKS) this.candidates.set(trait, count);
      if (count >= COMMON_SHARE * this.messages && count > LIKE_BEFORE) this.traits.add(trait);
    }
  }

  private sayAgain(text: string): void {
    const key = foldedWords(text).join(' ') || text;
    const known = this.said.get(key);
    if (known) known.count += 1;
    else if (this.said.size < MOST_MARKS) this.said.set(key, { text, count: 1 });
  }

  told(): Flood {
    const said = [...this.said.values()].sort((a, b) => b.count - a.count);
    return {
      sinceMs: this.first.atMs,
      lastMs: this.lastMs,
      messages: this.messages,
      writers: this.byAuthor.size,
      samples: said.slice(0, MOST_SAMPLES).map(({ text }) => text),
      traits: [...this.traits],
      authors: firstOf(this.takingPart, MOST_MARKS),
    };
  }
}

function firstOf<T>(all: Iterable<T>, most: number): readonly T[] {
  const first: T[] = [];
  for (const one of all) {
    if (first.length >= most) break;
    first.push(one);
  }
  return first;
}

/** Whether a message is one of a flood: it says the same, or it comes from one who took part in it. */
export function belongs({ traits, authors }: FloodMarks, author: string, text: string): boolean {
  return isLike(traitsOf(text), new Set(traits)) || authors.includes(author);
}

/**
 * What a text is told again by: its stretches of five words, or of signs where it has no words. Of many the few that
 * come first in an order that has nothing to do with what they say, which texts that are mostly the same have in common.
 * Short texts have none, and a sign that is drawn out is one sign: applause is no flood.
 */
export function traitsOf(text: string): readonly string[] {
  const words = foldedWords(text);
  if (words.length >= LEAST_WORDS) {
    const last = Math.max(0, words.length - STRETCH);
    return fewOf(Array.from({ length: last + 1 }, (_, i) => words.slice(i, i + STRETCH).join(' ')));
  }
  const signs = Array.from(text.replace(/[\s\p{L}\p{N}]+/gu, '')).filter(
    (sign, i, all) => sign !== all[i - 1],
  );
  if (signs.length < LEAST_SIGNS) return [];
  return fewOf(signs.slice(3).map((_, i) => signs.slice(i, i + 4).join('')));
}

const FEW = 4;

function fewOf(stretches: readonly string[]): readonly string[] {
  const scattered = [...new Set(stretches)].map((one) => [scatter(one), one] as const);
  return scattered
    .sort(([a], [b]) => a - b)
    .slice(0, FEW)
    .map(([, one]) => one);
}

/** A number for a text, spread evenly (FNV-1a, 32 bits). */
function scatter(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) {
    hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  }
  return hash >>> 0;
}
