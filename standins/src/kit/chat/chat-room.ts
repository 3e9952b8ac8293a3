import { EventEmitter } from 'node:events';

/** `private`: to the house alone; `follow` and `sale`: what the place tells of a viewer, in its own words. */
export const MESSAGE_KINDS = ['message', 'private', 'follow', 'sale'] as const;
export type MessageKind = (typeof MESSAGE_KINDS)[number];

/** Somebody who writes at a place. */
export interface Writer {
  readonly id: string;
  readonly name: string;
  readonly owner: boolean;
  /** What the place shows beside the name. */
  readonly badges?: readonly string[];
  /** How old the account is; null or missing: the place does not say. */
  readonly account_days?: number | null;
}

/** A message as a place has it. Whatever is in the text is text. */
export interface Message {
  /** A number as text, rising over restarts too. */
  readonly id: string;
  /** Where it stands in what the place has told: that of its last change, or its id. */
  readonly seq: string;
  readonly kind: MessageKind;
  readonly written_at: string;
  readonly author: Required<Writer>;
  readonly text: string;
  readonly reply_to: string | null;
  /** Its writer has changed it since. */
  readonly edited_at: string | null;
  /** Its writer took it back: the text is gone. */
  readonly deleted: boolean;
  /** The owner took it from the public page. */
  readonly hidden?: boolean;
}

/** Who may write how often, as the owner set it. */
export interface RoomRules {
  /** s between two messages of one writer; 0: as often as they like. */
  readonly slow_s: number;
  readonly followers_only: boolean;
  /** An account has to be so old; 0: any may. */
  readonly account_days: number;
}

export const NO_ROOM_RULES: RoomRules = { slow_s: 0, followers_only: false, account_days: 0 };

/** How often each was pressed, since the room was opened. */
export type Reactions = Readonly<Record<string, number>>;

/** A place keeps so many of one show. */
const KEPT = 400_000;

/** What is written at one place during one show. */
export class ChatRoom extends EventEmitter<{ message: [Message]; reactions: [Reactions] }> {
  /** What was told, in order: an entry for each message and one for each change of one. */
  private log: { readonly seq: number; readonly id: string }[] = [];
  private readonly byId = new Map<string, Message>();
  private count = Date.now() * 1000;
  private readonly banned = new Set<string>();
  private readonly lastAtMs = new Map<string, number>();
  rules: RoomRules = NO_ROOM_RULES;
  reactions: Reactions = {};

  constructor() {
    super();
    // One for everybody who follows.
    this.setMaxListeners(0);
  }

  write(
    { badges = [], account_days = null, ...author }: Writer,
    text: string,
    replyTo: string | null = null,
    kind: MessageKind = 'message',
  ): Message {
    const seq = String(++this.count);
    const asked = replyTo === null ? undefined : this.byId.get(replyTo);
    const message: Message = {
      id: seq,
      seq,
      // What answers something private is as private.
      kind: asked?.kind === 'private' ? 'private' : kind,
      written_at: new Date().toISOString(),
      author: { ...author, badges, account_days },
      text,
      reply_to: replyTo,
      edited_at: null,
      deleted: false,
    };
    this.lastAtMs.set(author.id, Date.now());
    this.tell(message);
    return message;
  }

  /** Its writer changes it, or takes it back with a null text; null: there is none of this name. */
  change(id: string, text: string | null): Message | null {
    const found = this.byId.get(id);
    if (!found) return null;
    const edited_at = text === null ? found.edited_at : new Date().toISOString();
    const changed = {
      ...found,
      seq: String(++this.count),
      text: text ?? '',
      edited_at,
      deleted: text === null,
    };
    this.tell(changed);
    return changed;
  }

  /** Viewers press something so many times. */
  react(kind: string, times: number): void {
    this.reactions = { ...this.reactions, [kind]: (this.reactions[kind] ?? 0) + times };
    this.emit('reactions', this.reactions);
  }

  /** Why a viewer may not write just now; null: they may. The crowd's accounts are old and follow. */
  refuses(authorId: string, known: boolean): string | null {
    const { slow_s, followers_only, account_days } = this.rules;
    if (this.banned.has(authorId)) return 'You are banned from this chat.';
    if (!known && followers_only) return 'Only followers may write just now.';
    if (!known && account_days > 0)
      return `Only accounts of ${account_days} days and more may write just now.`;
    const last = this.lastAtMs.get(authorId);
    if (slow_s > 0 && last !== undefined && Date.now() - last < slow_s * 1000)
      return `Everybody may write every ${slow_s} s just now.`;
    return null;
  }

  ban(authorId: string, banned: boolean): void {
    if (banned) this.banned.add(authorId);
    else this.banned.delete(authorId);
  }

  get bannedIds(): readonly string[] {
    return [...this.banned];
  }

  /** Takes a message from the public page, or puts it back; null: there is none of this name. */
  hide(id: string, hidden: boolean): Message | null {
    const found = this.byId.get(id);
    if (!found) return null;
    const changed = { ...found, hidden };
    this.byId.set(id, changed);
    return changed;
  }

  /**
   * What was told after this, oldest first, each message as it is now; all, when that is not known. At most so many.
   */
  after(seq: string | null, most = Infinity): readonly Message[] {
    const found: Message[] = [];
    for (let at = this.indexAfter(Number(seq ?? 0)); at < this.log.length && found.length < most; at++) {
      const entry = this.log[at]!;
      const message = this.byId.get(entry.id);
      // One that was changed since stands where that was told.
      if (message && Number(message.seq) === entry.seq) found.push(message);
    }
    return found;
  }

  /** Every message in the order of writing, each as it is now. */
  all(): readonly Message[] {
    return [...this.byId.values()];
  }

  /** What anybody sees who comes to the page. */
  get seen(): readonly Message[] {
    return this.all().filter(({ kind, hidden, deleted }) => kind !== 'private' && !hidden && !deleted);
  }

  private tell(message: Message): void {
    this.byId.set(message.id, message);
    this.log.push({ seq: Number(message.seq), id: message.id });
    if (this.log.length > KEPT * 1.1) {
      for (const { seq, id } of this.log.slice(0, -KEPT))
        if (Number(this.byId.get(id)?.seq) === seq) this.byId.delete(id);
      this.log = this.log.slice(-KEPT);
    }
    this.emit('message', message);
  }

  /** Where the first that was told later stands. */
  private indexAfter(seq: number): number {
    let [low, high] = [0, this.log.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.log[middle]!.seq > seq) high = middle;
      else low = middle + 1;
    }
    return low;
  }
}
