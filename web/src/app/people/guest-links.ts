import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { listGuestLinks, makeGuestLink, revokeGuestLink, type GuestLink } from '@juncta/contract/people';
import type { Show } from '@juncta/contract/shows';
import { Api } from '../api/api';
import { TimeFormat } from '../clock/time-format';
import { ArmedKey } from '../look/armed-key';
import { CopyKey } from '../look/copy-key';
import { Key } from '../look/key';
import { Notice } from '../look/notice';
import { guestLinkTexts } from './people.texts';

/** The personal links of a show's guests. What only this panel knows stays in it: a link is told once. */
@Component({
  selector: 'jn-guest-links',
  imports: [ArmedKey, CopyKey, Key, Notice],
  templateUrl: './guest-links.html',
  styleUrl: './guest-links.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GuestLinks {
  private readonly api = inject(Api);
  protected readonly format = inject(TimeFormat);
  protected readonly texts = guestLinkTexts;

  readonly show = input.required<Show>();
  readonly nowMs = input.required<number>();

  private readonly links = signal<readonly GuestLink[]>([]);
  protected readonly made = signal<{ readonly personId: string; readonly address: string } | null>(null);
  protected readonly error = signal<ErrorBody | null>(null);
  protected readonly guests = computed(() =>
    this.show()
      .text.people.filter(({ part }) => part === 'guest')
      .map((person) => ({
        person,
        link: this.links().find(({ personId }) => personId === person.id) ?? null,
      })),
  );

  constructor() {
    const showId = computed(() => this.show().id);
    effect(() => {
      showId();
      untracked(() => this.read());
    });
  }

  protected make(personId: string): void {
    this.api.call(makeGuestLink, { params: { showId: this.show().id, personId } }).subscribe({
      next: ({ token }) => {
        // Behind the hash: that part of an address is sent to no server and stands in no log.
        this.made.set({ personId, address: `${location.origin}/guest#${token}` });
        this.read();
      },
      error: (error: ErrorBody) => this.error.set(error),
    });
  }

  protected revoke(personId: string): void {
    this.api.call(revokeGuestLink, { params: { showId: this.show().id, personId } }).subscribe({
      next: () => {
        if (this.made()?.personId === personId) this.made.set(null);
        this.read();
      },
      error: (error: ErrorBody) => this.error.set(error),
    });
  }

  protected stateOf(link: GuestLink | null): string {
    if (!link) return guestLinkTexts.noLink;
    const day = this.format.day(link.expiresAtMs, this.nowMs());
    return link.usedAtMs === null
      ? guestLinkTexts.unused(day)
      : guestLinkTexts.used(this.format.distance(link.usedAtMs, this.nowMs()), day);
  }

  private read(): void {
    this.api.call(listGuestLinks, { params: { showId: this.show().id } }).subscribe({
      next: ({ links }) => {
        this.links.set(links);
        this.error.set(null);
      },
      error: (error: ErrorBody) => this.error.set(error),
    });
  }
}
