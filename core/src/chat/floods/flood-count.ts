import { foldedWords } from '../moderation/fold';
import { isLike, traitsOf } from './traits';

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
/** With so many before it that are like it. */
export const LIKE_BEFORE = 3;
/** Who wrote so many that are like the flood belongs to it with whatever else they write. */
const TAKING_PART = 3;
/** Of a flood's messages that have a trait which is one of its own. */
const COMMON_SHARE = 0.2;
/** A flood is known by no more than this; the first are the ones that tell. */
const MOST_MARKS = 400;

/** A message that is watched. */
export interface Seen {
  readonly message: FloodMessage;
  readonly traits: readonly string[];
  alike: boolean;
  /** Its writer does not let up. */
  unremitting: boolean;
  /** It is among those of the last window. */
  inWindow: boolean;
}

/** Traits that many of these have: what only some happen to have in common says nothing. */
function commonTraits(seen: readonly Seen[]): ReadonlySet<string> {
  const counts = new Map<string, number>();
  for (const { traits } of seen) for (const trait of traits) counts.set(trait, (counts.get(trait) ?? 0) + 1);
  const wanted = Math.max(LIKE_BEFORE + 1, COMMON_SHARE * seen.length);
  return new Set([...counts].flatMap(([trait, count]) => (count >= wanted ? trait : [])));
}

/**
 * The largest group of those that are of one kind: they say the same, or their writers do not let up. What is frequent at
 * the same time and says something else is another group.
 */
export function sameOf(alike: readonly Seen[]): readonly Seen[] {
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
export class FloodCount {
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
