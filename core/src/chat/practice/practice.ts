import type { ExportedMessage } from '../list/export-chat';

/**
 * Messages of another evening, given once more in their time, so that moderators can practise on them. What was done
 * with each that evening is kept beside, to be compared in the end.
 */
export interface PracticeLine {
  /** When it is to be given, ms from the first. */
  readonly atMs: number;
  readonly destinationId: string;
  readonly author: string;
  readonly text: string;
  readonly kind: ExportedMessage['kind'];
  readonly accountDays: number | null;
  /** It was set aside or hidden that evening. */
  readonly notShown: boolean;
  /** It became a question that evening. */
  readonly asked: boolean;
}

export interface PracticePlan {
  /** In the order in which they are given. */
  readonly lines: readonly PracticeLine[];
  /** From the first to the last, ms. */
  readonly lengthMs: number;
  /** What the house wrote that evening is left out: writing is for those who practise. */
  readonly ofHouse: number;
  /** Beyond {@link MOST_PRACTICE}. */
  readonly tooMany: number;
  /** Destinations of the file that the show does not have: their messages come as from one of its own. */
  readonly elsewhere: readonly string[];
}

/** More than anybody deals with in one evening of practice. */
export const MOST_PRACTICE = 10_000;
/** Nobody practises waiting: longer silences are made this long. */
const LONGEST_SILENCE_MS = 15_000;
/** Times as fast as it was. */
export const PRACTICE_SPEEDS = [1, 2, 4, 8] as const;
export type PracticeSpeed = (typeof PRACTICE_SPEEDS)[number];

/** @param destinations of the show at which they are given, in the order of its board; at least one */
export function planPractice(
  messages: readonly ExportedMessage[],
  destinations: readonly { readonly id: string; readonly name: string }[],
): PracticePlan {
  const viewers = messages.filter(({ owner }) => !owner).toSorted((a, b) => a.writtenAtMs - b.writtenAtMs);
  const idOf = new Map(destinations.map(({ id, name }) => [name, id]));
  const elsewhere = [...new Set(viewers.map(({ destination }) => destination))].filter(
    (name) => !idOf.has(name),
  );
  // Who wrote in two places wrote in two places.
  elsewhere.forEach((name, i) => idOf.set(name, destinations[i % destinations.length]!.id));
  let atMs = 0;
  const lines = viewers.slice(0, MOST_PRACTICE).map((message, i): PracticeLine => {
    const before = viewers[i - 1];
    if (before) atMs += Math.min(LONGEST_SILENCE_MS, message.writtenAtMs - before.writtenAtMs);
    const { destination, author, text, kind, accountDays, standing, question } = message;
    return {
      atMs,
      destinationId: idOf.get(destination)!,
      author,
      text,
      kind,
      accountDays,
      notShown: standing !== 'shown',
      asked: question !== 'none',
    };
  });
  return {
    lines,
    lengthMs: atMs,
    ofHouse: messages.length - viewers.length,
    tooMany: viewers.length - lines.length,
    elsewhere,
  };
}

/** How many of the lines are due after so much practising, by its own pace. */
export function dueOf(lines: readonly PracticeLine[], practisedMs: number, speed: number): number {
  const nowMs = practisedMs * speed;
  let [from, to] = [0, lines.length];
  while (from < to) {
    const middle = (from + to) >> 1;
    if (lines[middle]!.atMs <= nowMs) from = middle + 1;
    else to = middle;
  }
  return from;
}
