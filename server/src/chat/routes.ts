import {
  closeChat,
  findMessages,
  FOUND_PAGE,
  readChat,
  setOnProgramme,
  writeChat,
} from '@juncta/contract/chat';
import { Id } from '@juncta/contract/http';
import { streamOf } from '@juncta/contract/events';
import { toCsv, toJsonLines, toText, toWebVtt } from '@juncta/core/chat';
import type { Router } from 'express';
import type { App } from '../app';
import { destinationsOfShow } from '../destinations/store';
import { appendEvent, lastSeq } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { admit } from '../http/files';
import { mount } from '../http/mount';
import { changeListing, listingsOf } from '../listings/store';
import { findShow } from '../shows/store';
import type { ChatLines } from './ingest/chat-lines';
import { mountChatFigures } from './list/figures';
import { describeFlood, lateFloods } from './floods/flood-store';
import { mountFloods } from './floods/floods';
import { mountModeration } from './moderation/moderation';
import { whyNotShown } from './questions/on-programme';
import { mountPlaceChats } from './replies/place-chats';
import { mountPractice } from './practice/practice';
import { findPractice } from './practice/practice-store';
import { mountRules } from './moderation/rules';
import * as store from './list/store';
import { mountTexts } from './replies/texts';
import { mountViewers, notesIn } from './viewers/viewers';
import { write } from './replies/writing';

/** A desk is given so many of the newest, and asks for what is older. */
const MOST_READ = 500;
/** Floods are told as long after they are over. */
const LATE_MS = 5 * 60_000;

export function mountChat(router: Router, app: App, lines: ChatLines): void {
  mount(router, app, readChat, async ({ params: { showId } }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    return app.db.transaction(
      async (tx) => {
        const newest = await store.newestMessages(tx, showId, MOST_READ + 1);
        return {
          messages: newest.slice(-MOST_READ),
          more: newest.length > MOST_READ,
          lines: lines.linesOf(showId),
          floods: (await lateFloods(tx, showId, app.securityClock.now() - LATE_MS)).map(describeFlood),
          notes: await notesIn(tx, showId),
          reactions: await lines.keeping.reactions.of(tx, showId),
          onProgramme: await store.findOnProgramme(tx, showId, app.securityClock.now()),
          practice: await findPractice(tx, showId),
          seq: await lastSeq(tx, streamOf('chat', showId)),
        };
      },
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    );
  });

  mount(router, app, findMessages, async ({ params: { showId }, body }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    const found = await store.findMessages(app.db, showId, body, FOUND_PAGE + 1);
    return { messages: found.slice(-FOUND_PAGE), more: found.length > FOUND_PAGE };
  });

  mount(router, app, writeChat, async ({ params: { showId }, body: { id, text, replyTo }, memberId }) => {
    const asked = replyTo === null ? null : await store.findMessage(app.db, showId, replyTo);
    if (asked === undefined) throw notFound('message');
    return { outcomes: await write(app, { showId, id, text, memberId, asked }) };
  });

  mount(router, app, setOnProgramme, async ({ params: { showId }, body }) =>
    app.db.transaction(async (tx) => {
      const nowMs = app.securityClock.now();
      const message = body.messageId === null ? null : await store.findMessage(tx, showId, body.messageId);
      if (message === undefined) throw notFound('message');
      const why = message && whyNotShown(message);
      if (why) throw new Refusal('not_ready', why);
      const until = body.seconds === null ? null : nowMs + body.seconds * 1000;
      const values =
        body.messageId === null ? null : { messageId: body.messageId, until, text: body.text ?? null };
      await store.setOnProgramme(tx, showId, values);
      const onProgramme = await store.findOnProgramme(tx, showId, nowMs);
      await appendEvent(tx, app.clock, streamOf('chat', showId), 'programme.set', { showId, onProgramme });
      return { onProgramme };
    }),
  );

  mount(router, app, closeChat, async ({ params: { showId } }) => {
    for (const { destinationId } of await listingsOf(app.db, showId)) {
      await changeListing(app.db, showId, destinationId, { chatOpen: false });
    }
    await lines.reconcile();
    return {};
  });

  mountModeration(router, app);
  mountRules(router, app);
  mountViewers(router, app);
  mountFloods(router, app, lines.keeping.floods);
  mountPlaceChats(router, app);
  mountTexts(router, app);
  mountPractice(router, app, lines.practices);
  mountChatFigures(router, app);
  mountFiles(router, app);
}

const FILES = {
  csv: { type: 'text/csv', write: toCsv },
  vtt: { type: 'text/vtt', write: toWebVtt },
  jsonl: { type: 'application/jsonl', write: toJsonLines },
  txt: { type: 'text/plain', write: toText },
} as const;

/** `GET /api/shows/:show/chat.csv`, `.vtt`, `.jsonl` and `.txt`: everything that was written, for whatever comes after. */
function mountFiles(router: Router, app: App): void {
  router.get('/api/shows/:showId/chat.:format', async (req, res) => {
    await admit(app, req, 'chat.read');
    const { showId, format } = req.params;
    const file = FILES[format as keyof typeof FILES];
    if (!Id.safeParse(showId).success || !Object.hasOwn(FILES, format)) throw notFound('file');
    if (!(await findShow(app.db, showId))) throw notFound('show');
    const names = new Map((await destinationsOfShow(app.db, showId)).map(({ id, name }) => [id, name]));
    const messages = (await store.allMessages(app.db, showId)).map((message) => ({
      showTimeMs: message.showTimeMs,
      writtenAtMs: message.writtenAtMs,
      destination: names.get(message.destinationId) ?? '',
      author: message.author.name,
      owner: message.author.owner,
      text: message.text,
      standing: message.standing,
      question: message.question,
      kind: message.kind,
      takenBack: message.takenBack,
      accountDays: message.author.accountDays,
    }));
    res.setHeader('Cache-Control', 'private, no-store');
    res.attachment(`juncta-chat.${format}`);
    res.type(`${file.type}; charset=utf-8`);
    res.send(file.write(messages));
  });
}
