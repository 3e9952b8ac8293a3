import { Injectable } from '@angular/core';

/** Keeps the screen, and with it the computer, awake while it is wanted. Browsers let go of it when the page is hidden. */
@Injectable({ providedIn: 'root' })
export class WakeLock {
  private wanted = false;
  private held: WakeLockSentinel | null = null;

  constructor() {
    document.addEventListener('visibilitychange', () => void this.apply());
  }

  want(wanted: boolean): void {
    this.wanted = wanted;
    void this.apply();
  }

  private async apply(): Promise<void> {
    if (!this.wanted) {
      await this.held?.release().catch(() => undefined);
      this.held = null;
    } else if (document.visibilityState === 'visible' && (this.held === null || this.held.released)) {
      // Not every computer can, and none must for the show to go on.
      this.held = await navigator.wakeLock?.request('screen').catch(() => null);
    }
  }
}
