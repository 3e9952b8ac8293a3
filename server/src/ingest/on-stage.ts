import type { OnArrival } from '@juncta/core/ingest';
import { MOST_OUTSIDE, outsideSource } from '@juncta/core/stage';
import { randomUUID } from 'node:crypto';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { Refusal } from '../http/errors';
import { carryOut, stageOf } from '../stage/store';

/**
 * What an input is to do when it arrives, as far as the stage goes: it is at hand there before it has come, or not any longer.
 *
 * @param onArrival null: the input is no more
 * @throws Refusal when no more can be at hand
 */
export async function followOnStage(
  app: App,
  tx: Transaction,
  showId: string,
  inputId: string,
  onArrival: OnArrival | null,
): Promise<void> {
  const { stage } = await stageOf(tx, showId);
  const isThere = stage.outside.some((one) => one.inputId === inputId);
  const joins = onArrival === 'joins_stage';
  const leaves = onArrival === null || onArrival === 'test_only';
  if (isThere ? !leaves : !joins) return;
  const source = joins ? outsideSource(inputId) : null;
  const change = { type: 'outside', inputId, source } as const;
  const { refused } = await carryOut(app, tx, showId, [{ id: randomUUID(), change }]);
  if (refused.length > 0)
    throw new Refusal(
      'not_ready',
      `At most ${MOST_OUTSIDE} outside pictures are on the stage at once. Take another one off it first.`,
    );
}
