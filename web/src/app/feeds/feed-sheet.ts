import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  output,
  signal,
  viewChildren,
} from '@angular/core';
import type { Destination } from '@juncta/contract/destinations';
import type { Response } from '@juncta/contract/http';
import type { Listing } from '@juncta/contract/listings';
import type { RenditionReport } from '@juncta/contract/relay';
import { feedStillPath, readFeedHistory, type FeedSample } from '@juncta/contract/feeds';
import { endEffect } from '@juncta/core/feeds';
import { embedCode } from '@juncta/core/listings';
import type { Chart } from 'chart.js';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { TimeFormat } from '../clock/time-format';
import { CopyKey } from '../look/keys/copy-key';
import { Key } from '../look/keys/key';
import { feedStateNames } from '../look/look.texts';
import { Notice } from '../look/notice';
import { StateMark } from '../look/state-mark';
import { Tile } from '../look/tile';
import { renditionTexts } from '../renditions/renditions.texts';
import { feedReasons, feedSentences, feedSheetTexts, feedTexts } from './feeds.texts';

type Figure = 'kbps' | 'viewers' | 'leftOutFrames';
const FIGURES: readonly Figure[] = ['kbps', 'viewers', 'leftOutFrames'];
const ASK_EVERY_MS = 5000;
const FINE_MS = 8 * 60_000;

/** One feed, looked at closely: its figures over time, and everything that happened to it. */
@Component({
  selector: 'jn-feed-sheet',
  imports: [CopyKey, Key, Notice, StateMark, Tile],
  templateUrl: './feed-sheet.html',
  styleUrl: './feed-sheet.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FeedSheet {
  private readonly api = inject(Api);
  private readonly format = inject(TimeFormat);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  protected readonly texts = feedSheetTexts;
  protected readonly lines = FIGURES.map((of) => ({ of, name: feedSheetTexts.names[of] }));

  readonly showId = input.required<string>();
  readonly destination = input.required<Destination>();
  readonly listing = input.required<Listing | null>();
  /** What is encoded apart for it; null: it gets the programme. */
  readonly rendition = input.required<RenditionReport | null>();
  /** Of the heading, which names the dialog. */
  readonly headingId = input.required<string>();
  readonly closed = output();

  /** Which picture of what was sent there can be looked at; null: none. */
  readonly still = input.required<number | null>();

  protected readonly picture = computed(() => {
    const number = this.still();
    return number === null ? null : `${feedStillPath(this.showId(), this.destination().id)}?n=${number}`;
  });
  protected readonly request = new RequestState();
  private readonly history = signal<Response<typeof readFeedHistory> | null>(null);
  private readonly canvases = viewChildren<ElementRef<HTMLCanvasElement>>('canvas');
  private charts: Chart<'line', { x: number; y: number | null }[]>[] = [];

  protected readonly effect = computed(() => endEffectOf(this.destination(), this.listing()));
  protected readonly feedTexts = feedTexts;
  /** How far behind the programme viewers are there; null: nobody knows. */
  protected readonly behind = computed(() => {
    const { delayS = null, delayFrom } = this.listing() ?? {};
    if (delayS === null) return null;
    return delayFrom === 'measured' ? feedTexts.behind(delayS) : feedTexts.behindByRule(delayS);
  });
  protected readonly patience = computed(() => {
    const { patienceS, then } = this.destination().rules.capabilities.feedLoss;
    return this.texts.patience[then](patienceS);
  });
  protected readonly gets = computed(() => {
    const rendition = this.rendition();
    if (!rendition) return renditionTexts.gets.programme;
    const { rendition: words } = renditionTexts.gets;
    return [words(renditionTexts.picture(rendition)), renditionTexts.states[rendition.state]]
      .join(' ')
      .trim();
  });
  protected readonly embedCode = computed(() => {
    const url = this.listing()?.embedUrl ?? null;
    return url === null ? null : embedCode(url, this.destination().name);
  });
  /** What the place says of what it receives; null: nothing. */
  protected readonly health = computed(() => {
    const health = this.history()?.health ?? null;
    return health && { line: this.texts.placeGets(health), warnings: health.warnings };
  });
  protected readonly log = computed(() =>
    [...(this.history()?.log ?? [])].reverse().map(({ atMs, state, reason, placeSays }) => ({
      time: this.format.seconds(atMs),
      mark: `feed.${state}` as const,
      word: feedStateNames[state],
      sentence: [
        reason ? feedReasons[reason] : feedSentences[state],
        placeSays ? feedTexts.placeSays(placeSays) : '',
      ]
        .join(' ')
        .trim(),
    })),
  );

  constructor() {
    const asking = setInterval(() => this.ask(), ASK_EVERY_MS);
    inject(DestroyRef).onDestroy(() => {
      clearInterval(asking);
      for (const chart of this.charts) chart.destroy();
    });
    effect(() => {
      this.destination();
      this.ask();
    });
    effect(() => {
      const samples = this.history()?.samples;
      if (samples && this.canvases().length > 0) void this.draw(samples);
    });
  }

  protected latest(of: Figure): string {
    const value = this.history()?.samples.at(-1)?.[of];
    return value == null ? '–' : String(value);
  }

  /** The lines in words, for whoever does not see them. */
  protected told(of: Figure): string {
    const values = (this.history()?.samples ?? []).flatMap((sample) => sample[of] ?? []);
    const name = feedSheetTexts.names[of];
    if (values.length === 0) return this.texts.noFigures(name);
    return this.texts.told(name, Math.min(...values), Math.max(...values), values.at(-1)!);
  }

  private ask(): void {
    const params = { showId: this.showId(), destinationId: this.destination().id };
    this.request.run(this.api.call(readFeedHistory, { params }), (history) => {
      this.history.set(history);
    });
  }

  /** Seconds are told while minutes would all be the same. */
  private tick(ms: number, samples: readonly FeedSample[]): string {
    const spanMs = (samples.at(-1)?.atMs ?? 0) - (samples[0]?.atMs ?? 0);
    return spanMs < FINE_MS ? this.format.seconds(ms) : this.format.time(ms);
  }

  private async draw(samples: readonly FeedSample[]): Promise<void> {
    const { Chart, LineController, LineElement, LinearScale, PointElement } = await import('chart.js');
    Chart.register(LineController, LineElement, LinearScale, PointElement);
    const colours = getComputedStyle(this.host);
    Chart.defaults.font.family = colours.getPropertyValue('--text-face') || colours.fontFamily;
    const [ink, rule] = [colours.getPropertyValue('--text'), colours.getPropertyValue('--rule')];
    const pointsOf = (of: Figure) => samples.map((sample) => ({ x: sample.atMs, y: sample[of] }));
    if (this.charts.length === 0) {
      this.charts = this.canvases().map(({ nativeElement }) => {
        const of = nativeElement.dataset['of'] as Figure;
        return new Chart(nativeElement, {
          type: 'line',
          data: {
            datasets: [
              { data: pointsOf(of), borderColor: ink, borderWidth: 1.5, pointRadius: 0, stepped: true },
            ],
          },
          options: {
            animation: false,
            maintainAspectRatio: false,
            parsing: false,
            scales: {
              x: {
                type: 'linear',
                grid: { color: rule },
                ticks: { color: ink, maxTicksLimit: 3, callback: (ms) => this.tick(Number(ms), samples) },
              },
              y: { beginAtZero: true, grid: { color: rule }, ticks: { color: ink, maxTicksLimit: 3 } },
            },
          },
        });
      });
      return;
    }
    this.charts.forEach((chart, i) => {
      chart.data.datasets[0]!.data = pointsOf(FIGURES[i]!);
      chart.update('none');
    });
  }
}

/** What ending the feed does there, as far as we know. */
export function endEffectOf({ rules, endsByApi }: Destination, listing: Listing | null) {
  return endEffect(rules.capabilities, endsByApi, listing?.settings.ends_with_feed === true);
}
