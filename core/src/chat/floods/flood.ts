/**
 * Floods: many messages at once that say the same, or that come from a few who do not stop. Loud is not enough: people
 * greet, cheer and answer polls all at once too, but in short words and each once. So a message counts as *alike* when
 * several long enough texts like it came just before, or when its writer does not let up; and there is a flood when
 * most of what comes is alike, and far more of it than in the show's own last ten minutes. Greetings and questions are
 * alike only where one writer repeats them. A flood is one group of messages that are like each other, and whatever else
 * is frequent at that time is no part of it.
 */

import { FloodCount, LIKE_BEFORE, sameOf, type Flood, type FloodMessage, type Seen } from './flood-count';
import { isOrdinary } from './ordinary';
import { traitsOf } from './traits';

/** What stands on messages that were set aside with a flood: nobody looked at each of them. */
export const BY_FLOOD = 'in_flood';
/** With a flood that is none these are shown again: rules caught them for the same reasons. */
export const LET_BE_WITH_FLOOD: readonly string[] = [BY_FLOOD, 'repeat', 'flood'];

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
/** A writer with so many in a window does not let up. */
const UNREMITTING = 5;
/** What looked like a flood and was none is looked at again after this long. */
const AGAIN_MS = 500;
/** So long after the last of it a flood is over. */
export const FLOOD_OVER_MS = 20_000;

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
