import { EventEmitter } from 'node:events';

/** A message as a place has it. Whatever is in the text is text. */
export interface Message {
  /** A number as text, rising over restarts too. */
  readonly id: string;
  readonly written_at: string;
  readonly author: { readonly id: string; readonly name: string; readonly owner: boolean };
  readonly text: string;
  readonly reply_to: string | null;
  /** The owner took it from the public page. */
  readonly hidden?: boolean;
}

/** A place keeps so many of one show. */
const KEPT = 5000;

/** What is written at one place during one show. */
export class ChatRoom extends EventEmitter<{ message: [Message] }> {
  private messages: Message[] = [];
  private count = Date.now() * 1000;

  write(author: Message['author'], text: string, replyTo: string | null = null): Message {
    const message: Message = {
      id: String(++this.count),
      written_at: new Date().toISOString(),
      author,
      text,
      reply_to: replyTo,
    };
    this.messages = [...this.messages.slice(-KEPT), message];
    this.emit('message', message);
    return message;
  }

  /** Takes a message from the public page, or puts it back; null: there is none of this name. */
  hide(id: string, hidden: boolean): Message | null {
    const found = this.messages.find((message) => message.id === id);
    if (!found) return null;
    const changed = { ...found, hidden };
    this.messages = this.messages.map((message) => (message.id === id ? changed : message));
    return changed;
  }

  /** Everything after this one, oldest first; all, when it is not known. */
  after(id: string | null): readonly Message[] {
    const from = Number(id ?? 0);
    return this.messages.filter((message) => Number(message.id) > from);
  }
}
