import type { InputsRequest } from '@juncta/contract/relay';
import { figuresOf } from '@juncta/core/programme';
import { createHash } from 'node:crypto';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { planOf } from '../renditions/plan';
import { findShow } from '../shows/store';
import { inputsOf, type InputRow } from './store';

/** What a key is locked for: it cannot be moved to another input. */
export const aboutKey = (inputId: string): string => `input ${inputId}`;

export const keyOf = (app: Pick<App, 'secrets'>, { id, lockedKey }: InputRow): string =>
  app.secrets.unlock(lockedKey, aboutKey(id));

/** What the relay has to know of a show's inputs: who may come, and what its programme and its places want. */
export async function bookingOf(app: App, db: Queryable, showId: string): Promise<InputsRequest | null> {
  const show = await findShow(db, showId);
  if (!show) return null;
  const { width, height, rateHz, leastKbps } = figuresOf(show.pictureFormat);
  const { plan } = await planOf(app, db, show, app.relay?.machine ?? null);
  return {
    inputs: (await inputsOf(db, showId)).map((row) => ({
      inputId: row.id,
      keyHash: createHash('sha256').update(keyOf(app, row)).digest('hex'),
      second: row.second,
      onArrival: row.onArrival,
      srt: srtOf(row, keyOf(app, row)),
    })),
    wants: { width, height, rateHz, leastKbps, mostKbps: plan.programme.videoKbps },
  };
}

function srtOf({ calledAddress, srtPort }: InputRow, key: string): InputsRequest['inputs'][number]['srt'] {
  if (calledAddress !== null) return { address: calledAddress, key };
  return srtPort === null ? null : { port: srtPort, passphrase: key };
}

/** Tells the relay what a show has of inputs. It may be away: it is told when it is back. */
export async function tellInputs(app: App, showId: string): Promise<void> {
  const booking = await bookingOf(app, app.db, showId);
  if (!booking) return;
  const report = await app.relay?.client.bookInputs(showId, booking).catch(() => null);
  if (report) await app.relay?.keep(report);
}

/** What a show or its places want is something else: whatever comes in is measured by that from now on. */
export async function followWants(app: App, showId: string): Promise<void> {
  if ((await inputsOf(app.db, showId)).length > 0) await tellInputs(app, showId);
}
