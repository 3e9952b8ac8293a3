import { signal } from '@angular/core';

/** Armed and not pressed again, a key goes dark by itself: an old press must not meet a new intention. */
export const DISARM_AFTER_MS = 6000;

/** Two presses for what cannot be called back: the first arms, the second does it. */
export class Arming {
  private readonly is = signal(false);
  private timer: ReturnType<typeof setTimeout> | undefined;

  readonly armed = this.is.asReadonly();

  /** Whether it is to be done now. */
  press(): boolean {
    if (this.is()) {
      this.disarm();
      return true;
    }
    this.is.set(true);
    this.timer = setTimeout(() => this.disarm(), DISARM_AFTER_MS);
    return false;
  }

  disarm(): void {
    clearTimeout(this.timer);
    this.is.set(false);
  }
}
