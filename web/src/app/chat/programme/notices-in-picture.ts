import type { ChatMessage } from '@juncta/contract/chat';
import { NOTHING_SAID, passNotices, sayNotices, type Notices, type NoticesSaid } from '@juncta/core/stage';
import type { NoticeOnProgramme } from '../../stage/dressed/drawn-stage';
import { chatTexts } from '../chat.texts';

/** Of many that are said together so many are named. */
const MOST_NAMED = 2;

export interface NoticesSide {
  notices(): Notices;
  placeOf(destinationId: string): string;
  /** Null: nothing is said any more. */
  show(notice: NoticeOnProgramme | null): void;
}

/** What places tell of followers and sales, said on the composed programme as it comes. */
export class NoticesInPicture {
  private state: NoticesSaid<ChatMessage> = NOTHING_SAID;
  private shown = '';
  private isFollowing = false;

  constructor(private readonly side: NoticesSide) {}

  /** All there are. What was told before it was followed is not said. */
  read(messages: readonly ChatMessage[]): void {
    if (this.isFollowing) this.add(messages);
    else this.state = passNotices(this.state, messages);
    this.isFollowing = true;
  }

  /** Some that came, or stand otherwise now. */
  add(messages: readonly ChatMessage[]): void {
    this.update(messages);
  }

  /** Time went by, or it is wanted otherwise. */
  update(came: readonly ChatMessage[] = []): void {
    const { isOn, staysS, thanks } = this.side.notices();
    const nowMs = performance.now();
    this.state = isOn ? sayNotices(this.state, came, staysS * 1000, nowMs) : passNotices(this.state, came);
    const { said, untilMs } = this.state;
    const shown = said.map(({ id }) => id).join(' ');
    if (shown === this.shown) return;
    this.shown = shown;
    this.side.show(said.length === 0 ? null : { ...this.wordsOf(said, thanks), forMs: untilMs - nowMs });
  }

  stop(): void {
    this.isFollowing = false;
    this.state = NOTHING_SAID;
    if (this.shown !== '') this.side.show(null);
    this.shown = '';
  }

  private wordsOf(said: readonly ChatMessage[], thanks: string): { heading: string; text: string } {
    const names = said.slice(0, MOST_NAMED).map(({ author }) => author.name);
    const [first] = said;
    const heading =
      said.length === 1
        ? `${names[0]} · ${this.side.placeOf(first!.destinationId)}`
        : chatTexts.noticeOf(names, said.length - names.length);
    // What was bought is the better half of it.
    const told = said.length === 1 ? first!.text : '';
    return { heading, text: [told, thanks].filter((words) => words !== '').join(' · ') };
  }
}
