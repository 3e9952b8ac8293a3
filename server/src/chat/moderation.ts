import {
  moderate,
  readChatLog,
  readChatRules,
  saveChatRules,
  tryChatRules,
  type ChatAct,
  type ChatMessage,
} from '@juncta/contract/chat';
import { ChatMemory, judge } from '@juncta/core/chat';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { atPlace, placeRefusal } from '../destinations/at-place';
import { connectorOf } from '../destinations/connectors';
import { findDestination } from '../destinations/store';
import { appendEvent } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { findListing } from '../listings/store';
import { listMembers } from '../team/store';
import * as store from './store';

const MOST_LOGGED = 200;
const MOST_CAUGHT = 200;

/** What moderators do with messages, and the rules that do it for them. */
export function mountModeration(router: Router, app: App): void {
  mount(router, app, moderate, async ({ params: { showId, messageId }, body: { act }, memberId }) => {
    const row = await store.findMessage(app.db, showId, messageId);
    if (!row) throw notFound('message');
    if (row.owner && act !== 'hide') throw new Refusal('not_ready', 'This is what the house itself wrote.');
    const by = (await listMembers(app.db)).find(({ id }) => id === memberId)?.name ?? '';
    // For ourselves at once, whatever the place then does.
    const messages = await app.db.transaction(async (tx) => {
      const changed = await change(tx, row, act, by);
      await store.noteActs(tx, [{ id: randomUUID(), showId, messageId, act, by, at: app.clock.now() }]);
      if (changed.some(({ standing }) => standing !== 'shown')) await takeOff(app, tx, showId, changed);
      await appendEvent(tx, app.clock, 'chat', 'messages.added', { showId, messages: changed });
      return changed;
    });
    if (act !== 'hide' && act !== 'let_through') return { messages, sentence: null };
    // What is let through is shown there again only if we had hidden it there.
    if (act === 'let_through' && row.hiddenThere !== true) return { messages, sentence: null };
    const { done, sentence } = await hideThere(app, row, act === 'hide');
    const hiddenThere = act === 'hide' ? done : done ? null : true;
    const told = await app.db.transaction(async (tx) => {
      const changed = await store.changeMessages(tx, [row.id], { hiddenThere });
      await appendEvent(tx, app.clock, 'chat', 'messages.added', { showId, messages: changed });
      return changed;
    });
    return { messages: told, sentence };
  });

  mount(router, app, readChatLog, async ({ params: { showId } }) => ({
    log: await store.readActs(app.db, showId, MOST_LOGGED),
  }));

  mount(router, app, readChatRules, async () => ({ rules: [...(await store.readRules(app.db))].map(copy) }));

  mount(router, app, saveChatRules, async ({ body, memberId }) => {
    await store.saveRules(app.db, body.rules);
    app.log.info({ member: memberId }, 'the rules for messages were changed');
    return body;
  });

  mount(router, app, tryChatRules, async ({ params: { showId }, body: { rules } }) => {
    const memory = new ChatMemory();
    const all = (await store.allMessages(app.db, showId)).filter(({ author }) => !author.owner);
    const caught = all.flatMap(({ destinationId, author, text, writtenAtMs }) => {
      const message = { author: `${destinationId} ${author.id}`, text, writtenAtMs };
      const rule = judge(message, memory, rules);
      memory.note(message);
      return rule ? [{ kind: rule.kind, action: rule.action, author: author.name, text }] : [];
    });
    return { messages: all.length, caught: caught.slice(0, MOST_CAUGHT) };
  });
}

const copy = <T extends { readonly list: readonly string[] }>(rule: T) => ({ ...rule, list: [...rule.list] });

async function change(
  tx: Transaction,
  row: store.MessageRow,
  act: ChatAct,
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
      await store.mute(tx, row, by);
      return store.changeMessages(tx, await store.messagesBy(tx, row), {
        standing: 'hidden',
        standingBy: by,
        question: 'none',
      });
    case 'unmute':
      await store.unmute(tx, row);
      return store.changeMessages(tx, await store.messagesBy(tx, row), { standing: 'shown', standingBy: by });
    case 'line_up':
      if (row.standing !== 'shown')
        throw new Refusal('not_ready', 'Let it through first: what is set aside or hidden is no question.');
      return store.changeMessages(tx, [row.id], { question: 'lined_up' });
    case 'answered':
      return store.changeMessages(tx, [row.id], { question: 'answered' });
    case 'unline':
      return store.changeMessages(tx, [row.id], { question: 'none' });
  }
}

/** What is not shown is not on the programme either. */
async function takeOff(
  app: App,
  tx: Transaction,
  showId: string,
  changed: readonly ChatMessage[],
): Promise<void> {
  const on = await store.findOnProgramme(tx, showId, app.securityClock.now());
  if (!on || !changed.some(({ id, standing }) => id === on.messageId && standing !== 'shown')) return;
  await store.setOnProgramme(tx, showId, null);
  await appendEvent(tx, app.clock, 'chat', 'programme.set', { showId, onProgramme: null });
}

/** Hides a message at its place, or shows it there again; what cannot be done there is said. */
async function hideThere(
  app: App,
  row: store.MessageRow,
  hidden: boolean,
): Promise<{ done: boolean; sentence: string | null }> {
  const destination = await findDestination(app.db, row.destinationId);
  const found = await findListing(app.db, row.showId, row.destinationId);
  const name = destination?.name ?? 'The place';
  const hide = destination && connectorOf(destination.kind).chat?.hide;
  if (!hide || !found)
    return {
      done: false,
      sentence: `${name} lets nobody hide messages from outside: it is hidden here, and viewers there still see it.`,
    };
  try {
    await atPlace(app, destination, (target) =>
      hide(target, found.listing.eventRef, row.placeMessageId, hidden, app.ask),
    );
    return { done: true, sentence: null };
  } catch (error) {
    const told = placeRefusal(name, error, hidden ? 'viewers there still see it' : 'it stays hidden there');
    if (!(told instanceof Refusal)) throw told;
    return { done: false, sentence: `Done here. ${told.sentence}` };
  }
}
