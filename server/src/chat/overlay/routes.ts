import {
  dropOverlayPage,
  readOverlayPages,
  readOverlayState,
  renewOverlayPage,
  sampleOverlayPage,
  setOverlayPage,
} from '@juncta/contract/chat';
import type { Router } from 'express';
import type { App } from '../../app';
import { notFound, Refusal } from '../../http/errors';
import { mount } from '../../http/mount';
import { refuseUnknownScope } from '../../shows/scope';
import { overlayShow } from './overlay-content';
import type { OverlayPages } from './overlay-pages';
import * as store from './overlay-store';

export function mountOverlayPages(router: Router, app: App, pages: OverlayPages): void {
  mount(router, app, readOverlayPages, async () => ({
    pages: (await store.overlayPages(app.db)).map((row) => store.describeOverlay(app, row)),
  }));

  mount(router, app, setOverlayPage, async ({ params: { scope }, body: { box } }) => {
    const row = await app.db.transaction(async (tx) => {
      await refuseUnknownScope(tx, scope);
      return store.changeOverlay(app, tx, scope, box);
    });
    pages.changed(scope);
    return store.describeOverlay(app, row);
  });

  mount(router, app, renewOverlayPage, async ({ params: { scope } }) => {
    const row = await store.renewOverlay(app, app.db, scope);
    if (!row) throw notFound('overlay page');
    pages.changed(scope);
    return store.describeOverlay(app, row);
  });

  mount(router, app, dropOverlayPage, async ({ params: { scope } }) => {
    await store.deleteOverlay(app.db, scope);
    pages.changed(scope);
    return {};
  });

  mount(router, app, sampleOverlayPage, async ({ params: { scope } }) => {
    if (!(await store.findOverlay(app.db, scope))) throw notFound('overlay page');
    if ((await overlayShow(app, scope))?.startedAtMs != null)
      throw new Refusal(
        'not_ready',
        'A show is on: viewers would read the sample. Show it before the show or after it.',
      );
    if (!pages.sample(scope))
      throw new Refusal('not_ready', 'The page is open nowhere. Open its address in the encoder first.');
    return {};
  });

  mount(router, app, readOverlayState, async ({ params: { scope } }) => {
    const state = await pages.state(scope);
    if (!state) throw notFound('overlay page');
    return state;
  });
}
