import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { readChatFigures, type ChatFigures as Figures } from '@juncta/contract/chat';
import { formatShowTime } from '@juncta/core/programme';
import { Store } from '@ngrx/store';
import type { Chart } from 'chart.js';
import { Api } from '../../api/api';
import { listingsFeature } from '../../listings/listings.feature';
import { chatFigureTexts } from '../chat.texts';

/** How dark each place's part of a bar is; beyond the fourth they begin again. */
const SHADES = [90, 60, 38, 20] as const;

/** How viewers wrote over the time of a show, place on place, and how they were answered. */
@Component({
  selector: 'jn-chat-figures',
  template: `
    @if (figures(); as figures) {
      @if (figures.messages > 0) {
        <h3 class="label">{{ texts.title }}</h3>
        <div class="chart">
          <canvas #canvas role="img" [attr.aria-label]="told()"></canvas>
        </div>
        <p class="soft">{{ lines() }}</p>
      }
    }
  `,
  styles: `
    h3 {
      margin: var(--space-3) 0 var(--space-1);
      font-size: 0.87rem;
    }
    .chart {
      position: relative;
      height: 12rem;
    }
    p {
      margin: var(--space-1) 0 var(--space-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChatFigures {
  private readonly api = inject(Api);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  protected readonly texts = chatFigureTexts;

  readonly showId = input.required<string>();
  protected readonly figures = signal<Figures | null>(null);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly destinations = inject(Store).selectSignal(listingsFeature.selectDestinations);
  private chart: Chart<'bar'> | null = null;

  private readonly places = computed(() => {
    const minutes = this.figures()?.minutes ?? [];
    const ids = [...new Set(minutes.map(({ destinationId }) => destinationId))];
    return ids.map((id) => ({
      id,
      name: this.destinations().find((one) => one.id === id)?.name ?? '',
      byMinute: new Map(
        minutes.flatMap(({ destinationId, minute, messages }) =>
          destinationId === id ? [[minute, messages] as const] : [],
        ),
      ),
    }));
  });
  private readonly lastMinute = computed(() =>
    Math.max(0, ...(this.figures()?.minutes ?? []).map(({ minute }) => minute)),
  );
  /** The chart in words, for whoever does not see it. */
  protected readonly told = computed(() => {
    const sums = Array.from({ length: this.lastMinute() + 1 }, (_, minute) =>
      this.places().reduce((sum, { byMinute }) => sum + (byMinute.get(minute) ?? 0), 0),
    );
    const most = Math.max(0, ...sums);
    return chatFigureTexts.told(most, sums.indexOf(most));
  });
  protected readonly lines = computed(() => {
    const figures = this.figures();
    if (!figures) return '';
    const { messages, writers, questions, askers, answered, notShown, responseP50S } = figures;
    const { returning, reactions, reactionMinutes, followers, sales } = figures;
    const most = reactionMinutes.toSorted((a, b) => b.reactions - a.reactions)[0];
    return [
      chatFigureTexts.written(messages, writers),
      returning > 0 ? chatFigureTexts.returning(returning) : null,
      questions > 0 ? chatFigureTexts.questions(questions, askers, answered) : null,
      notShown > 0 ? chatFigureTexts.notShown(notShown) : null,
      reactions > 0 ? chatFigureTexts.reactions(reactions, most?.minute ?? null) : null,
      followers > 0 ? chatFigureTexts.followers(followers) : null,
      sales > 0 ? chatFigureTexts.sales(sales) : null,
      responseP50S === null ? null : chatFigureTexts.response(formatShowTime(responseP50S * 1000)),
    ]
      .filter((line) => line !== null)
      .join('; ');
  });

  constructor() {
    effect(() => {
      const params = { showId: this.showId() };
      untracked(() =>
        this.api.call(readChatFigures, { params }).subscribe({
          next: (figures) => this.figures.set(figures),
          // The files beside it say what is wrong.
          error: () => this.figures.set(null),
        }),
      );
    });
    effect(() => {
      const canvas = this.canvas()?.nativeElement;
      const [places, last] = [this.places(), this.lastMinute()];
      if (canvas && places.length > 0) void this.draw(canvas, places, last);
    });
    inject(DestroyRef).onDestroy(() => this.chart?.destroy());
  }

  private async draw(
    canvas: HTMLCanvasElement,
    places: readonly { readonly name: string; readonly byMinute: ReadonlyMap<number, number> }[],
    lastMinute: number,
  ): Promise<void> {
    const { BarController, BarElement, CategoryScale, Chart, Legend, LinearScale } = await import('chart.js');
    Chart.register(BarController, BarElement, CategoryScale, Legend, LinearScale);
    const colours = getComputedStyle(this.host);
    Chart.defaults.font.family = colours.getPropertyValue('--text-face') || colours.fontFamily;
    const [ink, rule] = [colours.getPropertyValue('--text'), colours.getPropertyValue('--rule')];
    const labels = Array.from({ length: lastMinute + 1 }, (_, minute) => formatShowTime(minute * 60_000));
    const datasets = places.map(({ name, byMinute }, i) => ({
      label: name,
      data: labels.map((_, minute) => byMinute.get(minute) ?? 0),
      backgroundColor: `color-mix(in srgb, ${ink} ${SHADES[i % SHADES.length]}%, transparent)`,
      borderColor: ink,
      borderWidth: 1,
    }));
    this.chart?.destroy();
    this.chart = new Chart(canvas, {
      type: 'bar',
      data: { labels, datasets },
      options: {
        animation: false,
        maintainAspectRatio: false,
        scales: {
          x: {
            stacked: true,
            grid: { display: false },
            ticks: { color: ink, maxTicksLimit: 6, maxRotation: 0 },
          },
          y: {
            stacked: true,
            beginAtZero: true,
            grid: { color: rule },
            ticks: { color: ink, precision: 0, maxTicksLimit: 4 },
          },
        },
        plugins: { legend: { position: 'bottom', labels: { color: ink, boxWidth: 12 } } },
      },
    });
  }
}
