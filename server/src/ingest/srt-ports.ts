import { SRT_PORTS } from '@juncta/core/ingest';
import { sql } from 'drizzle-orm';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { Refusal } from '../http/errors';
import { ingestInput } from './schema';
import { takenSrtPorts } from './store';

/**
 * A UDP port of the house at which no input listens, of whatever show; two that ask at once get two.
 *
 * @throws Refusal when there is none
 */
export async function freeSrtPort(app: App, tx: Transaction): Promise<number> {
  const first = app.config.relay?.srtFirstPort ?? null;
  if (first === null)
    throw new Refusal('not_ready', 'SRT does not come to this house. Whoever runs it can give it ports.');
  await tx.execute(sql`lock table ${ingestInput} in share row exclusive mode`);
  const taken = await takenSrtPorts(tx);
  const free = Array.from({ length: SRT_PORTS }, (_, i) => first + i).find((port) => !taken.includes(port));
  if (free === undefined)
    throw new Refusal(
      'not_ready',
      `All ${SRT_PORTS} ports for SRT are taken by inputs of this and other shows. Remove one that is not needed.`,
    );
  return free;
}
