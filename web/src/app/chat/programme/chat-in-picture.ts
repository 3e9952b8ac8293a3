import type { ChatMessage } from '@juncta/contract/chat';
import { mergeWritten } from '@juncta/core/chat';
import { messagesInBox, type BoxLine, type ChatBox } from '@juncta/core/stage';

/** More than are ever seen at once, since what is set aside or hidden makes room for those before it. */
const MOST_HELD = 300;
/** Others come no faster than they can be told apart; what must go goes at once. */
const OTHERS_EVERY_MS = 500;

export interface PictureSide {
  box(): ChatBox;
  /** By the house's clock, ms since the epoch. */
  nowMs(): number;
  placeOf(destinationId: string): string;
  /** @param isCut what is not among them may not be seen any longer */
  show(lines: readonly BoxLine[], isCut: boolean): void;
}

/** Which of the composed show's messages stand in the picture: given on whenever they are others. */
export class ChatInPicture {
  private held: readonly ChatMessage[] = [];
  private shown: readonly ChatMessage[] = [];
  private told = '[]';
  private toldAtMs = -Infinity;
  private later: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly side: PictureSide) {}

  /** All there are, from now on. */
  read(messages: readonly ChatMessage[]): void {
    this.held = messages.slice(-MOST_HELD);
    this.update();
  }

  /** Some that came, or stand otherwise now. */
  add(messages: readonly ChatMessage[]): void {
    this.held = mergeWritten(this.held, messages).slice(-MOST_HELD);
    this.update();
  }

  /** Time went by, or the box is another. */
  update(hasWaited = false): void {
    clearTimeout(this.later);
    this.later = undefined;
    const messages = messagesInBox(this.held, this.side.box(), this.side.nowMs());
    const lines = messages.map(({ author, destinationId, text }) => ({
      author: author.name,
      place: this.side.placeOf(destinationId),
      text,
    }));
    const told = JSON.stringify(lines);
    if (told === this.told) return;
    const waitMs = this.toldAtMs + OTHERS_EVERY_MS - performance.now();
    const isCut = this.mustGo();
    if (waitMs > 0 && !hasWaited && !isCut && messages.length > 0) {
      this.later = setTimeout(() => this.update(true), waitMs);
      return;
    }
    this.shown = messages;
    this.told = told;
    this.toldAtMs = performance.now();
    this.side.show(lines, isCut);
  }

  stop(): void {
    clearTimeout(this.later);
    this.later = undefined;
    this.held = this.shown = [];
    if (this.told === '[]') return;
    this.told = '[]';
    this.side.show([], true);
  }

  /** Whether something is seen that may not be, or that reads otherwise by now. */
  private mustGo(): boolean {
    const held = new Map(this.held.map((message) => [message.id, message]));
    return this.shown.some(({ id, text }) => {
      const now = held.get(id);
      return now?.standing !== 'shown' || now.takenBack || now.text !== text;
    });
  }
}
