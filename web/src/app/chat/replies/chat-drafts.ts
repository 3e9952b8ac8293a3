import { Injectable } from '@angular/core';
import type { ChatMessage } from '@juncta/contract/chat';

export interface ChatDraft {
  readonly text: string;
  readonly replyTo: ChatMessage | null;
}

const NONE: ChatDraft = { text: '', replyTo: null };

/** What is being written to the viewers of each show: a look at the plan does not throw it away. */
@Injectable({ providedIn: 'root' })
export class ChatDrafts {
  private readonly drafts = new Map<string, ChatDraft>();

  of(showId: string): ChatDraft {
    return this.drafts.get(showId) ?? NONE;
  }

  keep(showId: string, draft: ChatDraft): void {
    if (draft.text === '' && draft.replyTo === null) this.drafts.delete(showId);
    else this.drafts.set(showId, draft);
  }
}
