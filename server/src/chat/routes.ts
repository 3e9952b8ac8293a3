import { closeChat, readChat, setOnProgramme, writeChat, type AnswerOutcome } from '@juncta/contract/chat';
import { right, Id } from '@juncta/contract/http';
import { showTimeOf, toCsv, toJsonLines, toText, toWebVtt } from '@juncta/core/chat';
import { overLength } from '@juncta/core/listings';
import { randomUUID } from 'node:crypto';
import type { Router } from 'express';
import { cookieOf, SESSION_COOKIE } from '../access/cookies';
import { enforce, findVisitor } from '../access/sessions';
import type { App } from '../app';
import { connectorOf, viewerDelayMs } from '../destinations/connectors';
import { destinationsOfShow, type DestinationRow } from '../destinations/store';
import { appendEvent, lastSeq } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { atPlace, placeRefusal } from '../destinations/at-place';
import { changeListing, listingsOf, type ListingRow } from '../listings/store';
import { findShow } from '../shows/store';
import type { ChatLines } from './chat-lines';
import { mountModeration } from './moderation';
import * as store from './store';

/** A desk is given so many of the newest; what is older is in the files. */
const MOST_READ = 500;

export function mountChat(router: Router, app: App, lines: ChatLines): void {
  mount(router, app, readChat, async ({ params: { showId } }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    return app.db.transaction(
      async (tx) => ({
        messages: await store.newestMessages(tx, showId, MOST_READ),
        lines: lines.linesOf(showId),
        onProgramme: await store.findOnProgramme(tx, showId, app.securityClock.now()),
        seq: await lastSeq(tx, 'chat'),
      }),
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    );
  });

  mount(router, app, writeChat, async ({ params: { showId }, body, memberId }) => {
    const asked = body.replyTo === null ? null : await store.findMessage(app.db, showId, body.replyTo);
    if (asked === undefined) throw notFound('message');
    const destinations = await destinationsOfShow(app.db, showId);
    const listings = (await listingsOf(app.db, showId)).filter(({ chatOpen }) => chatOpen);
    const places = listings.flatMap((listing) => {
      const row = destinations.find(({ id }) => id === listing.destinationId)!;
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
    const done = await store.sentTo(app.db, body.id);
    const outcomes = await Promise.all(
      places.map(async ({ listing, row }): Promise<AnswerOutcome> => {
        const destinationId = row.id;
        if (done.includes(destinationId)) return { destinationId, sent: true, sentence: null };
        try {
          await writeAt(app, {
            listing,
            row,
            id: body.id,
            memberId,
            text: body.text,
            replyTo: asked?.placeMessageId ?? null,
          });
          return { destinationId, sent: true, sentence: null };
        } catch (error) {
          const told = placeRefusal(row.name, error, 'nothing was written there');
          if (!(told instanceof Refusal)) throw told;
          return { destinationId, sent: false, sentence: told.sentence };
        }
      }),
    );
    return { outcomes };
  });

  mount(router, app, setOnProgramme, async ({ params: { showId }, body }) =>
    app.db.transaction(async (tx) => {
      const nowMs = app.securityClock.now();
      const message = body.messageId === null ? null : await store.findMessage(tx, showId, body.messageId);
      if (message === undefined) throw notFound('message');
      if (message && message.standing !== 'shown')
        throw new Refusal(
          'not_ready',
          'It is set aside or hidden. Let it through before it goes on the programme.',
        );
      const until = nowMs + body.seconds * 1000;
      const values = body.messageId === null ? null : { messageId: body.messageId, until };
      await store.setOnProgramme(tx, showId, values);
      const onProgramme = await store.findOnProgramme(tx, showId, nowMs);
      await appendEvent(tx, app.clock, 'chat', 'programme.set', { showId, onProgramme });
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
  mountFiles(router, app);
}

interface Writing {
  readonly listing: ListingRow;
  readonly row: DestinationRow;
  readonly id: string;
  readonly memberId: string;
  readonly text: string;
  readonly replyTo: string | null;
}

async function writeAt(app: App, { listing, row, id, memberId, text, replyTo }: Writing): Promise<void> {
  const { chat, rules } = connectorOf(row.kind);
  const rule = rules.capabilities.chat.reply;
  const over = overLength(text, rule);
  if (over > 0) {
    throw new Refusal(
      'not_ready',
      `${row.name} takes at most ${rule!.max}; this is ${over} over. Nothing was written there.`,
    );
  }
  const { showId, destinationId, eventRef } = listing;
  const write = chat?.write;
  if (!write)
    throw new Refusal(
      'not_ready',
      `${row.name} lets nobody write from outside. Answer on the programme instead.`,
    );
  const written = await atPlace(app, row, (target) => write(target, eventRef, text, replyTo, app.ask));
  const nowMs = app.securityClock.now();
  const showTimeNowMs = app.relay?.reportOf(showId)?.showTimeMs ?? null;
  await app.db.transaction(async (tx) => {
    await store.addSent(tx, { id, showId, destinationId });
    // The line may have brought it already; whoever wrote it is added then.
    const added = await store.addMessages(tx, [
      {
        id: randomUUID(),
        showId,
        destinationId,
        placeMessageId: written.id,
        authorId: written.author.id,
        authorName: written.author.name,
        owner: true,
        text: written.text,
        writtenAt: written.writtenAtMs,
        receivedAt: nowMs,
        showTimeMs: showTimeOf(
          showTimeNowMs,
          nowMs,
          written.writtenAtMs,
          viewerDelayMs(row.kind, listing.sent?.settings),
        ),
        replyToPlaceId: written.replyTo,
        sentBy: memberId,
      },
    ]);
    const ids =
      added.length > 0 ? added : await store.nameSender(tx, showId, destinationId, written.id, memberId);
    const messages = await store.messagesWithIds(tx, ids);
    await appendEvent(tx, app.clock, 'chat', 'messages.added', { showId, messages });
  });
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
    await app.tries.countRequest(req.ip ?? 'unknown');
    const token = cookieOf(req.headers.cookie, SESSION_COOKIE);
    enforce(right('chat.read'), token ? await findVisitor(app.db, app.securityClock, token) : null);
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
    }));
    res.setHeader('Cache-Control', 'private, no-store');
    res.attachment(`juncta-chat.${format}`);
    res.type(`${file.type}; charset=utf-8`);
    res.send(file.write(messages));
  });
}
