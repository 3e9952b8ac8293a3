import type { ChatLineState } from './kinds';

/** What is known of a show's chat at one of its destinations. */
export interface ChatThere {
  /** Whether the place lets us read what its viewers write. */
  readonly canBeRead: boolean;
  /** Whether anybody finds the listing; false: only who was invited, or who has its address. */
  readonly isPublic: boolean;
  /** Whether viewers may write there: as the listing's settings say. */
  readonly mayWrite: boolean;
  readonly line: ChatLineState;
}

export const UNHEARD = [
  'no_chat',
  'chat_off',
  'refused',
  'lost',
  'connecting',
  'closed',
  'not_public',
] as const;
/** Why viewers of a destination are not heard, or hardly any. */
export type Unheard = (typeof UNHEARD)[number];

/** What matters most of it; null: nothing is in the way. */
export function unheard({ canBeRead, isPublic, mayWrite, line }: ChatThere): Unheard | null {
  if (!canBeRead) return 'no_chat';
  if (!mayWrite) return 'chat_off';
  if (line !== 'open') return line;
  return isPublic ? null : 'not_public';
}
