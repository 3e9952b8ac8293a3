import { readChatRules, saveChatRules, tryChatRules } from '@juncta/contract/chat';
import { ChatMemory, isWritten, judge } from '@juncta/core/chat';
import { languageOf } from '@juncta/core/chat/language';
import type { Router } from 'express';
import type { App } from '../../app';
import { notFound } from '../../http/errors';
import { mount } from '../../http/mount';
import { findShow } from '../../shows/store';
import { readRules, saveRules } from './rules-store';
import * as store from '../list/store';

const MOST_CAUGHT = 200;

/** The rules for messages: the house's, and a show's own. */
export function mountRules(router: Router, app: App): void {
  mount(router, app, readChatRules, async ({ params: { showId } }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    return readRules(app.db, showId);
  });

  mount(router, app, saveChatRules, async ({ params: { showId }, body, memberId }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    const rules = await app.db.transaction((tx) => saveRules(tx, showId, body));
    app.log.info({ member: memberId, of: body.of, show: showId }, 'rules for messages were changed');
    return rules;
  });

  mount(router, app, tryChatRules, async ({ params: { showId }, body: { rules } }) => {
    const memory = new ChatMemory();
    const all = (await store.allMessages(app.db, showId)).filter(
      ({ author, kind }) => !author.owner && isWritten(kind),
    );
    const caught = all.flatMap(({ destinationId, author, text, writtenAtMs }) => {
      const message = {
        author: `${destinationId} ${author.id}`,
        destination: destinationId,
        text,
        writtenAtMs,
        accountDays: author.accountDays,
      };
      const rule = judge(message, memory, rules, languageOf);
      memory.note(message);
      return rule ? [{ kind: rule.kind, action: rule.action, author: author.name, text }] : [];
    });
    return { messages: all.length, caught: caught.slice(0, MOST_CAUGHT) };
  });
}
