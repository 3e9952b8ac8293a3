import {
  bookInput,
  putInput,
  readInputs,
  removeInput,
  renewInputKey,
  runStandInEncoder,
  takeInput,
  watchInputs,
} from '@juncta/contract/ingest';
import { WATCH_TICKET_LIFE_MS } from '@juncta/contract/uplink';
import { Id } from '@juncta/contract/http';
import { MOST_INPUTS } from '@juncta/core/ingest';
import type { IncomingMessage } from 'node:http';
import type { Router } from 'express';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { admit } from '../http/files';
import { notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { sendStill } from '../http/send-still';
import { relayOf } from '../relay/relay';
import { aboutKey, bookingOf, keyOf, tellInputs } from './book-inputs';
import { followOnStage } from './on-stage';
import { findShow, lockShow } from '../shows/store';
import { uplinkAddress } from '../uplink/uplink-address';
import { signTicket } from '../uplink/tickets';
import { describe, newKey, opening } from './input-row';
import { freeSrtPort } from './srt-ports';
import { StandInEncoders } from './stand-in-encoders';
import * as store from './store';

/** Outside pictures: where they come in, by which key, and which of them is the programme. */
export function mountIngest(router: Router, app: App): void {
  const standIns = new StandInEncoders(app.config.standInEncodersUrl);
  const all = async (req: IncomingMessage, showId: string) => ({
    inputs: (await store.inputsOf(app.db, showId)).map((row) => describe(app, req, row)),
    standing: await store.standingBesides(app.db, showId),
    hasSrt: app.config.relay?.srtFirstPort != null,
    hasStandIns: standIns.isThere,
  });

  mount(router, app, readInputs, async ({ params: { showId }, req }) => {
    // What the show and its places want may be something else by now.
    await tellInputs(app, showId);
    return all(req, showId);
  });

  mount(router, app, putInput, async ({ params: { showId, inputId }, body, req }) => {
    await app.db.transaction(async (tx) => {
      await lockShow(tx, showId);
      if (body.onArrival === 'test_only' && (await store.takenInput(tx, showId)) === inputId)
        throw new Refusal('not_ready', 'This picture is the programme. Take it off first.');
      const before = await store.findInput(tx, showId, inputId);
      if (before?.onArrival !== body.onArrival) await followOnStage(app, tx, showId, inputId, body.onArrival);
      const { name, transport, second, onArrival, isStanding } = body;
      const srtPort = body.transport === 'srt' ? (before?.srtPort ?? (await freeSrtPort(app, tx))) : null;
      const settings = { name, transport, second, onArrival, isStanding, srtPort };
      const values = { ...settings, ...opening(app, inputId, body, before) };
      if (before) return store.changeInput(tx, showId, inputId, values);
      await refuseOneMore(tx, showId);
      await store.addInput(tx, { id: inputId, showId, ...values, madeAt: app.clock.now() });
    });
    await tellInputs(app, showId);
    return all(req, showId);
  });

  mount(router, app, removeInput, async ({ params: { showId, inputId }, req }) => {
    await app.db.transaction(async (tx) => {
      await lockShow(tx, showId);
      await refuseWhileItRuns(app, tx, showId, inputId);
      await store.removeInput(tx, showId, inputId);
      await followOnStage(app, tx, showId, inputId, null);
    });
    await standIns.stop(inputId).catch(() => undefined);
    await tellInputs(app, showId);
    return all(req, showId);
  });

  mount(router, app, bookInput, async ({ params: { showId, inputId }, body: { isBooked }, req }) => {
    const from = await app.db.transaction(async (tx) => {
      if (!(await findShow(tx, showId))) throw notFound('show');
      const known = await store.findStanding(tx, inputId);
      if (!known || (!isBooked && known.showId !== showId)) throw notFound('input');
      const before = known.showId;
      const next = isBooked ? showId : null;
      if (before === next) return null;
      for (const id of [before, next].filter((one) => one !== null).sort()) await lockShow(tx, id);
      if ((await store.findStanding(tx, inputId))?.showId !== before)
        throw new Refusal('not_ready', 'Somebody else has just booked it. Look where it is now.');
      if (before) {
        await refuseWhileItRuns(app, tx, before, inputId);
        await followOnStage(app, tx, before, inputId, null);
      }
      if (next) await refuseOneMore(tx, next);
      await store.bookInput(tx, inputId, next);
      if (next) await followOnStage(app, tx, next, inputId, known.onArrival);
      return before;
    });
    // First to let go of it: an input is never at two shows.
    if (from) await tellInputs(app, from);
    await tellInputs(app, showId);
    return all(req, showId);
  });

  mount(router, app, renewInputKey, async ({ params: { showId, inputId }, req }) => {
    const row = await store.findInput(app.db, showId, inputId);
    if (!row) throw notFound('input');
    if (row.calledAddress !== null)
      throw new Refusal('not_ready', 'Its passphrase is set where it listens, and not here.');
    const lockedKey = app.secrets.lock(newKey(), aboutKey(inputId));
    await store.changeInput(app.db, showId, inputId, { lockedKey });
    await tellInputs(app, showId);
    return all(req, showId);
  });

  mount(router, app, watchInputs, async ({ params: { showId }, body: { watcherId }, req }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    const { secret } = relayOf(app).config;
    const expiresAtMs = app.securityClock.now() + WATCH_TICKET_LIFE_MS;
    const ticket = { showId, deskId: watcherId, epoch: 0, may: 'watch', expiresAtMs } as const;
    return { ticket: signTicket(ticket, secret), uplinkUrl: uplinkAddress(app.config, req)!.href };
  });

  mount(router, app, takeInput, async ({ params: { showId }, body: { inputId } }) => {
    const link = relayOf(app);
    const row = inputId === null ? null : await store.findInput(app.db, showId, inputId);
    if (row === undefined) throw notFound('input');
    if (row?.onArrival === 'test_only')
      throw new Refusal('not_ready', `“${row.name}” is only for tests. Its settings on its card say so.`);
    if (row) {
      const booking = (await bookingOf(app, app.db, showId))!;
      const { inputs } = await link.client.bookInputs(showId, booking);
      const here = inputs.find((one) => one.inputId === row.id);
      if (!here?.figures)
        throw new Refusal(
          'not_ready',
          `Nothing comes from “${row.name}” just now, so the programme stays as it is.`,
        );
      if (!here.carriage)
        throw new Refusal(
          'not_ready',
          here.findings.some(({ level }) => level === 'block')
            ? `“${row.name}” cannot be shown as it comes. Its card says why. The programme stays as it is.`
            : `“${row.name}” has only just come and is still being looked at. Try again in a moment.`,
        );
    }
    await store.noteTaken(app.db, showId, inputId);
    return link.keep(await link.client.takeInput(showId, inputId));
  });

  mount(router, app, runStandInEncoder, async ({ params: { showId, inputId }, body: { kind }, req }) => {
    const row = await store.findInput(app.db, showId, inputId);
    if (!row || !standIns.isThere || row.calledAddress !== null) throw notFound('input');
    if (kind) await standIns.start(inputId, kind, describe(app, req, row).address, keyOf(app, row));
    else await standIns.stop(inputId);
    return {};
  });

  /** `GET /api/shows/:show/inputs/:input/still`: the last picture of what comes in, JPEG. */
  router.get('/api/shows/:showId/inputs/:inputId/still', async (req, res) => {
    await admit(app, req, 'desk.open');
    const { showId, inputId } = req.params;
    const isKnown = Id.safeParse(showId).success && Id.safeParse(inputId).success;
    if (!isKnown || !(await store.findInput(app.db, showId, inputId))) throw notFound('input');
    sendStill(res, await relayOf(app).client.still(showId, inputId));
  });
}

async function refuseOneMore(tx: Transaction, showId: string): Promise<void> {
  if ((await store.inputsOf(tx, showId)).length < MOST_INPUTS) return;
  throw new Refusal('not_ready', `A show has at most ${MOST_INPUTS} inputs. Remove one that is not needed.`);
}

async function refuseWhileItRuns(app: App, tx: Transaction, showId: string, inputId: string): Promise<void> {
  const runs = app.relay?.reportOf(showId)?.runId != null;
  if (runs && (await store.takenInput(tx, showId)) === inputId)
    throw new Refusal('not_ready', 'This picture is the programme, and the show runs. Take it off first.');
}
