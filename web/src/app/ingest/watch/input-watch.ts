import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  input,
  type OnInit,
  signal,
  viewChild,
} from '@angular/core';
import { watchInputs, type Input } from '@juncta/contract/ingest';
import { WATCH_TICKET_RENEWED_EVERY_MS } from '@juncta/contract/uplink';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { Key } from '../../look/keys/key';
import { watchTexts } from './watch.texts';
import { WatchedInput } from './watched-input';

/** A ticket that the relay refused is not asked for again at once. */
const AGAIN_MS = 3000;

/** What comes in at an input, moving, with its loudness; and heard, where somebody wants it. */
@Component({
  selector: 'jn-input-watch',
  imports: [Key],
  template: `
    <div class="frame">
      <canvas
        #canvas
        width="640"
        height="360"
        role="img"
        [attr.aria-label]="texts.moving(input().name)"
      ></canvas>
      @if (!hasPicture()) {
        <p class="soft">{{ request.error()?.sentence ?? refusal() ?? texts.waits }}</p>
      }
    </div>
    <p class="sound">
      <span>{{ loudness() }}</span>
      <button
        jnKey
        type="button"
        [lamp]="isHeard() ? 'lit' : 'dark'"
        [attr.aria-pressed]="isHeard()"
        (click)="listen()"
      >
        {{ texts.listen }}
      </button>
    </p>
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
    }
    .frame {
      display: grid;
      background: var(--sunk);
      border: 1px solid var(--rule);

      > * {
        grid-area: 1 / 1;
      }
      > p {
        place-self: center;
      }
    }
    canvas {
      display: block;
      width: 100%;
    }
    p {
      margin: 0;
    }
    .sound {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      align-items: center;
      justify-content: space-between;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class InputWatch implements OnInit {
  private readonly api = inject(Api);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly texts = watchTexts;
  protected readonly request = new RequestState();

  readonly showId = input.required<string>();
  readonly input = input.required<Input>();

  protected readonly hasPicture = signal(false);
  protected readonly isHeard = signal(false);
  protected readonly refusal = signal<string | null>(null);
  private readonly lufs = signal<number | null>(null);
  protected readonly loudness = computed(() =>
    this.hasPicture() || this.lufs() !== null ? watchTexts.loudness(this.lufs()) : '',
  );

  private readonly watcherId = crypto.randomUUID();
  private watched: WatchedInput | null = null;
  private isOver = false;
  private again: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    inject(DestroyRef).onDestroy(() => {
      this.isOver = true;
      clearTimeout(this.again);
      this.watched?.close();
    });
  }

  ngOnInit(): void {
    this.ask();
  }

  protected listen(): void {
    this.isHeard.update((isHeard) => !isHeard);
    this.watched?.listen(this.isHeard());
  }

  private ask(): void {
    clearTimeout(this.again);
    const asked = { params: { showId: this.showId() }, body: { watcherId: this.watcherId } };
    this.again = setTimeout(() => this.ask(), WATCH_TICKET_RENEWED_EVERY_MS);
    this.request.run(this.api.call(watchInputs, asked), (line) => {
      if (this.isOver) return;
      if (this.watched) this.watched.renew(line);
      else {
        this.watched = new WatchedInput(this.input().id, line, {
          shows: (frame) => this.draw(frame),
          hears: (lufs) => this.lufs.set(lufs),
          ticketRefused: () => {
            clearTimeout(this.again);
            this.again = setTimeout(() => this.ask(), AGAIN_MS);
          },
          refused: (sentence) => this.refusal.set(sentence),
        });
        this.watched.listen(this.isHeard());
      }
    });
  }

  /** Whole, in the middle. */
  private draw(frame: VideoFrame | null): void {
    const canvas = this.canvas().nativeElement;
    const context = canvas.getContext('2d')!;
    if (this.hasPicture() !== (frame !== null)) context.clearRect(0, 0, canvas.width, canvas.height);
    this.hasPicture.set(frame !== null);
    if (!frame) return;
    this.refusal.set(null);
    const scale = Math.min(canvas.width / frame.displayWidth, canvas.height / frame.displayHeight);
    const [width, height] = [frame.displayWidth * scale, frame.displayHeight * scale];
    context.drawImage(frame, (canvas.width - width) / 2, (canvas.height - height) / 2, width, height);
  }
}
