import { streamOf } from '@juncta/contract/events';
import type { App } from '../../app';
import type { Transaction } from '../../database/connect';
import { appendEvent } from '../../events/store';
import * as store from '../list/store';

/** Why a message may not be shown to viewers, and what would have to be done; null: it may. */
export function whyNotShown({
  standing,
  kind,
  takenBack,
}: Pick<store.MessageRow, 'standing' | 'kind' | 'takenBack'>): string | null {
  if (kind === 'private') return 'It was written to the house alone. Answer it where it was written.';
  if (takenBack) return 'Whoever wrote it has taken it back.';
  if (standing !== 'shown') return 'It is set aside or hidden. Let it through first.';
  return null;
}

/** What may not be shown any more is not on the programme either. */
export function takeOffUnlessShown(app: App, tx: Transaction, showId: string): Promise<void> {
  return takeOff(app, tx, showId, (message) => whyNotShown(message) !== null);
}

/** Takes off what is on the programme, if it is one of these. */
export async function takeOff(
  app: App,
  tx: Transaction,
  showId: string,
  isMeant: (message: store.MessageRow) => boolean = () => true,
): Promise<void> {
  const on = await store.findOnProgramme(tx, showId, app.securityClock.now());
  const message = on && (await store.findMessage(tx, showId, on.messageId));
  if (!message || !isMeant(message)) return;
  await store.setOnProgramme(tx, showId, null);
  await appendEvent(tx, app.clock, streamOf('chat', showId), 'programme.set', { showId, onProgramme: null });
}
