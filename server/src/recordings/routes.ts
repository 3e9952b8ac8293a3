import { Id } from '@juncta/contract/http';
import { RECORDING_KINDS, type RecordingKind } from '@juncta/contract/recordings';
import type { Router } from 'express';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { App } from '../app';
import { notFound } from '../http/errors';
import { admit } from '../http/files';

/** `GET /api/shows/:show/recordings/:run/:kind`: a file, by ranges, straight from the relay. */
export function mountRecordings(router: Router, app: App): void {
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
