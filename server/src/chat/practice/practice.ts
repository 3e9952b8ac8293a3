import { endPractice, PRACTICE_MAX_BYTES, type PracticeOutcome } from '@juncta/contract/chat';
import { Id } from '@juncta/contract/http';
import { streamOf } from '@juncta/contract/events';
import { dueOf, fromJsonLines, planPractice, PRACTICE_SPEEDS, type PracticeLine } from '@juncta/core/chat';
import type { Router } from 'express';
import type { App } from '../../app';
import { isDatabaseAway } from '../../database/connect';
import { connectorOf, type PlaceMessage } from '../../destinations/connectors';
import { destinationsOfShow } from '../../destinations/store';
import { appendEvent } from '../../events/store';
import { badInput, notFound, Refusal } from '../../http/errors';
import { admit, fileOf } from '../../http/files';
import { mount } from '../../http/mount';
import { openChats } from '../../listings/store';
import { findShow } from '../../shows/store';
import type { ChatIngest } from '../ingest/chat-ingest';
import { takeOff } from '../questions/on-programme';
import * as store from './practice-store';

const TICK_MS = 250;
/** At once; what is due beyond comes with the next tick. */
const MOST_AT_ONCE = 200;

interface On {
  readonly lines: readonly PracticeLine[];
  readonly speed: number;
  /** When the first was due; later than it was begun where this server was away in between. */
  readonly fromMs: number;
  given: number;
}

/**
 * Gives the messages of another evening once more, in their time and by the same road as those that lines bring: rules,
 * floods and moderators have them as they had them then. Goes on after a restart where it was.
 */
export class Practices {
  private readonly on = new Map<string, On>();
  private timer: NodeJS.Timeout | undefined;
  private stopped = false;
  /** What is being done just now: nothing is given while a practice is being ended. */
  private doing: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly app: App,
    private readonly keeping: ChatIngest,
  ) {}

  start(): void {
    this.timer = setTimeout(() => void this.tick(true), TICK_MS);
  }

  stop(): void {
    this.stopped = true;
    clearTimeout(this.timer);
  }

  async begin(showId: string, by: string, speed: number, lines: readonly PracticeLine[]): Promise<void> {
    const nowMs = this.app.securityClock.now();
    const row = { showId, by, startedAt: nowMs, speed, lines, given: 0 };
    await this.app.db.transaction(async (tx) => {
      if (!(await store.addPractice(tx, row))) {
        const other = await store.findPractice(tx, showId);
        throw new Refusal('not_ready', `${other?.by ?? 'Somebody'} practises here already. End that first.`);
      }
      await this.tell(tx, showId);
    });
    this.on.set(showId, { lines, speed, fromMs: nowMs, given: 0 });
  }

  /** Nothing is left of it afterwards. */
  async end(showId: string): Promise<PracticeOutcome> {
    this.on.delete(showId);
    return this.alone(() =>
      this.app.db.transaction(async (tx) => {
        const row = await store.practiceRow(tx, showId);
        if (!row) throw notFound('practice');
        const outcome = await store.outcomeOf(tx, row);
        await takeOff(this.app, tx, showId, ({ practice }) => practice);
        await store.clearPractice(tx, row);
        this.keeping.forget(showId);
        await this.tell(tx, showId);
        return outcome;
      }),
    );
  }

  isOn(showId: string): boolean {
    return this.on.has(showId);
  }

  async endIfOn(showId: string): Promise<void> {
    if (this.isOn(showId)) await this.end(showId);
  }

  /** @param first what was on when this server was started is taken up again */
  private async tick(first: boolean): Promise<void> {
    let known = !first;
    try {
      if (first) await this.takeUp();
      known = true;
      for (const [showId, on] of this.on) await this.alone(() => this.give(showId, on));
    } catch (error) {
      if (!isDatabaseAway(error)) this.app.log.error({ err: error }, 'a practice could not go on');
    }
    if (!this.stopped) this.timer = setTimeout(() => void this.tick(!known), TICK_MS);
  }

  private async takeUp(): Promise<void> {
    const nowMs = this.app.securityClock.now();
    for (const { showId, lines, speed, given } of await store.allPractices(this.app.db)) {
      const fromMs = nowMs - (lines[given - 1]?.atMs ?? 0) / speed;
      if (!this.on.has(showId)) this.on.set(showId, { lines, speed, fromMs, given });
    }
  }

  private async give(showId: string, on: On): Promise<void> {
    // Ended while this waited.
    if (this.on.get(showId) !== on) return;
    const nowMs = this.app.securityClock.now();
    const due = Math.min(dueOf(on.lines, nowMs - on.fromMs, on.speed), on.given + MOST_AT_ONCE);
    if (due === on.given) return;
    if (!(await store.isPractising(this.app.db, showId))) {
      // The show itself was taken away.
      this.on.delete(showId);
      return;
    }
    const lines = on.lines.slice(on.given, due).map((line, i) => ({ line, id: on.given + i }));
    for (const destinationId of new Set(lines.map(({ line }) => line.destinationId))) {
      const messages = lines.flatMap(({ line, id }) =>
        line.destinationId === destinationId ? asWritten(line, id, nowMs) : [],
      );
      const origin = { showId, destinationId, delayMs: 0, delayAbout: false, practice: true };
      await this.keeping.keep(origin, messages, null);
    }
    await this.app.db.transaction(async (tx) => {
      await store.noteGiven(tx, showId, due);
      await this.tell(tx, showId);
    });
    on.given = due;
  }

  private async tell(tx: Parameters<typeof appendEvent>[0], showId: string): Promise<void> {
    const practice = await store.findPractice(tx, showId);
    await appendEvent(tx, this.app.clock, streamOf('chat', showId), 'practice.changed', { showId, practice });
  }

  private alone<T>(what: () => Promise<T>): Promise<T> {
    const done = this.doing.then(what);
    this.doing = done.catch(() => undefined);
    return done;
  }
}

function asWritten(
  { author, text, kind, accountDays }: PracticeLine,
  line: number,
  nowMs: number,
): PlaceMessage {
  return {
    id: store.practiceId(line),
    seq: String(line),
    kind,
    author: { id: store.practiceWriter(author), name: author, owner: false, badges: [], accountDays },
    text,
    writtenAtMs: nowMs,
    replyTo: null,
    editedAtMs: null,
    deleted: false,
  };
}

const wrongFile = (code: string, sentence: string) => badInput([{ field: 'file', code, sentence }]);

export function mountPractice(router: Router, app: App, practices: Practices): void {
  router.put('/api/shows/:showId/chat/practice/:speed', async (req, res) => {
    const { name } = await admit(app, req, 'chat.write');
    const { showId } = req.params;
    const speed = PRACTICE_SPEEDS.find((one) => String(one) === req.params.speed);
    if (!Id.safeParse(showId).success || speed === undefined) throw notFound('show');
    if (!(await findShow(app.db, showId))) throw notFound('show');
    const destinations = (await destinationsOfShow(app.db, showId)).filter(
      ({ kind }) => connectorOf(kind).chat,
    );
    if (destinations.length === 0)
      throw new Refusal(
        'not_ready',
        'None of this show’s destinations has a chat. Choose others in the plan first.',
      );
    const open = (await openChats(app.db)).some(({ listing }) => listing.showId === showId);
    if (open || app.relay?.reportOf(showId)?.showTimeMs != null)
      throw new Refusal('not_ready', 'A chat of this show is open. One practises before that, or after it.');
    const tooLong = new Refusal('too_long', 'This file is heavier than 8 MB. Take one of a shorter evening.');
    const file = await fileOf(req, res, PRACTICE_MAX_BYTES, tooLong);
    const { messages } = fromJsonLines(file.toString('utf8'));
    const { lines } = planPractice(messages, destinations);
    if (lines.length === 0)
      throw wrongFile(
        'empty',
        'No message of a viewer could be read in it. It takes JSON lines as saved from a show.',
      );
    await practices.begin(showId, name, speed, lines);
    res.setHeader('Cache-Control', 'no-store');
    res.json(await store.findPractice(app.db, showId));
  });

  mount(router, app, endPractice, async ({ params: { showId } }) => ({
    outcome: await practices.end(showId),
  }));
}
