/** A place's clock may be behind ours by so much. */
const BEHIND_MS = 5000;

/** The chat of a show at one place. */
export interface OpenedChat {
  /** Its event has a chat of its own; false: the place has one lasting chat, which goes on from show to show. */
  readonly hasOwnChat: boolean;
  /** When it was opened for this show, with its feed, ms; null: that is not known, and nothing is left out. */
  readonly openedAtMs: number | null;
}

/** Whether a message was written to this show: in a lasting chat, what stood there before its feed is another show's. */
export function isOfShow(writtenAtMs: number, { hasOwnChat, openedAtMs }: OpenedChat): boolean {
  return hasOwnChat || openedAtMs === null || writtenAtMs >= openedAtMs - BEHIND_MS;
}
