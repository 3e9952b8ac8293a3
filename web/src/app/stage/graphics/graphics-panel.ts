import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  type OnDestroy,
  signal,
} from '@angular/core';
import type { Show } from '@juncta/contract/shows';
import { overlaysOn } from '@juncta/core/dressing';
import {
  CLOCK_READINGS,
  hasClock,
  LINK_LINE_MAX,
  readAddress,
  readTicker,
  SIDE_NAME_MAX,
  SIDES,
  type ChatBox,
  type GraphicsChange,
  type LinkCard,
  type OnScreenClock,
  type Side,
} from '@juncta/core/stage';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { Key } from '../../look/keys/key';
import { listingsFeature } from '../../listings/listings.feature';
import { Notice } from '../../look/notice';
import { teamFeature } from '../../team/team.feature';
import { OpenPanel } from '../open-panel';
import { StageLink } from '../stage-link';
import { ShowDrawing } from '../dressed/show-drawing';
import { BoxFields } from './box-fields';
import { GraphicHead } from './graphic-head';
import { NoticesSection } from './notices-section';
import { OverlaysSection } from './overlays-section';
import { ProductSection } from './product-section';
import { SlateSection } from './slate-section';
import { graphicsTexts } from './graphics.texts';

const MINUTE_MS = 60_000;
const MOST_MINUTES = 600;

/** What stands over the programme whoever is on it. Beside the picture, which shows it at once. */
@Component({
  selector: 'jn-graphics-panel',
  imports: [
    BoxFields,
    GraphicHead,
    Key,
    Notice,
    NoticesSection,
    OverlaysSection,
    ProductSection,
    RouterLink,
    SlateSection,
  ],
  templateUrl: './graphics-panel.html',
  styleUrls: ['../panels/beside-panel.scss', './graphics-panel.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'dialog', 'aria-labelledby': 'graphics-title', '(keydown.escape)': 'close()' },
})
export class GraphicsPanel implements OnDestroy {
  private readonly stage = inject(StageLink);
  private readonly drawing = inject(ShowDrawing);
  private readonly panel = inject(OpenPanel);
  private readonly clock = inject(PageClock);
  private readonly format = inject(TimeFormat);
  protected readonly texts = graphicsTexts;
  protected readonly readings = CLOCK_READINGS;
  protected readonly sides = SIDES;
  protected readonly nameMax = SIDE_NAME_MAX;
  protected readonly lineMax = LINK_LINE_MAX;
  protected readonly destinations = inject(Store).selectSignal(listingsFeature.selectDestinations);

  private readonly may = inject(Store).selectSignal(teamFeature.selectMay);
  protected readonly mayPlan = computed(() => this.may()('shows.edit'));

  readonly show = input.required<Show>();

  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly before = document.activeElement as HTMLElement | null;
  protected readonly graphics = computed(() => this.stage.stage().graphics);

  /** Each by its heading, with whether it is on the picture. */
  protected readonly sections = computed(() => {
    const { ticker, clock, score, chat, link, product, notices, overlays } = this.graphics();
    const { texts } = this;
    const laid = overlaysOn(this.drawing.dressing(), overlays);
    return [
      { id: 'graphics-slate', name: texts.slate, isOn: false },
      { id: 'graphics-overlays', name: texts.overlays, isOn: laid.length > 0 },
      { id: 'graphics-ticker', name: texts.ticker, isOn: ticker.isOn },
      { id: 'graphics-chat', name: texts.chat, isOn: chat.isOn },
      { id: 'graphics-notices', name: texts.noticesOf, isOn: notices.isOn },
      { id: 'graphics-product', name: texts.product, isOn: product.isOn },
      { id: 'graphics-link', name: texts.link, isOn: link.isOn },
      { id: 'graphics-score', name: texts.score, isOn: score.isOn },
      { id: 'graphics-clock', name: texts.clock, isOn: clock.isOn },
    ];
  });

  /** What is written and not used yet; null: nothing is. Viewers are not to read half a line. */
  private readonly draft = signal<string | null>(null);
  private readonly inUse = computed(() => this.graphics().ticker.lines.join('\n'));
  protected readonly lines = computed(() => this.draft() ?? this.inUse());
  private readonly written = computed(() => readTicker(this.lines()));
  protected readonly isUnused = computed(
    () => this.graphics().ticker.isOn && this.written().lines.join('\n') !== this.inUse(),
  );
  protected readonly tickerProblem = signal<string | null>(null);

  protected readonly minutes = signal('5');
  protected readonly clockProblem = signal<string | null>(null);
  protected readonly clockWords = computed(() => {
    const { isOn, reads, zone, untilMs } = this.graphics().clock;
    if (reads === 'time_of_day') return this.texts.zone(this.format.city(isOn ? zone : this.zone()));
    return untilMs === null ? '' : this.texts.countsTo(this.format.seconds(untilMs));
  });
  private readonly zone = computed(() => this.show().text.start?.zone ?? this.format.ownZone);
  protected readonly endsAtMs = computed(() => {
    const { startsAtMs, text } = this.show();
    return startsAtMs === null ? null : startsAtMs + text.plannedMinutes * MINUTE_MS;
  });

  constructor() {
    afterNextRender(() => this.element.querySelector<HTMLElement>('.sections button')?.focus());
  }

  ngOnDestroy(): void {
    if (this.panel.content()?.of === 'graphics') this.panel.content.set(null);
  }

  protected goTo(headingId: string): void {
    const heading = this.element.querySelector<HTMLElement>(`#${headingId}`);
    heading?.scrollIntoView({ block: 'start' });
    // Its first key is the next one that the keyboard reaches.
    heading?.setAttribute('tabindex', '-1');
    heading?.focus({ preventScroll: true });
  }

  protected close(): void {
    this.panel.content.set(null);
    this.before?.focus();
  }

  // --- Ticker

  protected write(text: string): void {
    this.draft.set(text);
    this.tickerProblem.set(null);
  }

  protected showTicker(isOn: boolean): void {
    const { lines, tooLong, tooMany } = this.written();
    // What is wrong with a text must not keep a ticker on the picture.
    if (!isOn) {
      this.change({ type: 'ticker', values: { isOn } });
      return;
    }
    const problem =
      tooLong !== null
        ? this.texts.tooLong(tooLong)
        : tooMany
          ? this.texts.tooMany
          : lines.length === 0
            ? this.texts.noLines
            : null;
    this.tickerProblem.set(problem);
    if (problem !== null) return;
    this.change({ type: 'ticker', values: { isOn, lines } });
    this.draft.set(null);
  }

  // --- Clock

  protected read(reads: OnScreenClock['reads']): void {
    this.setClock({ reads });
  }

  protected showClock(isOn: boolean): void {
    this.setClock({ isOn });
  }

  protected countMinutes(): void {
    const minutes = Number(this.minutes());
    if (!(minutes >= 1 && minutes <= MOST_MINUTES)) {
      this.clockProblem.set(this.texts.minutesWrong);
      return;
    }
    this.countTo(this.clock.now() + minutes * MINUTE_MS);
  }

  protected countTo(untilMs: number): void {
    this.setClock({ untilMs: Math.round(untilMs) });
  }

  private setClock(values: Partial<OnScreenClock>): void {
    this.change({ type: 'clock', values: { zone: this.zone(), ...values } });
    const isMute = this.graphics().clock.isOn && !hasClock(this.graphics());
    this.clockProblem.set(isMute ? this.texts.countsToNothing : null);
  }

  // --- Score board

  protected nameOf(side: Side): string {
    return this.graphics().score.names[side] || this.texts.side[side]!;
  }

  protected rename(side: Side, name: string): void {
    const [left, right] = this.graphics().score.names;
    const names: [string, string] = side === 0 ? [name.trim(), right] : [left, name.trim()];
    this.change({ type: 'score', values: { names } });
  }

  protected showScore(isOn: boolean): void {
    this.change({ type: 'score', values: { isOn } });
  }

  protected count(side: Side, by: number): void {
    this.change({ type: 'points', side, by });
  }

  protected resetPoints(): void {
    this.change({ type: 'points_reset' });
  }

  // --- Link

  protected readonly linkProblem = signal(false);

  protected setLink(values: Partial<LinkCard>): void {
    this.change({ type: 'link', values });
  }

  /** What is none is not shown, and stays in its field to be mended. */
  protected setAddress(written: string): boolean {
    const address = written.trim() === '' ? '' : readAddress(written);
    this.linkProblem.set(address === null);
    if (address !== null) this.setLink({ address });
    return address !== null && address !== '';
  }

  protected showLink(isOn: boolean, written: string): void {
    if (!isOn) this.setLink({ isOn });
    else if (this.setAddress(written)) this.setLink({ isOn });
    else this.linkProblem.set(true);
  }

  // --- Viewers' messages

  protected setBox(values: Partial<ChatBox>): void {
    this.change({ type: 'chat', values });
  }

  private change(change: GraphicsChange): void {
    this.stage.do({ type: 'graphics', change });
  }
}
