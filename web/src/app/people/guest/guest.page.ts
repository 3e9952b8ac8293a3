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
import { enterAsGuest, readGuestView, type GuestView } from '@juncta/contract/people';
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
import type { DeviceProblem } from '../../stage/sources/devices';
import { takeHash } from '../../team/take-hash';
import { GuestCheck } from './guest-check';
import { GuestRoom } from './guest-room';
import { guestTexts } from '../people.texts';
import { canMakePattern, guestLacks, openCamera, openPattern, type OwnMedia } from '../room/own-media';
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
  imports: [ArmedKey, GuestCheck, GuestRoom, Key, Notice],
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

  protected readonly own = signal<OwnMedia | null>(null);
  protected readonly opening = signal(false);
  protected readonly sends = signal({ video: true, audio: true });
  private readonly problem = signal<DeviceProblem | null>(null);
  protected readonly problemText = computed(() => {
    const problem = this.problem();
    return problem && deviceSentences[problem];
  });
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
    inject(DestroyRef).onDestroy(() => {
      clearInterval(reading);
      wakeLock.want(false);
      this.room.leave();
      this.own()?.close();
    });
  }

  /** The browser asks. Public for the specs: theirs takes a real event for its own end. */
  onLeave(event: Event): void {
    if (this.isSeen()) event.preventDefault();
  }

  protected async useCamera(): Promise<void> {
    this.problem.set(null);
    this.opening.set(true);
    const opened = await openCamera();
    this.opening.set(false);
    if (typeof opened === 'string') this.problem.set(opened);
    else this.take(opened);
  }

  protected usePattern(): void {
    this.problem.set(null);
    this.take(openPattern(this.view()?.name ?? ''));
  }

  protected another(): void {
    this.own()?.close();
    this.own.set(null);
  }

  protected async goIn(): Promise<void> {
    const own = this.own();
    if (!own) return;
    remember(own.kind);
    this.room.send(own.stream, this.sends());
    await this.room.enter({ placeId: await deskId() });
  }

  protected leave(): void {
    remember(null);
    this.room.leave();
  }

  protected toggle(what: 'video' | 'audio'): void {
    const sends = { ...this.sends(), [what]: !this.sends()[what] };
    this.sends.set(sends);
    const { stream } = this.own()!;
    for (const track of stream.getVideoTracks()) track.enabled = sends.video;
    for (const track of stream.getAudioTracks()) track.enabled = sends.audio;
    this.room.setSends(sends);
  }

  private take(own: OwnMedia): void {
    this.own()?.close();
    this.own.set(own);
    this.sends.set({ video: true, audio: true });
  }

  /** A reload of this tab goes back in by itself. */
  private async comeBack(): Promise<void> {
    const kind = recall();
    if (!kind || this.lack) return;
    if (kind === 'pattern' && this.canMakePattern) this.usePattern();
    else await this.useCamera();
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

function remember(kind: OwnMedia['kind'] | null): void {
  try {
    if (kind) sessionStorage.setItem(MEMORY, kind);
    else sessionStorage.removeItem(MEMORY);
  } catch {
    // Then a reload asks once more.
  }
}

function recall(): OwnMedia['kind'] | null {
  try {
    const kind = sessionStorage.getItem(MEMORY);
    return kind === 'camera' || kind === 'pattern' ? kind : null;
  } catch {
    return null;
  }
}
