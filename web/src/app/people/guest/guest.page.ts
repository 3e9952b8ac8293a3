import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { figuresOf } from '@juncta/core/programme';
import { enterAsGuest, readGuestView, type GuestView } from '@juncta/contract/people';
import type { Asked } from '@juncta/core/people';
import { sourceId, type SourceId } from '@juncta/core/stage';
import { switchMap } from 'rxjs';
import { Api } from '../../api/api';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { ArmedKey } from '../../look/keys/armed-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { WakeLock } from '../../stage/composed/wake-lock';
import { deskId } from '../../stage/desk-id';
import { deviceSentences } from '../../stage/stage.texts';
import type { Kind } from '../../stage/sources/held-devices';
import { takeHash } from '../../team/take-hash';
import { GuestCheck } from './guest-check';
import { GuestExtras } from './guest-extras';
import { GuestRequests } from './guest-requests';
import { GuestRoom } from './guest-room';
import { OwnSources, type RememberedOwn } from './own-sources';
import { guestTexts } from '../people.texts';
import { canMakePattern, guestLacks } from '../room/own-media';
import { RoomLink } from '../room/room-link';

/** While a guest waits, what they see follows the plan. */
const READ_EVERY_MS = 30_000;
/** What a reload of this tab comes back to. */
const MEMORY = 'juncta.guest';

/**
 * The one calm page of a guest: which show and when; then their own picture and level; then the wings, with the
 * programme, and a sign that cannot be mistaken.
 */
@Component({
  selector: 'jn-guest-page',
  imports: [ArmedKey, GuestCheck, GuestExtras, GuestRequests, GuestRoom, Key, Notice],
  templateUrl: './guest.page.html',
  styleUrl: './guest.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(window:beforeunload)': 'onLeave($event)' },
})
export class GuestPage {
  private readonly api = inject(Api);
  protected readonly room = inject(RoomLink);
  protected readonly clock = inject(PageClock);
  protected readonly format = inject(TimeFormat);
  protected readonly texts = guestTexts;

  protected readonly view = signal<GuestView | null>(null);
  protected readonly error = signal<string | null>(null);
  protected readonly hosts = computed(() => this.view()?.hosts.join(', ') ?? '');

  /** Null before the house has said whose link it is. */
  protected readonly sources = signal<OwnSources | null>(null);
  /** Their first camera, or the test pattern in its place. */
  protected readonly own = computed(
    () =>
      this.sources()
        ?.all()
        .find(({ source }) => source === this.first()) ?? null,
  );
  protected readonly extras = computed(
    () =>
      this.sources()
        ?.all()
        .filter(({ source }) => source !== this.first()) ?? [],
  );
  protected readonly opening = computed(() => this.sources()?.isOpening() ?? false);
  protected readonly problemText = computed(() => {
    const problem = this.sources()?.problem();
    return problem && deviceSentences[problem];
  });
  /** Something of theirs was sent back by the team. */
  protected readonly wasDeclined = signal(false);
  private readonly first = computed(() => sourceId('camera', this.view()?.personId ?? ''));
  /** They are in, or on the way: everything they have is sent. */
  private readonly entered = signal(false);
  private readonly sent = new Set<SourceId>();
  protected readonly lack = guestLacks();
  protected readonly canMakePattern = canMakePattern();
  protected readonly isIn = computed(() =>
    (['in', 'lost', 'connecting'] as readonly string[]).includes(this.room.status()),
  );
  /** In the programme: nobody drops out of it by one wrong press. */
  protected readonly isSeen = computed(() => this.isIn() && this.room.sign() !== 'wings');

  constructor() {
    const token = takeHash();
    const view = this.api.call(readGuestView);
    // Without a token this may be a reload: the cookie still stands for the link.
    const coming = token
      ? this.api.call(enterAsGuest, { body: { token } }).pipe(switchMap(() => view))
      : view;
    coming.subscribe({
      next: (known) => {
        this.view.set(known);
        this.sources.set(new OwnSources(known.personId, figuresOf(known.pictureFormat)));
        void this.comeBack();
      },
      error: (error: ErrorBody) =>
        this.error.set(
          error.code === 'bad_input' || (!token && error.code === 'signed_out')
            ? guestTexts.missing
            : error.sentence,
        ),
    });
    const reading = setInterval(() => this.readAgain(), READ_EVERY_MS);
    const wakeLock = inject(WakeLock);
    effect(() => wakeLock.want(this.isIn()));
    // A link that was taken back takes the camera's light with it.
    effect(() => {
      if (this.room.status() === 'signed_out') untracked(() => this.another());
    });
    effect(() => {
      const sources = this.sources();
      if (!this.entered() || !sources) return;
      sources.all();
      untracked(() => this.sendAll());
    });
    const declining = this.room.declined.subscribe((source) => {
      this.sources()?.end(source);
      this.wasDeclined.set(true);
    });
    inject(DestroyRef).onDestroy(() => {
      declining.unsubscribe();
      clearInterval(reading);
      wakeLock.want(false);
      this.room.leave();
      this.sources()?.close();
    });
  }

  /** The browser asks. Public for the specs: theirs takes a real event for its own end. */
  onLeave(event: Event): void {
    if (this.isSeen()) event.preventDefault();
  }

  protected async useCamera(): Promise<void> {
    await this.sources()?.openCamera();
  }

  protected usePattern(): void {
    this.sources()?.usePattern(this.view()?.name ?? '');
  }

  protected another(): void {
    this.sources()?.endAll();
  }

  protected async goIn(): Promise<void> {
    if (!this.own()) return;
    this.entered.set(true);
    this.sendAll();
    await this.room.enter({ placeId: await deskId() });
  }

  protected leave(): void {
    this.entered.set(false);
    remember([]);
    // Whoever leaves takes their screens along: nobody waits for those to come back.
    for (const { source } of this.extras()) this.sources()?.end(source);
    this.room.offer([]);
    for (const source of this.sent) this.room.send(source, null);
    this.sent.clear();
    this.room.leave();
  }

  protected turn(kind: Kind): void {
    const own = this.own();
    if (own) this.sources()!.turn(own.source, kind, !own.isOn[kind]);
  }

  protected choose({ kind, device }: { kind: Kind; device: string | null }): void {
    void this.sources()?.choose(this.first(), kind, device);
  }

  protected shareScreen(): void {
    this.wasDeclined.set(false);
    void this.sources()?.shareScreen();
  }

  /** What the team asked for, done by the one who may. */
  protected doAsked(what: Asked): void {
    if (what === 'screen') this.shareScreen();
    else this.sources()?.turn(this.first(), what, true);
  }

  /** Everything there is, and nothing that is no more. */
  private sendAll(): void {
    const sources = this.sources();
    if (!sources) return;
    const all = sources.all();
    this.room.offer(sources.offers());
    for (const source of [...this.sent]) {
      if (all.some((one) => one.source === source)) continue;
      this.sent.delete(source);
      this.room.send(source, null);
    }
    for (const { source, stream } of all) {
      this.sent.add(source);
      this.room.send(source, stream);
    }
    remember(sources.remembered());
  }

  /** A reload of this tab goes back in by itself. */
  private async comeBack(): Promise<void> {
    const remembered = recall(this.first());
    if (remembered.length === 0 || this.lack) return;
    await this.sources()!.restore(remembered, this.view()!.name);
    if (this.own()) await this.goIn();
  }

  private readAgain(): void {
    if (!this.view()) return;
    this.api.call(readGuestView).subscribe({
      next: (view) => this.view.set(view),
      error: (error: ErrorBody) => {
        if (error.code === 'signed_out') this.shut(error.sentence);
      },
    });
  }

  private shut(sentence: string): void {
    this.room.leave();
    this.another();
    this.view.set(null);
    this.error.set(sentence);
  }
}

function remember(own: readonly RememberedOwn[]): void {
  try {
    if (own.length > 0) sessionStorage.setItem(MEMORY, JSON.stringify(own));
    else sessionStorage.removeItem(MEMORY);
  } catch {
    // Then a reload asks once more.
  }
}

/** @param first without which nothing of another link is opened */
function recall(first: SourceId): readonly RememberedOwn[] {
  try {
    const own = JSON.parse(sessionStorage.getItem(MEMORY) ?? '[]') as RememberedOwn[];
    return own.some(({ source }) => source === first) ? own : [];
  } catch {
    return [];
  }
}
