import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { DeviceChoice } from '../../stage/sources/device-choice';
import type { NamedDevice } from '../../stage/sources/devices';
import type { Kind } from '../../stage/sources/held-devices';
import { watchLevel } from '../room/own-media';
import { guestTexts } from '../people.texts';
import type { OwnSource } from './own-sources';

/** Louder than a quiet room, as a share of full. */
const HEARD_FROM = 0.03;
const HEARD_FOR_MS = 4000;

/** A guest's own picture and level: what others will see and hear of them. */
@Component({
  selector: 'jn-guest-check',
  imports: [DeviceChoice, Key, Notice],
  template: `
    <div class="own">
      @if (!hasVideo()) {
        <p class="soft">{{ texts.noCamera }}</p>
      } @else if (!video()) {
        <p class="soft">{{ texts.pictureIsOff }}</p>
      } @else {
        <video
          #preview
          autoplay
          playsinline
          muted
          [class.mirrored]="own().kind === 'camera'"
          [attr.aria-label]="texts.ownMedia"
        ></video>
      }
    </div>
    <div class="controls">
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
        <span class="soft">{{ heardText() }}</span>
      </div>
      @for (sentence of lost(); track sentence) {
        <jn-notice kind="look">{{ sentence }}</jn-notice>
      }
      <div class="row">
        <button
          jnKey
          type="button"
          [lamp]="video() ? 'lit' : 'dark'"
          [attr.aria-pressed]="video()"
          (click)="turned.emit('video')"
        >
          {{ video() ? texts.videoOn : texts.videoOff }}
        </button>
        <button
          jnKey
          type="button"
          [lamp]="audio() ? 'lit' : 'dark'"
          [attr.aria-pressed]="audio()"
          (click)="turned.emit('audio')"
        >
          {{ audio() ? texts.audioOn : texts.audioOff }}
        </button>
      </div>
      @if (own().kind === 'camera') {
        <details [open]="lost().length > 0">
          <summary>{{ texts.devices }}</summary>
          <jn-device-choice [devices]="devices()" [stream]="own().stream" (chosen)="chosen.emit($event)" />
        </details>
      }
    </div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(16rem, 1fr));
      gap: var(--space-3);
      align-items: start;
    }
    .controls {
      display: grid;
      gap: var(--space-2);
    }
    .own p {
      margin: 0;
      padding: var(--space-3);
      text-align: center;
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
    summary {
      color: var(--soft);
      cursor: pointer;
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
  readonly own = input.required<OwnSource>();
  readonly devices = input.required<readonly NamedDevice[]>();
  /** Turned off, or on again. */
  readonly turned = output<Kind>();
  readonly chosen = output<{ kind: Kind; device: string | null }>();
  protected readonly video = computed(() => this.own().isOn.video);
  protected readonly audio = computed(() => this.own().isOn.audio);
  private readonly stream = computed(() => this.own().stream);
  protected readonly heardText = computed(() => {
    if (!this.audio()) return guestTexts.soundIsOff;
    return this.heard() ? guestTexts.heard : guestTexts.sayAWord;
  });
  protected readonly lost = computed(() => {
    const { video, audio } = this.own();
    const sentences = [
      video === 'gone' && guestTexts.cameraGone,
      video === 'replaced' && guestTexts.cameraReplaced,
      audio === 'gone' && guestTexts.microphoneGone,
      audio === 'replaced' && guestTexts.microphoneReplaced,
    ];
    return sentences.filter((sentence) => sentence !== false);
  });
  private readonly preview = viewChild<ElementRef<HTMLVideoElement>>('preview');
  protected readonly percent = signal(0);
  /** Somebody spoke within the last seconds: pauses are part of talking. */
  protected readonly heard = signal(false);
  private heardAtMs = -Infinity;
  protected readonly hasVideo = computed(() => this.stream().getVideoTracks().length > 0);

  constructor() {
    effect(() => {
      const preview = this.preview()?.nativeElement;
      if (preview) preview.srcObject = this.stream();
    });
    effect((ended) => {
      ended(watchLevel(this.stream(), (level) => this.hear(level)));
    });
  }

  private hear(level: number): void {
    const nowMs = performance.now();
    if (level > HEARD_FROM) this.heardAtMs = nowMs;
    this.heard.set(nowMs - this.heardAtMs < HEARD_FOR_MS);
    this.percent.set(Math.round(Math.min(1, level) * 100));
  }
}
