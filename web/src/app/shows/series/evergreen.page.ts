import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { readEvergreen, type Evergreen } from '@juncta/contract/shows';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { Notice } from '../../look/notice';
import { StateMark } from '../../look/state-mark';
import { PageTitle } from '../../shell/page-title';
import { evergreenTexts } from '../shows.texts';

/** Viewers leave the page open before a show begins. */
const ASK_EVERY_MS = 30_000;

/** Where the evergreen link of a series leads: what is on or comes next, and where. For anybody, on a phone too. */
@Component({
  selector: 'jn-evergreen-page',
  imports: [Notice, StateMark],
  template: `
    <main>
      @if (!view() && request.error(); as error) {
        <h1>Juncta</h1>
        <jn-notice kind="wrong">{{ error.sentence }}</jn-notice>
      } @else if (view(); as view) {
        <p class="label">{{ view.series }}</p>
        @if (view.show; as show) {
          <h1>{{ show.title }}</h1>
          @if (show.onAir) {
            <p><jn-state of="phase.live" [word]="texts.onNow" /></p>
          } @else {
            <p class="when">
              <span class="figure time">{{ time() }}</span>
              <span>{{ day() }}</span>
              <span class="soft">{{ texts.yourTime(city()) }}</span>
            </p>
          }
          <h2>{{ show.onAir ? texts.watch : texts.willBe }}</h2>
          <ul class="plain">
            @for (place of show.places; track place.url) {
              <li>
                <a [href]="place.url" rel="noopener noreferrer">{{ place.name }}</a>
              </li>
            } @empty {
              <li class="soft">{{ texts.noPlaces }}</li>
            }
          </ul>
        } @else {
          <h1>{{ texts.none }}</h1>
          <p class="soft">{{ texts.comeBack }}</p>
        }
      } @else {
        <p role="status">{{ texts.reading }}</p>
      }
    </main>
  `,
  styleUrl: './evergreen.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class EvergreenPage {
  private readonly api = inject(Api);
  private readonly clock = inject(PageClock);
  private readonly format = inject(TimeFormat);
  private readonly title = inject(PageTitle);
  protected readonly texts = evergreenTexts;

  readonly slug = input.required<string>();
  protected readonly view = signal<Evergreen | null>(null);
  protected readonly request = new RequestState();
  private readonly startsAtMs = computed(() => this.view()?.show?.startsAtMs ?? 0);
  protected readonly time = computed(() => this.format.time(this.startsAtMs()));
  protected readonly day = computed(() => this.format.longDay(this.startsAtMs()));
  protected readonly city = computed(() => this.format.city(this.format.ownZone));
  private readonly turn = computed(() => Math.floor(this.clock.nowMs() / ASK_EVERY_MS));

  constructor() {
    effect(() => {
      this.turn();
      this.request.run(this.api.call(readEvergreen, { params: { slug: this.slug() } }), (view) => {
        this.view.set(view);
        this.title.set(view.show?.title ?? view.series);
      });
    });
  }
}
