import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { enterAsGuest, readGuestView, type GuestView } from '@juncta/contract/people';
import { switchMap } from 'rxjs';
import { Api } from '../api/api';
import { PageClock } from '../clock/page-clock';
import { TimeFormat } from '../clock/time-format';
import { Notice } from '../look/notice';
import { takeHash } from '../team/take-hash';
import { guestTexts } from './people.texts';

/** While a guest waits, what they see follows the plan. */
const READ_EVERY_MS = 30_000;

/** The one calm page of a guest: which show, when in their own time, and that nobody sees them yet. */
@Component({
  selector: 'jn-guest-page',
  imports: [Notice],
  templateUrl: './guest.page.html',
  styleUrl: './guest.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GuestPage {
  private readonly api = inject(Api);
  protected readonly clock = inject(PageClock);
  protected readonly format = inject(TimeFormat);
  protected readonly texts = guestTexts;

  protected readonly view = signal<GuestView | null>(null);
  protected readonly error = signal<string | null>(null);
  protected readonly hosts = computed(() => this.view()?.hosts.join(', ') ?? '');

  constructor() {
    const token = takeHash();
    const view = this.api.call(readGuestView);
    // Without a token this may be a reload: the cookie still stands for the link.
    const coming = token
      ? this.api.call(enterAsGuest, { body: { token } }).pipe(switchMap(() => view))
      : view;
    coming.subscribe({
      next: (known) => this.view.set(known),
      error: (error: ErrorBody) =>
        this.error.set(
          error.code === 'bad_input' || (!token && error.code === 'signed_out')
            ? guestTexts.missing
            : error.sentence,
        ),
    });
    const reading = setInterval(() => this.readAgain(), READ_EVERY_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(reading));
  }

  private readAgain(): void {
    if (!this.view()) return;
    this.api.call(readGuestView).subscribe({
      next: (view) => this.view.set(view),
      error: (error: ErrorBody) => {
        if (error.code === 'signed_out') {
          this.view.set(null);
          this.error.set(error.sentence);
        }
      },
    });
  }
}
