import { publishFeed, readFeedHistory, startFeed, stopFeed } from '@juncta/contract/feeds';
import { compose, coverProgramme, endShow, readProgramme, setDelay } from '@juncta/contract/programme';
import { RECORDING_KINDS, type RecordingKind } from '@juncta/contract/recordings';
import { type ProgrammeReport } from '@juncta/contract/relay';
import { TICKET_LIFE_MS } from '@juncta/contract/uplink';
import { Id } from '@juncta/contract/http';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { App } from '../app';
import { takeOff } from '../chat/on-programme';
import { describe, destinationsOfShow } from '../destinations/store';
import { appendEvent, lastSeq } from '../events/store';
import { endListing, openListing, publishListing } from '../listings/at-place';
import { describeListing, listingsAt, listingsOf } from '../listings/store';
import { notFound, Refusal } from '../http/errors';
import { admit } from '../http/files';
import { mount } from '../http/mount';
import { marksOf } from '../marks/store';
import { findShow, lockShow, setProgrammeTimes, setShowDelay } from '../shows/store';
import { describeComposing, findComposing, isComposedBy, takeComposing } from './composing';
import { piecesAddress } from './pieces-address';
import { away } from './relay-client';
import { mountPutBack } from './put-back';
import type { RelayLink } from './relay-link';
import * as store from './store';
import { signTicket } from './tickets';

export function mountRelay(router: Router, app: App): void {
  const relay = (): RelayLink => {
    if (!app.relay) throw away();
    return app.relay;
  };

  mount(router, app, readProgramme, async ({ params: { showId } }) => {
    // Asked for itself, since the relay reports by itself only what goes on; away, its last word is kept.
    const programme = await app.relay?.client.report(showId).catch(() => null);
    return app.db.transaction(
      async (tx) => {
        const last = await store.lastReport(tx, showId);
        const composing = await findComposing(tx, showId);
        return {
          programme: programme ?? null,
          destinations: (await destinationsOfShow(tx, showId)).map((row) =>
            describe(row, app.rules.of(row.kind)),
          ),
          listings: (await listingsAt(tx, showId)).map(({ listing, destination }) =>
            describeListing(
              listing,
              destination.kind,
              app.relay?.viewersAt(showId, listing.destinationId) ?? null,
            ),
          ),
          marks: await marksOf(tx, showId),
          composing: composing ? describeComposing(composing) : null,
          atMs: last?.reportedAt ?? 0,
          seq: await lastSeq(tx, 'relay'),
        };
      },
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    );
  });

  mount(router, app, readFeedHistory, ({ params: { showId, destinationId } }) =>
    store.historyOf(app.db, showId, destinationId),
  );

  mount(
    router,
    app,
    compose,
    async ({ params: { showId }, body: { deskId, takeOver }, memberId, visitor, req }) => {
      const link = relay();
      const show = (await findShow(app.db, showId))!;
      const before = await findComposing(app.db, showId);
      if (before && before.deskId !== deskId && !takeOver) {
        const { deskId: connected } = await link.client.report(showId);
        if (connected === before.deskId) {
          throw new Refusal(
            'composed_elsewhere',
            `${before.memberName} composes this show at another desk.`,
            {
              current: describeComposing(before),
            },
          );
        }
      }
      const { token } = visitor!;
      const epoch =
        before && isComposedBy(before, deskId, token)
          ? before.epoch
          : await app.db.transaction(async (tx) => {
              const taken = { showId, deskId, memberId, takenAt: app.clock.now() };
              const next = await takeComposing(tx, taken, token);
              const composing = describeComposing((await findComposing(tx, showId))!);
              await appendEvent(tx, app.clock, 'relay', 'composing.changed', { showId, composing });
              return next;
            });
      await link.client.setEpoch(showId, epoch);
      await link.client.setDelay(showId, show.delayS);
      const expiresAtMs = app.securityClock.now() + TICKET_LIFE_MS;
      const ticket = signTicket({ showId, deskId, epoch, expiresAtMs }, link.config.secret);
      return { ticket, piecesUrl: piecesAddress(app.config, req)!.href };
    },
  );

  mount(router, app, setDelay, async ({ params: { showId }, body: { delayS } }) => {
    const link = relay();
    const show = await app.db.transaction(async (tx) => {
      await lockShow(tx, showId);
      if (!(await findShow(tx, showId))) throw notFound('show');
      if (await store.findOpenRun(tx, showId))
        throw new Refusal(
          'not_ready',
          'The delay is settled before the first feed. End the show to change it.',
        );
      await setShowDelay(tx, showId, delayS);
      const changed = (await findShow(tx, showId))!;
      await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: changed });
      return changed;
    });
    await keep(link, await link.client.setDelay(showId, delayS));
    return show;
  });

  mount(router, app, startFeed, async ({ params: { showId, destinationId } }) => {
    const link = relay();
    const show = await findShow(app.db, showId);
    if (!show) throw notFound('show');
    const { state, isDrilled } = await link.client.report(showId);
    if (isDrilled) throw new Refusal('not_ready', 'A drill goes on. End it before the show is started.');
    if (state === 'waiting') {
      throw new Refusal(
        'not_ready',
        'There is no picture at the relay yet. Open the programme at the desk first.',
      );
    }
    const ingest = await openListing(app, showId, destinationId);
    const runId = await app.db.transaction(async (tx) => {
      await lockShow(tx, showId);
      await store.wantFeed(tx, showId, destinationId, true);
      const open = await store.findOpenRun(tx, showId);
      if (open) return open.id;
      const id = randomUUID();
      const now = app.clock.now();
      await store.addRun(tx, { id, showId, startedAt: now });
      const locked = (await findShow(tx, showId))!;
      await setProgrammeTimes(tx, showId, { startedAt: locked.startedAtMs ?? now, endedAt: null });
      await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: (await findShow(tx, showId))! });
      return id;
    });
    await link.client.beginRun(showId, runId);
    return keep(link, await link.client.startFeed(showId, destinationId, ingest));
  });

  mount(router, app, stopFeed, async ({ params: { showId, destinationId } }) => {
    const link = relay();
    await store.wantFeed(app.db, showId, destinationId, false);
    const report = await keep(link, await link.client.stopFeed(showId, destinationId));
    await endListing(app, showId, destinationId);
    void link.endWhatIsOver();
    return report;
  });

  mount(router, app, publishFeed, async ({ params: { showId, destinationId } }) => {
    const link = relay();
    await publishListing(app, showId, destinationId);
    await link.lookAt(showId, destinationId);
    return keep(link, await link.client.report(showId));
  });

  mount(router, app, endShow, async ({ params: { showId } }) => {
    const link = relay();
    await store.wantNoFeeds(app.db, showId);
    const report = await link.client.end(showId);
    await app.db.transaction(async (tx) => {
      await lockShow(tx, showId);
      const now = app.clock.now();
      if (!(await store.endRun(tx, showId, now))) return;
      await takeOff(app, tx, showId);
      const show = (await findShow(tx, showId))!;
      await setProgrammeTimes(tx, showId, { startedAt: show.startedAtMs, endedAt: now });
      await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: (await findShow(tx, showId))! });
    });
    for (const { destinationId } of await listingsOf(app.db, showId))
      await endListing(app, showId, destinationId);
    void link.endWhatIsOver();
    return keep(link, report);
  });

  mount(router, app, coverProgramme, async ({ params: { showId }, body }) => {
    const link = relay();
    return keep(link, await link.client.cover(showId, body.on));
  });

  mountPutBack(router, app);
  mountRecordings(router, app);
}

async function keep(link: RelayLink, report: ProgrammeReport): Promise<ProgrammeReport> {
  await link.keep(report);
  return report;
}

/** `GET /api/shows/:show/recordings/:run/:kind`: a file, by ranges, straight from the relay. */
function mountRecordings(router: Router, app: App): void {
  router.get('/api/shows/:showId/recordings/:runId/:kind', async (req, res) => {
    await admit(app, req, 'shows.read');
    const { showId, runId, kind } = req.params;
    const known = Id.safeParse(showId).success && Id.safeParse(runId).success && isKind(kind);
    if (!known || !app.relay) throw notFound('recording');
    const answer = await app.relay.client.recording(showId, runId, kind, req.headers.range);
    if (!answer.ok || !answer.body) throw notFound('recording');
    res.status(answer.status);
    for (const name of ['content-type', 'content-length', 'content-range', 'accept-ranges']) {
      const value = answer.headers.get(name);
      if (value) res.setHeader(name, value);
    }
    res.setHeader('Cache-Control', 'private, no-store');
    if (req.query['download'] !== undefined) res.attachment(`juncta-${kind}.mp4`);
    // A browser that seeks closes one request and opens the next.
    await pipeline(Readable.fromWeb(answer.body), res).catch(() => undefined);
  });
}

const isKind = (text: string): text is RecordingKind => (RECORDING_KINDS as readonly string[]).includes(text);
