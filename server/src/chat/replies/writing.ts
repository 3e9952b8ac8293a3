import type { AnswerOutcome, ChatMessage } from '@juncta/contract/chat';
import { streamOf } from '@juncta/contract/events';
import { showTimeOf } from '@juncta/core/chat';
import { overLength } from '@juncta/core/listings';
import { randomUUID } from 'node:crypto';
import type { App } from '../../app';
import { atPlace, placeRefusal } from '../../destinations/at-place';
import type { Transaction } from '../../database/connect';
import { PlaceRefused } from '../../destinations/ask-place';
import { connectorOf, viewerDelay } from '../../destinations/connectors';
import { destinationsOfShow, type DestinationRow } from '../../destinations/store';
import { appendEvent } from '../../events/store';
import { Refusal } from '../../http/errors';
import { listingsOf, type ListingRow } from '../../listings/store';
import { isPractising } from '../practice/practice-store';
import { sendOnce, type Sending, type SentMessage } from './sending';
import * as store from '../list/store';
import { addMessages, nameSender } from '../ingest/written-store';

export interface Writing {
  readonly showId: string;
  /** The same for every try of one text: what was sent to a place is not sent there again. */
  readonly id: string;
  readonly text: string;
  readonly memberId: string;
  /** What is answered, where it was asked; null: to everybody, wherever one can write. */
  readonly asked: store.MessageRow | null;
}

/** Writes to viewers in the house's name. Refused when there is no place at all where that can be done. */
export async function write(
  app: App,
  { showId, id, text, memberId, asked }: Writing,
): Promise<AnswerOutcome[]> {
  const destinations = await destinationsOfShow(app.db, showId);
  const practising = await isPractising(app.db, showId);
  const listings = (await listingsOf(app.db, showId)).filter(({ chatOpen }) => chatOpen || practising);
  const places = listings.flatMap((listing) => {
    const row = destinations.find((one) => one.id === listing.destinationId)!;
    const { chat } = connectorOf(row.kind);
    // To everybody means wherever one can write; an answer has one place, and is told when it has none.
    const wanted = asked === null ? chat?.write != null : chat !== null && asked.destinationId === row.id;
    return wanted ? { listing, row } : [];
  });
  if (places.length === 0) {
    throw new Refusal(
      'not_ready',
      asked
        ? 'The chat where this was asked is not open any more. Nothing was sent.'
        : 'No chat is open yet. It opens with the first feed to a destination that has one.',
    );
  }
  return Promise.all(
    places.map(async ({ listing, row }): Promise<AnswerOutcome> => {
      const destinationId = row.id;
      try {
        const replyTo = asked?.placeMessageId ?? null;
        await writeAt(app, { listing, row, id, memberId, text, replyTo, practising });
        return { destinationId, sent: true, sentence: null };
      } catch (error) {
        const so =
          error instanceof PlaceRefused
            ? 'nothing was written there'
            : 'nobody knows yet whether it was written there';
        const told = placeRefusal(row.name, error, so);
        if (!(told instanceof Refusal)) throw told;
        return { destinationId, sent: false, sentence: told.sentence };
      }
    }),
  );
}

interface AtOnePlace {
  readonly listing: ListingRow;
  readonly row: DestinationRow;
  readonly id: string;
  readonly memberId: string;
  readonly text: string;
  readonly replyTo: string | null;
  /** It is put where it would stand, and no place is asked. */
  readonly practising: boolean;
}

async function writeAt(
  app: App,
  { listing, row, id, memberId, text, replyTo, practising }: AtOnePlace,
): Promise<void> {
  const { chat, rules } = connectorOf(row.kind);
  const rule = rules.capabilities.chat.reply;
  const over = overLength(text, rule);
  if (over > 0) {
    throw new Refusal(
      'not_ready',
      `${row.name} takes at most ${rule!.max}; this is ${over} over. Nothing was written there.`,
    );
  }
  const { showId, eventRef } = listing;
  const write = chat?.write;
  if (!write)
    throw new Refusal(
      'not_ready',
      `${row.name} lets nobody write from outside. Answer on the programme instead.`,
    );
  const sending: Sending = {
    id,
    listing,
    row,
    text,
    send: () =>
      practising
        ? Promise.resolve(practised(app, id, text, replyTo))
        : atPlace(app, row, (target) => write(target, eventRef, text, replyTo, app.ask)),
    keep: (written, done) =>
      app.db.transaction(async (tx) => {
        await done(tx);
        const messages = await keepWritten(app, tx, { listing, row, written, memberId, practising });
        await appendEvent(tx, app.clock, streamOf('chat', showId), 'messages.added', { showId, messages });
      }),
  };
  await sendOnce(app, sending);
}

/** As a place would give it. */
const practised = (app: App, id: string, text: string, replyTo: string | null): SentMessage => ({
  id: `practice ${id}`,
  kind: 'message',
  author: { id: 'practice', name: 'The house' },
  text,
  writtenAtMs: app.securityClock.now(),
  replyTo,
});

async function keepWritten(
  app: App,
  tx: Transaction,
  {
    listing,
    row,
    written,
    memberId,
    practising,
  }: Pick<AtOnePlace, 'listing' | 'row' | 'memberId' | 'practising'> & { written: SentMessage },
): Promise<ChatMessage[]> {
  const nowMs = app.securityClock.now();
  const { showId, destinationId } = listing;
  const delay = viewerDelay(row.kind, listing);
  const showTimeNowMs = app.relay?.reportOf(showId)?.showTimeMs ?? null;
  // The line may have brought it already; whoever wrote it is added then.
  const added = await addMessages(tx, [
    {
      id: randomUUID(),
      showId,
      destinationId,
      placeMessageId: written.id,
      kind: written.kind,
      authorId: written.author.id,
      authorName: written.author.name,
      owner: true,
      text: written.text,
      writtenAt: written.writtenAtMs,
      receivedAt: nowMs,
      showTimeMs: showTimeOf(showTimeNowMs, nowMs, written.writtenAtMs, delay.ms),
      showTimeAbout: delay.from === 'rule' && showTimeNowMs !== null,
      replyToPlaceId: written.replyTo,
      sentBy: memberId,
      practice: practising,
    },
  ]);
  const ids = added.length > 0 ? added : await nameSender(tx, showId, destinationId, written.id, memberId);
  return store.messagesWithIds(tx, ids);
}
