import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import {
  chooseRegion,
  measureRegions,
  revealKey,
  testLine,
  type Destination,
} from '@juncta/contract/destinations';
import type { Response } from '@juncta/contract/http';
import { lineTestAt } from '@juncta/core/destinations';
import { tap } from 'rxjs';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { ArmedKey } from '../../look/keys/armed-key';
import { CopyKey } from '../../look/keys/copy-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { StateMark } from '../../look/state-mark';
import { Tile } from '../../look/tile';
import { lineTexts } from '../destinations.texts';
import { TakesForm } from './takes-form';

/** A key that is looked at stands there so long: somebody may come by, or the screen be shared. */
export const KEY_SHOWN_S = 20;

/** The line to one destination: whether it works, its key, its region. */
@Component({
  selector: 'jn-line-panel',
  imports: [ArmedKey, CopyKey, Key, Notice, StateMark, TakesForm, Tile],
  templateUrl: './line-panel.html',
  styleUrl: './line-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LinePanel {
  private readonly api = inject(Api);
  private readonly clock = inject(PageClock);
  private readonly format = inject(TimeFormat);
  protected readonly texts = lineTexts;

  readonly destination = input.required<Destination>();
  readonly changed = output<Destination>();
  readonly removed = output();

  protected readonly request = new RequestState();
  protected readonly testing = signal(false);
  protected readonly measuring = signal(false);
  protected readonly key = signal<string | null>(null);
  protected readonly left = signal(0);
  protected readonly regions = signal<Response<typeof measureRegions> | null>(null);
  protected readonly way = computed(() => {
    const { rules, placement } = this.destination();
    return lineTestAt(rules.capabilities.lineTest, placement?.kind ?? null);
  });
  private readonly id = computed(() => this.destination().id);
  private hiding: ReturnType<typeof setInterval> | undefined;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.hide());
    effect(() => {
      this.id();
      untracked(() => this.forget());
    });
  }

  protected when(atMs: number): string {
    const day = this.format.day(atMs, this.clock.nowMs());
    return `${day} ${this.format.time(atMs)}`;
  }

  /** Parts of a millisecond say nothing about a line. */
  protected whole(ms: number): number {
    return Math.max(1, Math.round(ms));
  }

  protected test(sure: boolean): void {
    const id = this.id();
    this.testing.set(true);
    const over = () => this.testing.set(false);
    const tested = this.api.call(testLine, { params: this.params(), body: { sure } });
    // A test takes seconds: what comes of it belongs to its destination, whichever is looked at by then.
    const request = this.request;
    request.run(
      tested.pipe(tap((destination) => this.changed.emit(destination))),
      () => id === this.id() && over(),
      () => (id === this.id() ? over() : request.clear()),
    );
  }

  protected reveal(): void {
    this.request.run(this.api.call(revealKey, { params: this.params() }), ({ key }) => {
      this.key.set(key);
      this.left.set(KEY_SHOWN_S);
      clearInterval(this.hiding);
      this.hiding = setInterval(() => {
        this.left.update((seconds) => seconds - 1);
        if (this.left() <= 0) this.hide();
      }, 1000);
    });
  }

  protected hide(): void {
    clearInterval(this.hiding);
    this.key.set(null);
  }

  protected measure(): void {
    this.measuring.set(true);
    this.request.run(
      this.api.call(measureRegions, { params: this.params() }),
      (regions) => {
        this.regions.set(regions);
        this.measuring.set(false);
      },
      () => this.measuring.set(false),
    );
  }

  protected choose(region: string | null): void {
    this.request.run(
      this.api.call(chooseRegion, { params: this.params(), body: { region } }),
      (destination) => this.changed.emit(destination),
    );
  }

  private readonly params = () => ({ destinationId: this.id() });

  /** Another destination was chosen. */
  private forget(): void {
    this.hide();
    this.regions.set(null);
    this.request.clear();
    this.testing.set(false);
    this.measuring.set(false);
  }
}
