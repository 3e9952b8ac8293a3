import type { Rect } from '@juncta/core/stage';
import type { DrawnEntry } from '../messages';
import { paintEntries } from './moving-graphics';

/** So long a message takes to come, and one whose time is over to go. */
const [COMES_IN_MS, GOES_IN_MS] = [250, 500];

interface Entry extends DrawnEntry {
  /** Null: it was not seen yet. */
  sinceMs: number | null;
  /** Null: it stays. */
  leavesSinceMs: number | null;
}

/**
 * Viewers' messages in their column. They come and go gently, but for those that somebody hides: these are gone at once. What was
 * drawn of them belongs to the column.
 */
export class ChatColumn {
  private entries: readonly Entry[] = [];
  private changes = 0;

  /**
   * Those that stand there from now on, the newest last.
   *
   * @param isCut what is not among them may not be seen any longer
   */
  set(entries: readonly DrawnEntry[], isCut: boolean, nowMs: number): void {
    const before = new Map(this.entries.map((entry) => [entry.key, entry]));
    const kept = new Set(entries.map(({ key }) => key));
    const leaving = this.entries.filter(({ key }) => !isCut && !kept.has(key));
    for (const { key, image } of this.entries) if (isCut || kept.has(key)) image.close();
    this.entries = [
      ...leaving.map((entry) => ({ ...entry, leavesSinceMs: entry.leavesSinceMs ?? nowMs })),
      ...entries.map((entry): Entry => {
        const known = before.get(entry.key);
        return {
          ...entry,
          sinceMs: known?.leavesSinceMs === null ? known.sinceMs : null,
          leavesSinceMs: null,
        };
      }),
    ];
    this.changes += 1;
  }

  /** Another number whenever it looks otherwise. */
  numberAt(nowMs: number): string {
    const shares = this.entries.map((entry) => shareOf(entry, nowMs));
    return `${this.changes} ${shares.every((share) => share === 1) ? '' : shares.join(' ')}`;
  }

  paint(context: OffscreenCanvasRenderingContext2D, rect: Rect, gap: number, nowMs: number): void {
    for (const entry of this.entries) entry.sinceMs ??= nowMs;
    const seen = this.entries.map(({ image }, i) => ({ image, share: shareOf(this.entries[i]!, nowMs) }));
    paintEntries(context, seen, rect, gap);
  }

  /** Lets go of what has gone. */
  tidy(nowMs: number): void {
    const gone = this.entries.filter((entry) => entry.leavesSinceMs !== null && shareOf(entry, nowMs) === 0);
    if (gone.length === 0) return;
    for (const { image } of gone) image.close();
    this.entries = this.entries.filter((entry) => !gone.includes(entry));
    this.changes += 1;
  }

  close(): void {
    this.set([], true, 0);
  }
}

/** How much of it is seen, 0 to 1. */
function shareOf({ sinceMs, leavesSinceMs }: Entry, nowMs: number): number {
  if (leavesSinceMs !== null) return 1 - shareBy(nowMs - leavesSinceMs, GOES_IN_MS);
  return sinceMs === null ? 0 : shareBy(nowMs - sinceMs, COMES_IN_MS);
}

const shareBy = (passedMs: number, ofMs: number): number => Math.max(0, Math.min(1, passedMs / ofMs));
