/** So long after it was made a link can be shown again. */
export const SHOWN_AGAIN_MS = 3_600_000;
/** More links than a team makes in an hour: what is kept is bounded all the same, and the oldest go. */
const MOST_KEPT = 500;

interface Recent {
  readonly token: string;
  readonly untilMs: number;
}

/**
 * Links that were made within the last hour, in this process's memory and nowhere else: what is stored of a link is only
 * its hash. After a restart none of them can be shown any more.
 */
export class RecentLinks {
  /** By show and person; the oldest first. */
  private readonly all = new Map<string, Recent>();

  keep(showId: string, personId: string, token: string, nowMs: number): void {
    const key = `${showId} ${personId}`;
    this.all.delete(key);
    this.all.set(key, { token, untilMs: nowMs + SHOWN_AGAIN_MS });
    for (const [oldest] of this.all) {
      if (this.all.size <= MOST_KEPT) break;
      this.all.delete(oldest);
    }
  }

  /** Null: it was made longer ago, ended meanwhile, or never made here. */
  find(showId: string, personId: string, nowMs: number): Recent | null {
    const key = `${showId} ${personId}`;
    const recent = this.all.get(key);
    if (recent && recent.untilMs > nowMs) return recent;
    this.all.delete(key);
    return null;
  }

  forget(showId: string, personId: string): void {
    this.all.delete(`${showId} ${personId}`);
  }
}
