import { computed, signal, untracked } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { finalize, type Observable } from 'rxjs';

/** What one part of a page asks of the server: whether something is under way, and what was refused last. */
export class RequestState {
  private readonly underWay = signal(0);
  private readonly refused = signal<ErrorBody | null>(null);

  readonly busy = computed(() => this.underWay() > 0);
  /** Until the next that is asked is done. */
  readonly error = this.refused.asReadonly();

  /**
   * Asks, and is busy until the answer.
   *
   * @param done with the answer; what had been refused before this was asked is forgotten by then
   * @param failed with what was refused, beyond showing it
   */
  run<T>(asked: Observable<T>, done?: (answer: T) => void, failed?: (error: ErrorBody) => void): void {
    this.underWay.update((count) => count + 1);
    const before = untracked(this.refused);
    const over = finalize<T>(() => this.underWay.update((count) => count - 1));
    asked.pipe(over).subscribe({
      next: (answer) => {
        if (untracked(this.refused) === before) this.clear();
        done?.(answer);
      },
      error: (error: ErrorBody) => {
        this.fail(error);
        failed?.(error);
      },
    });
  }

  /** Something was wrong before it could be asked. */
  fail(error: ErrorBody): void {
    this.refused.set(error);
  }

  clear(): void {
    this.refused.set(null);
  }

  /** What is wrong with one field of what was sent; null: nothing. */
  fieldError(field: string): string | null {
    return this.error()?.fields?.find((one) => one.field === field)?.sentence ?? null;
  }
}
