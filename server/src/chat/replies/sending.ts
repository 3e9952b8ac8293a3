import { and, eq, isNotNull, isNull, gte } from 'drizzle-orm';
import { setTimeout as wait } from 'node:timers/promises';
import type { App } from '../../app';
import type { Queryable } from '../../database/connect';
import { targetOf } from '../../destinations/at-place';
import { PlaceRefused } from '../../destinations/ask-place';
import { connectorOf, type PlaceMessage } from '../../destinations/connectors';
import type { DestinationRow } from '../../destinations/store';
import { Refusal } from '../../http/errors';
import type { ListingRow } from '../../listings/store';
import { chatMessage, chatSent } from '../schema';

/**
 * Sends a text to a place once, however often it is asked for: claimed before it is sent, and after a crash or an answer
 * that got lost looked for at the place before it is sent again.
 */

/** Whoever claimed a text and is alive has an answer from the place by then, its patience and a fresh token included. */
const IN_FLIGHT_MS = 15_000;
/** So long after a text was sent a place may still not show it. */
const SETTLE_MS = 6000;
/** How long a chat is listened to for our own text. */
const LOOK_MS = 2500;
/** A place's clock may differ by so much from ours. */
const CLOCKS_DIFFER_MS = 60_000;
const POLL_MS = 200;

type SentRow = typeof chatSent.$inferSelect;

/** What of a message has to be known to write it down. */
export type SentMessage = Pick<PlaceMessage, 'id' | 'kind' | 'text' | 'writtenAtMs' | 'replyTo'> & {
  readonly author: Pick<PlaceMessage['author'], 'id' | 'name'>;
};

export interface Sending {
  readonly id: string;
  readonly listing: ListingRow;
  readonly row: DestinationRow;
  readonly text: string;
  /** Sends it; what it rejects with is told. */
  readonly send: () => Promise<SentMessage>;
  /** Writes down that it is there, in one transaction with `done`. */
  readonly keep: (written: SentMessage, done: (db: Queryable) => Promise<void>) => Promise<void>;
}

export async function sendOnce(app: App, sending: Sending): Promise<void> {
  let waitedMs = 0;
  for (;;) {
    const claim = await claimed(app, sending);
    if (claim === 'ours') return sendNow(app, sending);
    if (claim.state === 'sent') return;
    const ageMs = Math.max(app.securityClock.now() - claim.claimedAt, waitedMs);
    if (claim.state === 'in_flight' && ageMs < IN_FLIGHT_MS) {
      // Somebody else sends it just now: theirs counts for us too.
      await wait(POLL_MS);
      waitedMs += POLL_MS;
      continue;
    }
    const there = await lookFor(app, sending, claim.claimedAt);
    if (there) {
      await sending.keep(there, (db) => settle(db, sending, 'sent'));
      return;
    }
    if (ageMs < SETTLE_MS) {
      await wait(SETTLE_MS - ageMs);
      waitedMs = SETTLE_MS;
      // Of several who found that it is not there, one sends it.
    } else if (await takeOver(app, claim)) return sendNow(app, sending);
  }
}

async function sendNow(app: App, sending: Sending): Promise<void> {
  try {
    const written = await sending.send();
    await sending.keep(written, (db) => settle(db, sending, 'sent'));
  } catch (error) {
    // A clear no: it is not there. Anything else may have arrived.
    if (error instanceof PlaceRefused || error instanceof Refusal) await forget(app.db, sending);
    else await settle(app.db, sending, 'unsure');
    throw error;
  }
}

const byKey = ({ id, row }: Pick<Sending, 'id' | 'row'>) =>
  and(eq(chatSent.id, id), eq(chatSent.destinationId, row.id));

/** `ours`: nobody has sent it, and now it is ours to send. */
async function claimed(app: App, { id, listing, row }: Sending): Promise<'ours' | SentRow> {
  const { showId } = listing;
  for (;;) {
    const made = await app.db
      .insert(chatSent)
      .values({
        id,
        showId,
        destinationId: row.id,
        state: 'in_flight',
        claimedAt: app.securityClock.now(),
      })
      .onConflictDoNothing()
      .returning();
    if (made.length > 0) return 'ours';
    const [there] = await app.db.select().from(chatSent).where(byKey({ id, row }));
    // Whoever had it was told no in between: it is free again.
    if (there) return there;
  }
}

async function takeOver(app: App, { id, destinationId, claimedAt }: SentRow): Promise<boolean> {
  const taken = await app.db
    .update(chatSent)
    .set({ state: 'in_flight', claimedAt: app.securityClock.now() })
    .where(
      and(eq(chatSent.id, id), eq(chatSent.destinationId, destinationId), eq(chatSent.claimedAt, claimedAt)),
    )
    .returning();
  return taken.length > 0;
}

const settle = async (db: Queryable, sending: Sending, state: SentRow['state']): Promise<void> => {
  await db.update(chatSent).set({ state }).where(byKey(sending));
};

const forget = async (db: Queryable, sending: Sending): Promise<void> => {
  await db.delete(chatSent).where(byKey(sending));
};

/** Our own text at the place, written since it was claimed; null: it is not there. Throws when nobody can say. */
async function lookFor(app: App, sending: Sending, sinceMs: number): Promise<SentMessage | null> {
  const { listing, row, text } = sending;
  const { showId, destinationId } = listing;
  const fromMs = sinceMs - CLOCKS_DIFFER_MS;
  const mine = and(eq(chatMessage.showId, showId), eq(chatMessage.destinationId, destinationId));
  // The chat's own line may have brought it.
  const [kept] = await app.db
    .select()
    .from(chatMessage)
    .where(
      and(
        mine,
        eq(chatMessage.owner, true),
        eq(chatMessage.text, text),
        isNull(chatMessage.sentBy),
        gte(chatMessage.writtenAt, fromMs),
      ),
    )
    .limit(1);
  if (kept)
    return {
      id: kept.placeMessageId,
      kind: kept.kind,
      text,
      writtenAtMs: kept.writtenAt,
      author: { id: kept.authorId, name: kept.authorName },
      replyTo: kept.replyToPlaceId,
    };
  const others = await app.db
    .select({ placeMessageId: chatMessage.placeMessageId })
    .from(chatMessage)
    .where(and(mine, isNotNull(chatMessage.sentBy), gte(chatMessage.writtenAt, fromMs)));
  const known = new Set(others.map(({ placeMessageId }) => placeMessageId));
  return listen(app, listing, row, ({ id, author, text: said, writtenAtMs }) => {
    if (known.has(id) || writtenAtMs < fromMs) return false;
    return author.owner && said === text;
  });
}

/** Follows the chat for a moment, from where it was read last, until a message is the one. */
async function listen(
  app: App,
  listing: ListingRow,
  row: DestinationRow,
  isIt: (message: PlaceMessage) => boolean,
): Promise<PlaceMessage | null> {
  const { chat } = connectorOf(row.kind);
  if (!chat) return null;
  const target = await targetOf(app, row);
  const stop = new AbortController();
  let found: PlaceMessage | null = null;
  let isHeard = false;
  const enough = setTimeout(() => stop.abort(), LOOK_MS);
  const heard = {
    opened: () => (isHeard = true),
    lost: () => undefined,
    refused: () => stop.abort(),
    reacted: () => Promise.resolve(),
    messages: (arrived: readonly PlaceMessage[]) => {
      found ??= arrived.find(isIt) ?? null;
      if (found) stop.abort();
      return Promise.resolve();
    },
  };
  try {
    await chat.follow(target, listing.eventRef, listing.chatCursor, app.ask, heard, stop.signal);
  } finally {
    clearTimeout(enough);
  }
  if (!found && !isHeard)
    throw new Refusal(
      'place_away',
      `${row.name} does not answer just now, so nobody knows yet whether this was written there. Try again in a few seconds: it is looked for there before it is sent once more.`,
    );
  return found;
}
