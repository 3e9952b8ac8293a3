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
import {
  listGuestLinks,
  makeGuestLink,
  revokeGuestLink,
  showGuestLink,
  type GuestLink,
} from '@juncta/contract/people';
import type { Show } from '@juncta/contract/shows';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { TimeFormat } from '../clock/time-format';
import { ArmedKey } from '../look/keys/armed-key';
import { CopyKey } from '../look/keys/copy-key';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { guestLinkTexts } from './people.texts';

/** The personal links of a show's guests. Those that were made or shown here stay in sight until the page is left. */
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
  /** Invitations that are copied together. */
  protected readonly between = '\n\n---\n\n';

  readonly show = input.required<Show>();
  readonly nowMs = input.required<number>();

  private readonly links = signal<readonly GuestLink[]>([]);
  /** Addresses in sight, by person. */
  private readonly made = signal<ReadonlyMap<string, string>>(new Map());
  protected readonly request = new RequestState();
  protected readonly guests = computed(() =>
    this.show()
      .text.people.filter(({ part }) => part === 'guest')
      .map((person) => ({
        person,
        link: this.links().find(({ personId }) => personId === person.id) ?? null,
        address: this.made().get(person.id) ?? null,
      })),
  );
  /** Every invitation that is in sight, one after the other. */
  protected readonly invitations = computed(() =>
    this.guests().flatMap(({ person, address }) =>
      address === null ? [] : [this.invitation(person.name, address)],
    ),
  );

  constructor() {
    const showId = computed(() => this.show().id);
    effect(() => {
      showId();
      untracked(() => this.read());
    });
  }

  protected make(personId: string): void {
    this.request.run(
      this.api.call(makeGuestLink, { params: { showId: this.show().id, personId } }),
      ({ token }) => {
        this.putInSight(personId, token);
        this.read();
      },
    );
  }

  /** The one there is, once more: nothing of it ends. */
  protected showAgain(personId: string): void {
    this.request.run(
      this.api.call(showGuestLink, { params: { showId: this.show().id, personId } }),
      ({ token }) => this.putInSight(personId, token),
      () => {
        this.read();
      },
    );
  }

  protected canBeShown(link: GuestLink): boolean {
    return (link.shownUntilMs ?? 0) > this.nowMs();
  }

  protected invitation(name: string, address: string): string {
    const { startsAtMs, text } = this.show();
    const zone = text.start?.zone;
    const when =
      startsAtMs === null || !zone
        ? null
        : `${this.format.longDay(startsAtMs, zone)}, ${this.format.time(startsAtMs, zone)} ${this.format.city(zone)} (${this.format.offset(startsAtMs, zone)})`;
    return guestLinkTexts.invitation(name, text.title, when, address);
  }

  private putInSight(personId: string, token: string): void {
    this.request.clear();
    // Behind the hash: that part of an address is sent to no server and stands in no log.
    const address = `${location.origin}/guest#${token}`;
    this.made.update((made) => new Map([...made, [personId, address]]));
  }

  protected revoke(personId: string): void {
    this.request.run(this.api.call(revokeGuestLink, { params: { showId: this.show().id, personId } }), () => {
      this.made.update((made) => new Map([...made].filter(([id]) => id !== personId)));
      this.read();
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
    this.request.run(this.api.call(listGuestLinks, { params: { showId: this.show().id } }), ({ links }) => {
      this.links.set(links);
    });
  }
}
