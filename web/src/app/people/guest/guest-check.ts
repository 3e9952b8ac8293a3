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
import { watchLevel, type OwnPicture } from '../room/own-picture';
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
      @if (hasPicture()) {
        <video
          #video
          autoplay
          playsinline
          muted
          [class.mirrored]="own().kind === 'camera'"
          [attr.aria-label]="texts.ownPicture"
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
        [lamp]="picture() ? 'lit' : 'dark'"
        [attr.aria-pressed]="picture()"
        (click)="toggledPicture.emit()"
      >
        {{ picture() ? texts.pictureOn : texts.pictureOff }}
      </button>
      <button
        jnKey
        type="button"
        [lamp]="sound() ? 'lit' : 'dark'"
        [attr.aria-pressed]="sound()"
        (click)="toggledSound.emit()"
      >
        {{ sound() ? texts.soundOn : texts.soundOff }}
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
  readonly own = input.required<OwnPicture>();
  readonly picture = input.required<boolean>();
  readonly sound = input.required<boolean>();
  readonly toggledPicture = output();
  readonly toggledSound = output();
  private readonly video = viewChild<ElementRef<HTMLVideoElement>>('video');
  protected readonly percent = signal(0);
  /** Somebody spoke within the last seconds: pauses are part of talking. */
  protected readonly heard = signal(false);
  private heardAtMs = -Infinity;
  protected readonly hasPicture = signal(true);

  constructor() {
    effect(() => this.hasPicture.set(this.own().stream.getVideoTracks().length > 0));
    effect(() => {
      const video = this.video()?.nativeElement;
      if (video) video.srcObject = this.own().stream;
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
