import type { ChatLine } from '@juncta/contract/chat';
import { streamOf } from '@juncta/contract/events';
import { isOfShow } from '@juncta/core/chat';
import type { App } from '../../app';
import { isDatabaseAway } from '../../database/connect';
import { connectorOf, viewerDelay } from '../../destinations/connectors';
import type { DestinationRow } from '../../destinations/store';
import { appendEvent } from '../../events/store';
import { targetOf } from '../../destinations/at-place';
import { openChats, type ListingRow } from '../../listings/store';
import { ChatIngest } from './chat-ingest';
import { LearnedDelays } from './learned-delays';
import type { Origin } from './origin';
import { releaseForgotten } from '../moderation/moderation';
import { Practices } from '../practice/practice';
import { rightShowTimes } from './show-times';
import { writeTimed } from '../replies/texts';

/** Which chats are to be followed is looked at this often. */
const RECONCILE_MS = 1000;
interface Line {
  /** As it was at the last look. */
  listing: ListingRow;
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

  readonly keeping: ChatIngest;
  readonly practices: Practices;
  private readonly learned: LearnedDelays;

  constructor(private readonly app: App) {
    this.keeping = new ChatIngest(app);
    this.practices = new Practices(app, this.keeping);
    this.learned = new LearnedDelays(app);
  }

  start(): void {
    this.practices.start();
    this.timer = setTimeout(() => void this.reconcile(), RECONCILE_MS);
  }

  stop(): void {
    this.stopped = true;
    this.practices.stop();
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
      // What is in earnest is not mixed with what is not.
      for (const { listing } of wanted) await this.practices.endIfOn(listing.showId);
      const names = new Set<string>();
      for (const { listing, destination } of wanted) {
        const name = `${listing.showId} ${listing.destinationId}`;
        names.add(name);
        const line = this.lines.get(name);
        if (line?.listing.eventRef === listing.eventRef) {
          line.listing = listing;
          continue;
        }
        line?.stop.abort();
        this.open(name, listing, destination);
      }
      for (const [name, { stop, state }] of this.lines) {
        if (names.has(name)) continue;
        stop.abort();
        this.lines.delete(name);
        if (![...this.lines.values()].some((other) => other.state.showId === state.showId)) {
          this.keeping.forget(state.showId);
          this.keeping.reactions.forget(state.showId);
        }
        await this.tell({ ...state, state: 'closed', sentence: null });
      }
      await this.keeping.floods.look();
      await this.keeping.reactions.tell();
      await this.learned.look(wanted);
      await rightShowTimes(this.app, wanted);
      await releaseForgotten(this.app);
      for (const showId of new Set(wanted.map(({ listing }) => listing.showId))) this.writeTimed(showId);
    } catch (error) {
      if (!isDatabaseAway(error)) this.app.log.error({ err: error }, 'the chats could not be looked after');
    }
    clearTimeout(this.timer);
    if (!this.stopped) this.timer = setTimeout(() => void this.reconcile(), RECONCILE_MS);
  }

  private readonly writing = new Set<string>();

  /** Beside everything else, since places take their time; and never twice at once, or they would get it twice. */
  private writeTimed(showId: string): void {
    if (this.writing.has(showId)) return;
    this.writing.add(showId);
    writeTimed(this.app, showId)
      .catch((error: unknown) => {
        if (!isDatabaseAway(error)) this.app.log.error({ err: error }, 'a timed text could not be written');
      })
      .finally(() => this.writing.delete(showId));
  }

  private open(name: string, listing: ListingRow, row: DestinationRow): void {
    const { chat } = connectorOf(row.kind);
    if (!chat) return;
    const { showId, destinationId, eventRef } = listing;
    const stop = new AbortController();
    const line: Line = {
      listing,
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
            reacted: (totals) =>
              stop.signal.aborted
                ? Promise.resolve()
                : this.keeping.reactions.note(originOf(line, row), totals),
            messages: (arrived, cursor) => {
              const opened = { hasOwnChat: eventRef !== null, openedAtMs: listing.chatOpenedAt };
              const kept = arrived.filter(({ writtenAtMs }) => isOfShow(writtenAtMs, opened));
              return stop.signal.aborted
                ? Promise.resolve()
                : this.keeping.keep(originOf(line, row), kept, cursor);
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

  private async tell(line: ChatLine): Promise<void> {
    await this.app.db.transaction((tx) =>
      appendEvent(tx, this.app.clock, streamOf('chat', line.showId), 'line.changed', line),
    );
  }
}

/** With the delay as it was last measured. */
const originOf = ({ listing }: Line, { kind }: DestinationRow): Origin => {
  const delay = viewerDelay(kind, listing);
  return {
    showId: listing.showId,
    destinationId: listing.destinationId,
    delayMs: delay.ms,
    delayAbout: delay.from === 'rule',
  };
};
