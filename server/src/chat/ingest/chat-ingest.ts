import { streamOf } from '@juncta/contract/events';
import { ChatMemory, judge, rulesOfText, showTimeOf, type ChatRule } from '@juncta/core/chat';
import { languageOf } from '@juncta/core/chat/language';
import { randomUUID } from 'node:crypto';
import type { App } from '../../app';
import type { Transaction } from '../../database/connect';
import type { PlaceMessage } from '../../destinations/connectors';
import { appendEvent } from '../../events/store';
import { changeListing } from '../../listings/store';
import { Floods } from '../floods/floods';
import { takeOffUnlessShown } from '../questions/on-programme';
import type { Origin } from './origin';
import { Reactions } from './reactions';
import { rulesFor } from '../moderation/rules-store';
import * as store from '../list/store';
import { Writers } from './writers';
import * as written from './written-store';

/** For rules that ask what was said before. */
const MOST_REMEMBERED = 500;
/** A place's clock may be ahead of ours by so much, and no more. */
const AHEAD_MS = 2 * 60_000;

/**
 * Keeps what the lines bring: each message once, judged by the rules, watched for floods, with what its writer is known
 * by; and what writers change or take back. All of a batch, how far it was read, and its event are one transaction.
 */
export class ChatIngest {
  readonly floods: Floods;
  readonly reactions: Reactions;
  private readonly writers = new Writers();
  private readonly memories = new Map<string, ChatMemory>();

  constructor(private readonly app: App) {
    this.floods = new Floods(app);
    this.reactions = new Reactions(app);
  }

  forget(showId: string): void {
    this.memories.delete(showId);
    this.writers.forget(showId);
    this.floods.forget(showId);
  }

  /** @param cursor how far the chat is read with these, in the place's own terms */
  async keep(origin: Origin, arrived: readonly PlaceMessage[], cursor: string | null): Promise<void> {
    const { showId, destinationId, practice = false } = origin;
    const kept = this.app.db.transaction(async (tx) => {
      const placeIds = arrived.map(({ id }) => id);
      const known = await written.knownMessages(tx, showId, destinationId, placeIds);
      const seen = new Set(known.keys());
      const isNew = (message: PlaceMessage) => !seen.has(message.id) && Boolean(seen.add(message.id));
      const rules = await rulesFor(tx, showId);
      const added = await this.add(tx, origin, arrived.filter(isNew), rules);
      const changed = await this.change(tx, origin, arrived, known, added, rules);
      if (!practice) await changeListing(tx, showId, destinationId, { chatCursor: cursor });
      const otherwise = new Set([...(await this.floods.note(tx, showId, added)), ...changed]);
      // Whom a message answers, and what became of it just now, only the database says.
      const looked = new Set([
        ...otherwise,
        ...added.flatMap(({ id, replyToPlaceId }) => (replyToPlaceId == null ? [] : id)),
      ]);
      const messages = [
        ...(await store.messagesWithIds(tx, [...looked])),
        ...added.filter(({ id }) => !looked.has(id)).map(written.describeNew),
      ];
      if (messages.length === 0) return;
      if (changed.length > 0) await takeOffUnlessShown(this.app, tx, showId);
      await appendEvent(tx, this.app.clock, streamOf('chat', showId), 'messages.added', { showId, messages });
    });
    await kept.catch((error: unknown) => {
      // What was noted and not kept comes again: the memory is made anew from what is kept.
      this.forget(showId);
      throw error;
    });
  }

  /** Messages that are new; those that something else brought meanwhile, as our own answers, are left out. */
  private async add(
    tx: Transaction,
    { showId, destinationId, delayMs, delayAbout, practice = false }: Origin,
    arrived: readonly PlaceMessage[],
    rules: readonly ChatRule[],
  ): Promise<written.NewMessage[]> {
    const nowMs = this.app.securityClock.now();
    const showTimeNowMs = this.app.relay?.reportOf(showId)?.showTimeMs ?? null;
    const rows = arrived.map((message): written.NewMessage => ({
      id: randomUUID(),
      showId,
      destinationId,
      placeMessageId: message.id,
      kind: message.kind,
      authorId: message.author.id,
      authorName: message.author.name,
      owner: message.author.owner,
      badges: message.author.badges,
      accountDays: message.author.accountDays,
      text: message.text,
      editedAt: message.editedAtMs,
      takenBack: message.deleted,
      // One from the day after tomorrow would stand below everything else until then.
      writtenAt: Math.min(message.writtenAtMs, nowMs + AHEAD_MS),
      receivedAt: nowMs,
      showTimeMs: showTimeOf(showTimeNowMs, nowMs, message.writtenAtMs, delayMs),
      showTimeAbout: delayAbout && showTimeNowMs !== null,
      replyToPlaceId: message.replyTo,
      sentBy: null,
      practice,
    }));
    const judged = await this.floods.judged(tx, await this.judged(tx, rows, rules));
    // Nobody has written in this show because of a practice.
    const known = practice ? judged : await this.writers.noted(tx, judged);
    const isAdded = new Set(await written.addMessages(tx, known));
    const added = known.filter(({ id }) => isAdded.has(id));
    const acts = added.filter(({ standing, floodId }) => standing !== undefined && !floodId);
    await store.noteActs(
      tx,
      acts.map(({ id: messageId, standing, standingBy }) =>
        ruleAct(this.app, showId, messageId, standing!, standingBy!),
      ),
    );
    return added;
  }

  /** What writers changed or took back. Gives the ids of those messages. */
  private async change(
    tx: Transaction,
    { showId, destinationId }: Origin,
    arrived: readonly PlaceMessage[],
    before: ReadonlyMap<string, written.KnownMessage>,
    added: readonly written.NewMessage[],
    rules: readonly ChatRule[],
  ): Promise<string[]> {
    const known = new Map(before);
    for (const row of added)
      known.set(row.placeMessageId, {
        id: row.id,
        placeMessageId: row.placeMessageId,
        text: row.text,
        editedAt: row.editedAt ?? null,
        takenBack: row.takenBack ?? false,
        standing: row.standing ?? 'shown',
        standingBy: row.standingBy ?? null,
        question: row.question ?? 'none',
      });
    const changed = new Set<string>();
    for (const { id, text, deleted, editedAtMs, author } of arrived) {
      const now = known.get(id);
      if (!now) continue;
      if (deleted && !now.takenBack) {
        const question = now.question === 'lined_up' ? 'none' : now.question;
        await written.changeWritten(tx, now.id, { takenBack: true, question });
        known.set(id, { ...now, takenBack: true, question });
        changed.add(now.id);
      } else if (!deleted && text !== now.text && editedAtMs !== null && editedAtMs > (now.editedAt ?? 0)) {
        // A text that was harmless may become something else; what a person decided stays decided.
        const message = {
          author: author.id,
          destination: destinationId,
          text,
          writtenAtMs: editedAtMs,
          accountDays: null,
        };
        const rule =
          author.owner || now.standing !== 'shown' || now.standingBy !== null
            ? null
            : judge(message, new ChatMemory(), rulesOfText(rules), languageOf);
        const verdict = rule ? stands(rule) : {};
        await written.changeWritten(tx, now.id, { text, editedAt: editedAtMs, ...verdict });
        if (rule) {
          const { standing, standingBy } = stands(rule);
          await store.noteActs(tx, [ruleAct(this.app, showId, now.id, standing, standingBy)]);
        }
        known.set(id, { ...now, text, editedAt: editedAtMs, ...verdict });
        changed.add(now.id);
      }
    }
    return [...changed];
  }

  /** How each stands from the beginning: by who is muted, and by the rules. */
  private async judged(
    tx: Transaction,
    rows: readonly written.NewMessage[],
    rules: readonly ChatRule[],
  ): Promise<written.NewMessage[]> {
    const [one] = rows;
    if (!one) return [];
    const { showId, destinationId } = one;
    const muted = await store.mutedAt(tx, showId, destinationId);
    const memory = await this.memoryOf(tx, showId);
    return rows.map((row) => {
      // What a place tells of a viewer was not written by one.
      if (row.owner || row.kind === 'follow' || row.kind === 'sale') return row;
      const message = {
        author: `${destinationId} ${row.authorId}`,
        destination: destinationId,
        text: row.text,
        writtenAtMs: row.writtenAt,
        accountDays: row.accountDays ?? null,
      };
      const by = muted.get(row.authorId);
      const rule = judge(message, memory, rules, languageOf);
      memory.note(message);
      if (by !== undefined) return { ...row, standing: 'hidden', standingBy: by };
      return rule ? { ...row, ...stands(rule) } : row;
    });
  }

  /** With what was written before this server was there. */
  private async memoryOf(tx: Transaction, showId: string): Promise<ChatMemory> {
    const known = this.memories.get(showId);
    if (known) return known;
    const memory = new ChatMemory();
    for (const { destinationId, author, text, writtenAtMs } of await store.newestMessages(
      tx,
      showId,
      MOST_REMEMBERED,
    ))
      memory.note({ author: `${destinationId} ${author.id}`, text, writtenAtMs });
    this.memories.set(showId, memory);
    return memory;
  }
}

const stands = ({ action, kind }: ChatRule) =>
  ({ standing: action === 'hide' ? 'hidden' : 'aside', standingBy: kind }) as const;

const ruleAct = (app: App, showId: string, messageId: string, standing: string, by: string) => ({
  id: randomUUID(),
  showId,
  messageId,
  act: standing === 'hidden' ? ('rule_hide' as const) : ('rule_aside' as const),
  by,
  at: app.securityClock.now(),
});
