import { changeStage, readStage } from '@juncta/contract/stage';
import { streamOf } from '@juncta/contract/events';
import type { Router } from 'express';
import type { App } from '../app';
import { lastSeq } from '../events/store';
import { notFound } from '../http/errors';
import { mount } from '../http/mount';
import { findShow } from '../shows/store';
import { carryOut, stageOf } from './store';

/** The stage of a show, which any desk may drive. */
export function mountStage(router: Router, app: App): void {
  mount(router, app, readStage, async ({ params: { showId } }) =>
    app.db.transaction(
      async (tx) => {
        if (!(await findShow(tx, showId))) throw notFound('show');
        return { known: await stageOf(tx, showId), seq: await lastSeq(tx, streamOf('stage', showId)) };
      },
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    ),
  );

  mount(router, app, changeStage, async ({ params: { showId }, body: { changes } }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    const { known, refused } = await app.db.transaction((tx) => carryOut(app, tx, showId, changes));
    return { known, refused: [...refused] };
  });
}
