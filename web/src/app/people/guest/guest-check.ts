import {
  ChangeDetectionStrategy,
  Component,
  effect,
  type ElementRef,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { Key } from '../../look/keys/key';
import { watchLevel, type OwnMedia } from '../room/own-media';
import { guestTexts } from '../people.texts';

/** Louder than a quiet room, as a share of full. */
const HEARD_FROM = 0.03;
const HEARD_FOR_MS = 4000;

/** A guest's own picture and level: what others will see and hear of them. */
@Component({
  selector: 'jn-guest-check',
  imports: [Key],
  template: `
    <div class="own">
      @if (hasVideo()) {
        <video
          #preview
          autoplay
          playsinline
          muted
          [class.mirrored]="own().kind === 'camera'"
          [attr.aria-label]="texts.ownMedia"
        ></video>
      } @else {
        <p class="soft">{{ texts.noCamera }}</p>
      }
    </div>
    <div class="row">
      <div
        class="level"
        role="meter"
        [attr.aria-label]="texts.ownLevel"
        aria-valuemin="0"
        aria-valuemax="100"
        [attr.aria-valuenow]="percent()"
      >
        <span [style.width.%]="percent()"></span>
      </div>
      <span class="soft">{{ heard() ? texts.heard : texts.sayAWord }}</span>
    </div>
    <div class="row">
      <button
        jnKey
        type="button"
        [lamp]="video() ? 'lit' : 'dark'"
        [attr.aria-pressed]="video()"
        (click)="toggledVideo.emit()"
      >
        {{ video() ? texts.videoOn : texts.videoOff }}
      </button>
      <button
        jnKey
        type="button"
        [lamp]="audio() ? 'lit' : 'dark'"
        [attr.aria-pressed]="audio()"
        (click)="toggledAudio.emit()"
      >
        {{ audio() ? texts.audioOn : texts.audioOff }}
      </button>
    </div>
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
    }
    .own {
      display: grid;
      place-items: center;
      max-width: 20rem;
      aspect-ratio: 16 / 9;
      background: var(--sunk);
      border: 1px solid var(--rule);
    }
    video {
      width: 100%;
      height: 100%;
      object-fit: cover;
    }
    .mirrored {
      transform: scaleX(-1);
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-2);
    }
    .level {
      width: 10rem;
      height: 0.6rem;
      border: 1px solid var(--edge);
      background: var(--sunk);

      span {
        display: block;
        height: 100%;
        background: var(--action);
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GuestCheck {
  protected readonly texts = guestTexts;
  readonly own = input.required<OwnMedia>();
  readonly video = input.required<boolean>();
  readonly audio = input.required<boolean>();
  readonly toggledVideo = output();
  readonly toggledAudio = output();
  private readonly preview = viewChild<ElementRef<HTMLVideoElement>>('preview');
  protected readonly percent = signal(0);
  /** Somebody spoke within the last seconds: pauses are part of talking. */
  protected readonly heard = signal(false);
  private heardAtMs = -Infinity;
  protected readonly hasVideo = signal(true);

  constructor() {
    effect(() => this.hasVideo.set(this.own().stream.getVideoTracks().length > 0));
    effect(() => {
      const preview = this.preview()?.nativeElement;
      if (preview) preview.srcObject = this.own().stream;
    });
    effect((ended) => {
      ended(watchLevel(this.own().stream, (level) => this.hear(level)));
    });
  }

  private hear(level: number): void {
    const nowMs = performance.now();
    if (level > HEARD_FROM) this.heardAtMs = nowMs;
    this.heard.set(nowMs - this.heardAtMs < HEARD_FOR_MS);
    this.percent.set(Math.round(Math.min(1, level) * 100));
  }
}
