import { Injectable } from '@angular/core';
import type { ShowText } from '@juncta/contract/shows';

/** What somebody wrote and has not saved: kept in the browser, over a reload and the end of a session. */
export interface Draft {
  /** The version that was being edited; null for a new show. */
  readonly version: number | null;
  /** The text as it was at that version, which the draft is compared with. */
  readonly base: ShowText;
  readonly text: ShowText;
  readonly keptAtMs: number;
}

const PREFIX = 'juncta.draft.';

@Injectable({ providedIn: 'root' })
export class Drafts {
  keep(id: string, draft: Draft): void {
    try {
      localStorage.setItem(PREFIX + id, JSON.stringify(draft));
    } catch {
      // Full or forbidden: the form itself still holds the text.
    }
  }

  find(id: string): Draft | null {
    try {
      const kept = localStorage.getItem(PREFIX + id);
      return kept ? (JSON.parse(kept) as Draft) : null;
    } catch {
      return null;
    }
  }

  drop(id: string): void {
    localStorage.removeItem(PREFIX + id);
  }
}
