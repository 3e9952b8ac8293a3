import { moderate, readChatLog, type ChatMessage } from '@juncta/contract/chat';
import { streamOf } from '@juncta/contract/events';
import type { ChatAct } from '@juncta/core/chat';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import type { App } from '../../app';
import type { Transaction } from '../../database/connect';
import { atPlace, placeRefusal } from '../../destinations/at-place';
import { connectorOf, type ChatConnector, type Target } from '../../destinations/connectors';
import { findDestination } from '../../destinations/store';
import { appendEvent } from '../../events/store';
import { notFound, Refusal } from '../../http/errors';
import { mount } from '../../http/mount';
import { findListing } from '../../listings/store';
import { findMember } from '../../team/store';
import { takeOffUnlessShown, whyNotShown } from '../questions/on-programme';
import * as store from '../list/store';

const MOST_LOGGED = 200;
/** Nobody deals with one message for longer. */
const TAKEN_MS = 3 * 60_000;
const LET_GO = { takenBy: null, takenAt: null };

/** What moderators do with messages. */
export function mountModeration(router: Router, app: App): void {
  mount(router, app, moderate, async ({ params: { showId, messageId }, body: { act }, memberId }) => {
    const row = await store.findMessage(app.db, showId, messageId);
    if (!row) throw notFound('message');
    if (act === 'take' || act === 'release')
      return { messages: await take(showId, row, act, memberId), sentence: null };
    if (row.owner && act !== 'hide') throw new Refusal('not_ready', 'This is what the house itself wrote.');
    const by = (await findMember(app.db, memberId))?.name ?? '';
    // For ourselves at once, whatever the place then does.
    const messages = await app.db.transaction(async (tx) => {
      await store.changeMessages(tx, [row.id], LET_GO);
      const changed = await change(tx, row, act, by);
      await store.noteActs(tx, [
        { id: randomUUID(), showId, messageId, act, by, at: app.securityClock.now() },
      ]);
      await takeOffUnlessShown(app, tx, showId);
      await appendEvent(tx, app.clock, streamOf('chat', showId), 'messages.added', {
        showId,
        messages: changed,
      });
      return changed;
    });
    if (act === 'ban' || act === 'unban') {
      const { sentence } = await banThere(app, row, act === 'ban');
      return { messages, sentence };
    }
    if (act !== 'hide' && act !== 'let_through') return { messages, sentence: null };
    // What is let through is shown there again only if we had hidden it there.
    if (act === 'let_through' && row.hiddenThere !== true) return { messages, sentence: null };
    const { done, sentence } = await hideThere(app, row, act === 'hide');
    const hiddenThere = act === 'hide' ? done : done ? null : true;
    const told = await app.db.transaction(async (tx) => {
      const changed = await store.changeMessages(tx, [row.id], { hiddenThere });
      await appendEvent(tx, app.clock, streamOf('chat', showId), 'messages.added', {
        showId,
        messages: changed,
      });
      return changed;
    });
    return { messages: told, sentence };
  });

  /** Nothing is done with it yet, so nothing is noted. Whoever was first keeps it until they let go. */
  async function take(
    showId: string,
    row: store.MessageRow,
    act: 'take' | 'release',
    memberId: string,
  ): Promise<ChatMessage[]> {
    const mine = row.takenBy === memberId;
    if (act === 'take' ? row.takenBy !== null : !mine) return store.messagesWithIds(app.db, [row.id]);
    const taken = act === 'take' ? { takenBy: memberId, takenAt: app.securityClock.now() } : LET_GO;
    return app.db.transaction(async (tx) => {
      const messages = await store.changeMessages(tx, [row.id], taken);
      await appendEvent(tx, app.clock, streamOf('chat', showId), 'messages.added', { showId, messages });
      return messages;
    });
  }

  mount(router, app, readChatLog, async ({ params: { showId } }) => ({
    log: await store.readActs(app.db, showId, MOST_LOGGED),
  }));
}

/** Messages that somebody took and did nothing with for some minutes are anybody's again. */
export async function releaseForgotten(app: App): Promise<void> {
  const forgotten = await store.takenBefore(app.db, app.securityClock.now() - TAKEN_MS);
  for (const { id, showId } of forgotten) {
    await app.db.transaction(async (tx) => {
      const messages = await store.changeMessages(tx, [id], LET_GO);
      await appendEvent(tx, app.clock, streamOf('chat', showId), 'messages.added', { showId, messages });
    });
  }
}

async function change(
  tx: Transaction,
  row: store.MessageRow,
  act: Exclude<ChatAct, 'take' | 'release'>,
  by: string,
): Promise<ChatMessage[]> {
  switch (act) {
    case 'let_through':
      return store.changeMessages(tx, [row.id], { standing: 'shown', standingBy: by });
    case 'set_aside':
      return store.changeMessages(tx, [row.id], { standing: 'aside', standingBy: by, question: 'none' });
    case 'hide':
      return store.changeMessages(tx, [row.id], { standing: 'hidden', standingBy: by, question: 'none' });
    case 'mute':
    case 'ban':
      await store.mute(tx, row, by);
      return store.changeMessages(tx, await store.messagesBy(tx, row), {
        standing: 'hidden',
        standingBy: by,
        question: 'none',
      });
    case 'unmute':
    case 'unban':
      await store.unmute(tx, row);
      return store.changeMessages(tx, await store.messagesBy(tx, row), { standing: 'shown', standingBy: by });
    case 'line_up': {
      const why = whyNotShown(row);
      if (why !== null) throw new Refusal('not_ready', why);
      return store.changeMessages(tx, [row.id], { question: 'lined_up' });
    }
    case 'answered':
      return store.changeMessages(tx, [row.id], { question: 'answered' });
    case 'unline':
      return store.changeMessages(tx, [row.id], { question: 'none' });
    case 'tell_host':
      return store.changeMessages(tx, [row.id], { forHost: 'told' });
    case 'host_seen':
      return store.changeMessages(tx, [row.id], { forHost: 'seen' });
  }
}

interface AtPlace {
  readonly done: boolean;
  /** What was not done there, and what that means; null: all of it was. */
  readonly sentence: string | null;
}

/** Hides a message at its place, or shows it there again; what cannot be done there is said. */
const hideThere = (app: App, row: store.MessageRow, hidden: boolean): Promise<AtPlace> =>
  doThere(app, row, {
    way: ({ hide }) =>
      hide && ((target, eventRef) => hide(target, eventRef, row.placeMessageId, hidden, app.ask)),
    cannot: (name) =>
      `${name} lets nobody hide messages from outside: it is hidden here, and viewers there still see it.`,
    otherwise: hidden ? 'viewers there still see it' : 'it stays hidden there',
  });

/** Shuts a writer out at their place, or lets them in again. */
const banThere = (app: App, row: store.MessageRow, banned: boolean): Promise<AtPlace> =>
  doThere(app, row, {
    way: ({ ban }) => ban && ((target, eventRef) => ban(target, eventRef, row.authorId, banned, app.ask)),
    cannot: (name) =>
      banned
        ? `${name} lets nobody ban from outside: muted here, and viewers there still read this writer.`
        : `Unmuted here. ${name} lets nobody ban from outside.`,
    otherwise: banned ? 'this writer can still write there' : 'this writer stays banned there',
  });

interface Deed {
  way(chat: ChatConnector): ((target: Target, eventRef: string | null) => Promise<void>) | undefined;
  cannot(name: string): string;
  /** What holds if the place does not do it. */
  readonly otherwise: string;
}

async function doThere(app: App, row: store.MessageRow, deed: Deed): Promise<AtPlace> {
  const destination = await findDestination(app.db, row.destinationId);
  const found = await findListing(app.db, row.showId, row.destinationId);
  const name = destination?.name ?? 'The place';
  const chat = destination && connectorOf(destination.kind).chat;
  const act = chat && deed.way(chat);
  if (!act || !found) return { done: false, sentence: deed.cannot(name) };
  if (row.practice)
    return { done: false, sentence: `Practised: done here. ${name} can do it too, and was not asked.` };
  try {
    await atPlace(app, destination, (target) => act(target, found.listing.eventRef));
    return { done: true, sentence: null };
  } catch (error) {
    const told = placeRefusal(name, error, deed.otherwise);
    if (!(told instanceof Refusal)) throw told;
    return { done: false, sentence: `Done here. ${told.sentence}` };
  }
}
