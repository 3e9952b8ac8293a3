import { signal } from '@angular/core';

/** What stands in a dialog and is not kept anywhere yet: it is lost by a second press only. */
export class Unsaved {
  private settled: string | null = null;
  private readonly warns = signal(false);

  /** It was tried to close the dialog, and something would be lost. */
  readonly warned = this.warns.asReadonly();

  /** @param now what stands in the dialog, as it would be saved */
  constructor(private readonly now: () => unknown) {}

  /** What stands there now is what is kept. */
  settle(): void {
    this.settled = JSON.stringify(this.now());
    this.warns.set(false);
  }

  /** Whether nothing would be lost, or somebody was told and means it. */
  mayClose(): boolean {
    const field = document.activeElement;
    // What is being typed counts: many fields tell of it as they are left.
    if (field instanceof HTMLElement) {
      field.blur();
      field.focus();
    }
    const isLost = this.settled !== null && this.settled !== JSON.stringify(this.now());
    if (!isLost || this.warned()) return true;
    this.warns.set(true);
    return false;
  }
}
