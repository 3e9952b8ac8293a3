import type { ChatMessage } from '@juncta/contract/chat';
import type { ChatAct } from '@juncta/core/chat';
import { chatTexts, standingWords } from '../chat.texts';
import { practiceTexts } from '../practice/practice.texts';

/** What there was when somebody began to read back. */
export interface Held {
  readonly ids: ReadonlySet<string>;
  /** What was written before may be asked for and comes in above. */
  readonly fromMs: number;
  /** What is written after comes in below, where it moves nothing. */
  readonly toMs: number;
}

/** Everything but what was late and would come in between. */
export const isHeld = ({ ids, fromMs, toMs }: Held, { id, writtenAtMs }: ChatMessage): boolean =>
  ids.has(id) || writtenAtMs <= fromMs || writtenAtMs > toMs;

export type List = 'all' | 'aside' | 'questions' | 'private';

/** What is not shown is in a list of its own; hidden there too, so that it can be found again. */
export function isIn(list: List, { standing, question, kind }: ChatMessage): boolean {
  if (list === 'aside') return standing !== 'shown';
  if (standing !== 'shown') return false;
  return list === 'all' || (list === 'private' ? kind === 'private' : question === 'lined_up');
}

/** A word beside a name, and what it means at length. */
interface RowMark {
  readonly word: string;
  readonly meaning: string;
}

/** What is to be known of a message and its writer at a glance. */
export function marksOf({ kind, author, first, editedAtMs, forHost, practice }: ChatMessage): RowMark[] {
  const plain = (word: string): RowMark => ({ word, meaning: word });
  const is = [
    ...(practice ? [plain(practiceTexts.mark)] : []),
    ...(kind === 'message' ? [] : [plain(chatTexts.kinds[kind])]),
  ];
  if (author.owner) return is;
  const isNew =
    author.otherShows > 0
      ? { word: chatTexts.back, meaning: chatTexts.backMeaning(author.otherShows) }
      : { word: chatTexts.isNew, meaning: chatTexts.isNewMeaning };
  return [
    ...is,
    ...(first && kind === 'message' ? [isNew] : []),
    ...author.badges.map(plain),
    ...(editedAtMs === null ? [] : [plain(chatTexts.edited)]),
    ...(forHost === 'none' ? [] : [plain(chatTexts.forHost[forHost])]),
  ];
}

/** What takes back what was done; nothing takes back an answer that was given. */
export const UNDO: Partial<Record<ChatAct, ChatAct>> = {
  set_aside: 'let_through',
  hide: 'let_through',
  mute: 'unmute',
  ban: 'unban',
  line_up: 'unline',
  answered: 'line_up',
  unline: 'line_up',
};

/** Why a message is not shown; null: it is. */
export function whyOf({ standing, by, hiddenThere }: ChatMessage): string | null {
  if (standing === 'shown') return null;
  const rules: Readonly<Record<string, string>> = standingWords.byRule;
  const why = rules[by ?? ''] ?? by ?? '';
  const there = standing === 'hidden' && hiddenThere !== true ? ` ${standingWords.onlyHere}` : '';
  return standing === 'aside' ? standingWords.aside(why) : `${standingWords.hidden(why)}.${there}`;
}
