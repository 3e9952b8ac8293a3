import { dropLayout, keepLayout, MOST_LAYOUTS, readLayouts, type KeptLayout } from '@juncta/contract/stage';
import { and, asc, eq, ne, sql } from 'drizzle-orm';
import type { Router } from 'express';
import type { App } from '../app';
import type { Queryable, Transaction } from '../database/connect';
import { appendEvent, lastSeq } from '../events/store';
import { badInput, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { refuseUnknownScope } from '../shows/scope';
import { ownLayout } from './schema';

/** Layouts of the team's own, for all shows and for each series. */
export function mountOwnLayouts(router: Router, app: App): void {
  mount(router, app, readLayouts, () =>
    app.db.transaction(async (tx) => ({ layouts: await layouts(tx), seq: await lastSeq(tx, 'shows') }), {
      isolationLevel: 'repeatable read',
      accessMode: 'read only',
    }),
  );

  mount(router, app, keepLayout, ({ params: { layoutId: id }, body: { scope, name, places } }) =>
    app.db.transaction(async (tx) => {
      // Two that are kept at once come one after the other.
      await tx.execute(sql`select pg_advisory_xact_lock(hashtext('own_layout'))`);
      await refuseUnknownScope(tx, scope);
      await refuseTaken(tx, id, scope, name);
      const values = { scope, name, places };
      await tx
        .insert(ownLayout)
        .values({ id, ...values })
        .onConflictDoUpdate({ target: ownLayout.id, set: values });
      await tell(app, tx);
      return {};
    }),
  );

  mount(router, app, dropLayout, ({ params: { layoutId } }) =>
    app.db.transaction(async (tx) => {
      const gone = await tx.delete(ownLayout).where(eq(ownLayout.id, layoutId)).returning();
      if (gone.length > 0) await tell(app, tx);
      return {};
    }),
  );
}

async function refuseTaken(tx: Transaction, id: string, scope: string, name: string): Promise<void> {
  const others = await tx
    .select()
    .from(ownLayout)
    .where(and(eq(ownLayout.scope, scope), ne(ownLayout.id, id)));
  if (others.some((one) => one.name.toLowerCase() === name.toLowerCase()))
    throw badInput([
      {
        field: 'name',
        code: 'taken',
        sentence: `There is a layout called ${name} already. Choose another name.`,
      },
    ]);
  if (others.length >= MOST_LAYOUTS)
    throw new Refusal(
      'not_ready',
      `There are ${MOST_LAYOUTS} layouts already. Remove one that is not needed any more.`,
    );
}

async function layouts(db: Queryable): Promise<KeptLayout[]> {
  const rows = await db.select().from(ownLayout).orderBy(asc(ownLayout.name), asc(ownLayout.id));
  return rows.map(({ scope, id, name, places }) => ({ scope, layout: { id, name, places } }));
}

async function tell(app: App, tx: Transaction): Promise<void> {
  await appendEvent(tx, app.clock, 'shows', 'layouts.changed', { layouts: await layouts(tx) });
}
