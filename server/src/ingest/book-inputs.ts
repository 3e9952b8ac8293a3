import type { InputsRequest } from '@juncta/contract/relay';
import { AIRED_AUDIO_KBPS, figuresOf } from '@juncta/core/programme';
import { adviseRate } from '@juncta/core/uplink';
import { createHash } from 'node:crypto';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { destinationsOfShow } from '../destinations/store';
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
  const limits = (await destinationsOfShow(db, showId)).map(({ name, kind }) => ({
    name,
    maxKbps: app.rules.of(kind).capabilities.encoder.maxKbps,
  }));
  const picture = figuresOf(show.pictureFormat);
  const { width, height, rateHz, leastKbps } = picture;
  const { videoKbps } = adviseRate(picture, AIRED_AUDIO_KBPS, limits, null);
  return {
    inputs: (await inputsOf(db, showId)).map((row) => ({
      inputId: row.id,
      keyHash: createHash('sha256').update(keyOf(app, row)).digest('hex'),
      second: row.second,
      onArrival: row.onArrival,
      srt: row.srtPort === null ? null : { port: row.srtPort, passphrase: keyOf(app, row) },
    })),
    wants: { width, height, rateHz, leastKbps, mostKbps: videoKbps },
  };
}
