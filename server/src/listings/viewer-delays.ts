import { steadyDelay } from '@juncta/core/chat';
import type { App } from '../app';
import { change } from './at-place';
import { findListing } from './store';

/** A delay that moved by less is the same: everybody would be told of nothing. */
const MOVED_MS = 1000;

/** How far behind the programme viewers were found to be, kept once it has moved by enough to matter. */
export class ViewerDelays {
  private readonly lately = new Map<string, readonly number[]>();

  constructor(private readonly app: App) {}

  async note(showId: string, destinationId: string, measuredMs: number): Promise<void> {
    const name = `${showId} ${destinationId}`;
    const { lately, delayMs } = steadyDelay(this.lately.get(name) ?? [], measuredMs);
    this.lately.set(name, lately);
    const kept = (await findListing(this.app.db, showId, destinationId))?.listing;
    if (!kept) return;
    const { viewerDelayMs, viewerDelayFrom } = kept;
    const isSame = viewerDelayFrom === 'measured' && Math.abs(delayMs - (viewerDelayMs ?? 0)) < MOVED_MS;
    if (!isSame)
      await change(this.app, showId, destinationId, { viewerDelayMs: delayMs, viewerDelayFrom: 'measured' });
  }
}
