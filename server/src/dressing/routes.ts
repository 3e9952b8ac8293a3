import { dropDressing, readDressings, saveDressing } from '@juncta/contract/dressing';
import type { Router } from 'express';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { appendEvent, lastSeq } from '../events/store';
import { Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { refuseUnknownScope } from '../shows/scope';
import { mountDressingFiles } from './files';
import { mountDressingFonts, refuseMissingFonts } from './fonts';
import { mountDressingImages, refuseMissingImages } from './images';
import { deleteDressing, dressingFor, dressingsOf, lockDressings, putDressing } from './store';

/** How programmes look, for the team and for each series. */
export function mountDressing(router: Router, app: App): void {
  mountDressingImages(router, app);
  mountDressingFonts(router, app);
  mountDressingFiles(router, app);

  mount(router, app, readDressings, () =>
    app.db.transaction(async (tx) => ({ ...(await dressingsOf(tx)), seq: await lastSeq(tx, 'shows') }), {
      isolationLevel: 'repeatable read',
      accessMode: 'read only',
    }),
  );

  mount(router, app, saveDressing, ({ params: { scope }, body: { version, dressing } }) =>
    app.db.transaction(async (tx) => {
      await lockDressings(tx);
      await refuseUnknownScope(tx, scope);
      const current = dressingFor(await dressingsOf(tx), scope);
      if (current.version !== version)
        throw new Refusal(
          'changed_meanwhile',
          'Somebody else changed this dressing meanwhile. Nothing of yours was saved yet: look at theirs first.',
          { current },
        );
      await refuseMissingImages(tx, dressing);
      await refuseMissingFonts(tx, dressing);
      await putDressing(tx, scope, dressing);
      return dressingFor(await tellDressings(app, tx), scope);
    }),
  );

  mount(router, app, dropDressing, ({ params: { scope } }) =>
    app.db.transaction(async (tx) => {
      await lockDressings(tx);
      await refuseUnknownScope(tx, scope);
      await deleteDressing(tx, scope);
      return tellDressings(app, tx);
    }),
  );
}

async function tellDressings(app: App, tx: Transaction) {
  const dressings = await dressingsOf(tx);
  await appendEvent(tx, app.clock, 'shows', 'dressings.changed', { dressings });
  return dressings;
}
