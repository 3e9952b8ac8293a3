import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { flows, mayWatch, PROGRAMME_PUBLISHER } from '@juncta/core/people';
import { sourceId } from '@juncta/core/stage';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { guestTexts } from '../people.texts';
import { RoomLink } from '../room/room-link';

/** A guest who is in: the sign, above everything else, and the programme, heard without oneself. */
@Component({
  selector: 'jn-guest-room',
  imports: [Key, Notice],
  template: `
    <div class="sign" [attr.data-sign]="sign()" role="status">
      <svg viewBox="0 0 16 16" aria-hidden="true">
        @switch (sign()) {
          @case ('on_air') {
            <circle cx="8" cy="8" r="7" />
          }
          @case ('stage') {
            <path d="M1 1h14v14H1z" />
          }
          @default {
            <path d="M1 1h14v14H1zM3 3v10h10V3z" fill-rule="evenodd" />
          }
        }
      </svg>
      <span class="word">{{ words().word }}</span>
      <span>{{ text() }}</span>
    </div>
    @if (room.status() === 'lost' || room.status() === 'connecting') {
      <jn-notice kind="look">{{ texts.lineLost }}</jn-notice>
    } @else if (room.view()?.media === false) {
      <jn-notice kind="look">{{ texts.mediaLost }}</jn-notice>
    }
    <figure>
      <div class="programme">
        @if (programme()) {
          <video #video autoplay playsinline [attr.aria-label]="texts.programme"></video>
        } @else {
          <p class="soft">{{ texts.noProgramme }}</p>
        }
      </div>
      <figcaption class="soft">{{ texts.programmeText }}</figcaption>
    </figure>
    @if (blocked()) {
      <button jnKey type="button" [first]="true" (click)="play()">{{ texts.hear }}</button>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-3);
    }
    .sign {
      display: grid;
      grid-template-columns: auto 1fr;
      align-items: center;
      column-gap: var(--space-3);
      padding: var(--space-3) var(--space-4);
      border: 2px solid var(--text);
      background: var(--raised);

      svg {
        grid-row: span 2;
        width: 2rem;
        fill: currentColor;
      }
      .word {
        font-family: var(--label-face);
        font-size: 2rem;
        font-weight: 600;
        line-height: 1.1;
        letter-spacing: 0.03em;
        text-transform: uppercase;
      }
    }
    .sign[data-sign='stage'] {
      background: var(--saffron-wash);
      border-color: var(--saffron);
    }
    .sign[data-sign='on_air'] {
      background: var(--tally);
      border-color: var(--tally);
      color: var(--on-tally);
    }
    figure {
      display: grid;
      gap: var(--space-1);
      margin: 0;
    }
    .programme {
      display: grid;
      place-items: center;
      aspect-ratio: 16 / 9;
      background: #10201a;
      color: #a9b6ab;
    }
    .programme p {
      margin: 0;
      padding: var(--space-4);
      color: inherit;
      text-align: center;
    }
    video {
      width: 100%;
      height: 100%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GuestRoom {
  protected readonly texts = guestTexts;
  protected readonly room = inject(RoomLink);
  private readonly video = viewChild<ElementRef<HTMLVideoElement>>('video');
  /** The browser plays no sound before something is pressed. */
  protected readonly blocked = signal(false);
  private readonly voices = new Map<string, HTMLAudioElement>();

  protected readonly sign = this.room.sign;
  protected readonly words = computed(() => guestTexts.signs[this.sign()]);
  protected readonly text = computed(() => {
    if (this.sign() !== 'on_air') return this.words().text;
    const view = this.room.view()!;
    const source = sourceId('camera', view.you!);
    const onStage = view.stage.find((one) => one.source === source);
    if (!onStage) return guestTexts.onAir.shown;
    const own = view.people.flatMap(({ sources }) => sources).find((one) => one.source === source);
    const isSeen = onStage.isSeen && own !== undefined && flows(own.video);
    const isHeard = onStage.isHeard && own !== undefined && flows(own.audio);
    if (isSeen) return isHeard ? guestTexts.onAir.both : guestTexts.onAir.seen;
    return isHeard ? guestTexts.onAir.heard : guestTexts.onAir.neither;
  });
  protected readonly programme = computed(() => this.room.streams()[PROGRAMME_PUBLISHER] ?? null);

  constructor() {
    effect(() => {
      const view = this.room.view();
      // Whoever waits or talks hears those on stage, and never themselves.
      const seat = { kind: 'guest', personId: view?.you ?? '' } as const;
      const sounding = (view?.people ?? [])
        .flatMap(({ sources }) => sources)
        .filter(({ source, audio }) => audio !== 'none' && mayWatch(seat, source, view!.stage));
      untracked(() => this.room.want([PROGRAMME_PUBLISHER, ...sounding.map(({ source }) => source)]));
    });
    effect(() => {
      const [video, stream] = [this.video()?.nativeElement, this.programme()];
      if (!video || !stream) return;
      video.srcObject = stream;
      this.start(video);
    });
    effect((ended) => {
      ended(() => undefined);
      const streams: Readonly<Record<string, MediaStream | undefined>> = this.room.streams();
      for (const [id, voice] of this.voices) {
        if (voice.srcObject === streams[id]) continue;
        voice.srcObject = null;
        this.voices.delete(id);
      }
      for (const [id, stream] of Object.entries(streams)) {
        if (!stream || id === PROGRAMME_PUBLISHER || this.voices.has(id)) continue;
        const voice = new Audio();
        voice.srcObject = stream;
        this.voices.set(id, voice);
        this.start(voice);
      }
    });
  }

  protected play(): void {
    this.blocked.set(false);
    const video = this.video()?.nativeElement;
    for (const one of [video, ...this.voices.values()]) if (one) this.start(one);
  }

  private start(media: HTMLMediaElement): void {
    media.play().catch((error: unknown) => {
      if ((error as DOMException).name === 'NotAllowedError') this.blocked.set(true);
    });
  }
}
