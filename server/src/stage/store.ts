import {
  changeStage,
  EMPTY_SCENE,
  EMPTY_STAGE,
  isCleared,
  NO_GRAPHICS,
  type KnownStage,
  type StageRefusal,
  type WaitingChange,
} from '@juncta/core/stage';
import { streamOf } from '@juncta/contract/events';
import { randomUUID } from 'node:crypto';
import { eq } from 'drizzle-orm';
import type { App } from '../app';
import type { Queryable, Transaction } from '../database/connect';
import { appendEvent } from '../events/store';
import { lockShow } from '../shows/store';
import { showStage } from './schema';

/** So many changes are remembered as carried out: more than a desk gives in the time in which it would give one again. */
const DONE_KEPT = 500;

/** A show whose stage nobody touched has an empty one. */
export async function stageOf(db: Queryable, showId: string): Promise<KnownStage> {
  return describe(await findStage(db, showId));
}

export interface Changed {
  readonly known: KnownStage;
  readonly refused: readonly { readonly id: string; readonly reason: StageRefusal }[];
}

/** Carries out changes in their order and tells whoever follows; those that were carried out before are left out. */
export async function carryOut(
  app: App,
  tx: Transaction,
  showId: string,
  changes: readonly WaitingChange[],
): Promise<Changed> {
  await lockShow(tx, showId);
  const row = await findStage(tx, showId);
  const before = describe(row);
  const doneBefore = row?.done ?? [];
  const done: string[] = [];
  const refused: { id: string; reason: StageRefusal }[] = [];
  let { stage } = before;
  for (const { id, change } of changes) {
    if (doneBefore.includes(id) || done.includes(id)) continue;
    const outcome = changeStage(stage, change);
    stage = outcome.stage;
    if (outcome.refused === null) done.push(id);
    else refused.push({ id, reason: outcome.refused });
  }
  if (done.length === 0) return { known: before, refused };
  const known = { version: before.version + 1, stage };
  const values = { ...known, done: [...doneBefore, ...done].slice(-DONE_KEPT) };
  await tx
    .insert(showStage)
    .values({ showId, ...values })
    .onConflictDoUpdate({ target: showStage.showId, set: values });
  await appendEvent(tx, app.clock, streamOf('stage', showId), 'stage.changed', { showId, known, done });
  return { known, refused };
}

/** Nobody is to stand in the picture of what comes next unasked. */
export async function clearStage(app: App, tx: Transaction, showId: string): Promise<void> {
  const { stage } = await stageOf(tx, showId);
  if (isCleared(stage)) return;
  await carryOut(app, tx, showId, [{ id: randomUUID(), change: { type: 'clear' } }]);
}

type StageRow = typeof showStage.$inferSelect;

async function findStage(db: Queryable, showId: string): Promise<StageRow | undefined> {
  const [row] = await db.select().from(showStage).where(eq(showStage.showId, showId));
  return row;
}

/** What a stage has come to hold since its row was written has its first value. */
function describe(row: StageRow | undefined): KnownStage {
  const stage = { ...EMPTY_STAGE, ...row?.stage };
  const { programme, armed, graphics } = stage;
  return {
    version: row?.version ?? 0,
    stage: {
      ...stage,
      programme: { ...EMPTY_SCENE, ...programme },
      armed: armed && { ...EMPTY_SCENE, ...armed },
      graphics: { ...NO_GRAPHICS, ...graphics, chat: { ...NO_GRAPHICS.chat, ...graphics.chat } },
    },
  };
}
