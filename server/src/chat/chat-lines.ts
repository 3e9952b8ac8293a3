import type { ChatLine } from '@juncta/contract/chat';
import { ChatMemory, judge, showTimeOf } from '@juncta/core/chat';
import { randomUUID } from 'node:crypto';
import type { App } from '../app';
import { isDatabaseAway, type Transaction } from '../database/connect';
import { connectorOf, viewerDelayMs, type PlaceMessage } from '../destinations/connectors';
import type { DestinationRow } from '../destinations/store';
import { appendEvent } from '../events/store';
import { targetOf } from '../destinations/at-place';
import { changeListing, openChats, type ListingRow } from '../listings/store';
import * as store from './store';

/** For rules that ask what was said before. */
const MOST_REMEMBERED = 500;
/** Which chats are to be followed is looked at this often. */
const RECONCILE_MS = 1000;
/** A channel's chat goes on from show to show: of what is there when it is opened, only so much belongs to this one. */
const BEFORE_MS = 10 * 60_000;

interface Line {
  readonly eventRef: string | null;
  readonly stop: AbortController;
  state: ChatLine;
}

/**
 * The lines to the chats of all shows that are on, or were just now. What comes is kept, and told, before the next is
 * asked for, so that a restart loses nothing and brings nothing twice.
 */
export class ChatLines {
  private readonly lines = new Map<string, Line>();
  private timer: NodeJS.Timeout | undefined;
  private stopped = false;

  constructor(private readonly app: App) {}

  start(): void {
    this.timer = setTimeout(() => void this.reconcile(), RECONCILE_MS);
  }

  stop(): void {
    this.stopped = true;
    clearTimeout(this.timer);
    for (const { stop } of this.lines.values()) stop.abort();
  }

  linesOf(showId: string): ChatLine[] {
    return [...this.lines.values()].map(({ state }) => state).filter((state) => state.showId === showId);
  }

  /** Now, rather than at the next look: a chat was just opened or closed. */
  async reconcile(): Promise<void> {
    clearTimeout(this.timer);
    if (this.stopped) return;
    try {
      const wanted = await openChats(this.app.db);
      const names = new Set<string>();
      for (const { listing, destination } of wanted) {
        const name = `${listing.showId} ${listing.destinationId}`;
        names.add(name);
        const line = this.lines.get(name);
        if (line?.eventRef === listing.eventRef) continue;
        line?.stop.abort();
        this.open(name, listing, destination);
      }
      for (const [name, { stop, state }] of this.lines) {
        if (names.has(name)) continue;
        stop.abort();
        this.lines.delete(name);
        if (![...this.lines.values()].some((other) => other.state.showId === state.showId))
          this.memories.delete(state.showId);
        await this.tell({ ...state, state: 'closed', sentence: null });
      }
    } catch (error) {
      if (!isDatabaseAway(error)) this.app.log.error({ err: error }, 'the chats could not be looked after');
    }
    clearTimeout(this.timer);
    if (!this.stopped) this.timer = setTimeout(() => void this.reconcile(), RECONCILE_MS);
  }

  private open(name: string, listing: ListingRow, row: DestinationRow): void {
    const { chat } = connectorOf(row.kind);
    if (!chat) return;
    const { showId, destinationId, eventRef } = listing;
    const stop = new AbortController();
    const line: Line = {
      eventRef,
      stop,
      state: { showId, destinationId, state: 'connecting', sentence: null },
    };
    this.lines.set(name, line);
    const say = (state: ChatLine['state'], sentence: string | null) => {
      if (stop.signal.aborted || (line.state.state === state && line.state.sentence === sentence)) return;
      line.state = { showId, destinationId, state, sentence };
      this.tell(line.state).catch((error: unknown) =>
        this.app.log.warn({ err: error }, 'a chat’s state could not be told'),
      );
    };
    const openedAtMs = this.app.securityClock.now();
    targetOf(this.app, row)
      .then((target) =>
        chat.follow(
          target,
          eventRef,
          listing.chatCursor,
          this.app.ask,
          {
            opened: () => say('open', null),
            lost: () => say('lost', `The line to the chat of ${row.name} is lost and is being made again.`),
            refused: (why) =>
              say(
                'refused',
                `${row.name} does not let us read its chat: ${why}. A producer has to look at it.`,
              ),
            messages: (arrived, cursor) => {
              const kept = arrived.filter(({ writtenAtMs }) => writtenAtMs > openedAtMs - BEFORE_MS);
              return stop.signal.aborted ? Promise.resolve() : this.keep(listing, row, kept, cursor);
            },
          },
          stop.signal,
        ),
      )
      .catch((error: unknown) => {
        this.app.log.error({ err: error, destination: destinationId }, 'a chat’s line failed');
        // Taken up again at the next look.
        if (this.lines.get(name) === line) this.lines.delete(name);
      });
  }

  /** Messages and how far they were read, in one transaction. */
  private async keep(
    { showId, destinationId, sent }: ListingRow,
    row: DestinationRow,
    arrived: readonly PlaceMessage[],
    cursor: string | null,
  ): Promise<void> {
    const nowMs = this.app.securityClock.now();
    const showTimeNowMs = this.app.relay?.reportOf(showId)?.showTimeMs ?? null;
    const rows = arrived.map((message) => ({
      id: randomUUID(),
      showId,
      destinationId,
      placeMessageId: message.id,
      authorId: message.author.id,
      authorName: message.author.name,
      owner: message.author.owner,
      text: message.text,
      writtenAt: message.writtenAtMs,
      receivedAt: nowMs,
      showTimeMs: showTimeOf(
        showTimeNowMs,
        nowMs,
        message.writtenAtMs,
        viewerDelayMs(row.kind, sent?.settings),
      ),
      replyToPlaceId: message.replyTo,
      sentBy: null,
    }));
    const kept = this.app.db.transaction(async (tx) => {
      const judged = await this.judged(tx, showId, destinationId, rows);
      const added = await store.addMessages(tx, judged);
      // Only what is new was done anything with.
      const acts = judged.filter(({ id, standing }) => standing !== undefined && added.includes(id));
      await store.noteActs(
        tx,
        acts.map(({ id: messageId, standing, standingBy }) => ({
          id: randomUUID(),
          showId,
          messageId,
          act: standing === 'hidden' ? ('rule_hide' as const) : ('rule_aside' as const),
          by: standingBy!,
          at: nowMs,
        })),
      );
      await changeListing(tx, showId, destinationId, { chatCursor: cursor });
      if (added.length === 0) return;
      const messages = await store.messagesWithIds(tx, added);
      await appendEvent(tx, this.app.clock, 'chat', 'messages.added', { showId, messages });
    });
    await kept.catch((error: unknown) => {
      // What was noted and not kept comes again: the memory is made anew from what is kept.
      this.memories.delete(showId);
      throw error;
    });
  }

  /** How each stands from the beginning: by who is muted, and by the house's rules. */
  private async judged(
    tx: Transaction,
    showId: string,
    destinationId: string,
    rows: readonly store.NewMessage[],
  ): Promise<store.NewMessage[]> {
    const [muted, rules] = [await store.mutedAt(tx, showId, destinationId), await store.readRules(tx)];
    let memory = this.memories.get(showId);
    if (!memory) this.memories.set(showId, (memory = await this.remember(tx, showId)));
    const known = memory;
    // Some places bring their pages again and again: what is told twice was not said twice.
    const placeIds = rows.map(({ placeMessageId }) => placeMessageId);
    const before = await store.knownPlaceIds(tx, showId, destinationId, placeIds);
    return rows.map((row) => {
      if (row.owner || before.has(row.placeMessageId)) return row;
      const author = `${destinationId} ${row.authorId}`;
      const by = muted.get(row.authorId);
      const message = { author, text: row.text, writtenAtMs: row.writtenAt };
      const rule = judge(message, known, rules);
      known.note(message);
      if (by !== undefined) return { ...row, standing: 'hidden', standingBy: by };
      if (!rule) return row;
      return { ...row, standing: rule.action === 'hide' ? 'hidden' : 'aside', standingBy: rule.kind };
    });
  }
  private readonly memories = new Map<string, ChatMemory>();

  /** What was written before this server was there. */
  private async remember(tx: Transaction, showId: string): Promise<ChatMemory> {
    const memory = new ChatMemory();
    for (const { destinationId, author, text, writtenAtMs } of await store.newestMessages(
      tx,
      showId,
      MOST_REMEMBERED,
    ))
      memory.note({ author: `${destinationId} ${author.id}`, text, writtenAtMs });
    return memory;
  }

  private async tell(line: ChatLine): Promise<void> {
    await this.app.db.transaction((tx) => appendEvent(tx, this.app.clock, 'chat', 'line.changed', line));
  }
}
