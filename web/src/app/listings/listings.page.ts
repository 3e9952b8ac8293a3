import {
  afterNextRender,
  ChangeDetectionStrategy,
  Injector,
  viewChild,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { countText, overLength } from '@juncta/core/listings';
import type { PlaceFinding } from '@juncta/core/readiness';
import { slotAt, slotWindow } from '@juncta/core/schedule';
import { Store } from '@ngrx/store';
import { PageClock } from '../clock/page-clock';
import { TimeFormat } from '../clock/time-format';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { StateMark } from '../look/state-mark';
import { Tile } from '../look/tile';
import type { ListingEntry } from '../readiness/broadcast-of';
import { ReadinessList } from '../readiness/readiness-list';
import { readinessTexts } from '../readiness/readiness.texts';
import { PageTitle } from '../shell/page-title';
import { showsFeature } from '../shows/shows.feature';
import { teamFeature } from '../team/team.feature';
import { ListingsTable } from '../formats/listings-table';
import { ListingEditor } from './listing/listing-editor';
import { listingStates, listingTexts } from './listings.texts';
import { SharedSettings } from './settings/shared-settings';
import { ShowListings } from './show-listings';
import { WindowsLine } from './listing/windows-line';

const MINUTE_MS = 60_000;
/** After the slot so much is drawn at least. */
const LEAST_AFTER_MS = 75 * MINUTE_MS;

/** All listings of a show side by side: how each reads, when it can be booked, how ready it is; and one of them to edit. */
@Component({
  selector: 'jn-listings-page',
  imports: [
    Key,
    ListingEditor,
    ListingsTable,
    Notice,
    ReadinessList,
    RouterLink,
    SharedSettings,
    StateMark,
    Tile,
    WindowsLine,
  ],
  templateUrl: './listings.page.html',
  styleUrl: './listings.page.scss',
  providers: [ShowListings],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ListingsPage {
  private readonly store = inject(Store);
  private readonly format = inject(TimeFormat);
  private readonly title = inject(PageTitle);
  protected readonly clock = inject(PageClock);
  protected readonly state = inject(ShowListings);
  protected readonly texts = listingTexts;
  protected readonly ready = readinessTexts;

  readonly showId = input.required<string>();
  protected readonly status = this.store.selectSignal(showsFeature.selectStatus);
  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  protected readonly mayEdit = computed(
    () => this.may()('shows.edit') && this.state.show()?.archivedAtMs === null,
  );
  private readonly editor = viewChild(ListingEditor);
  private readonly injector = inject(Injector);
  private readonly chosenId = signal<string | null>(null);

  protected readonly rows = computed(() => this.state.rows().map((row) => this.shown(row)));
  protected readonly chosen = computed(
    () => this.rows().find(({ id }) => id === this.chosenId()) ?? this.rows()[0] ?? null,
  );
  protected readonly places = computed(() => this.state.rows().map(({ destination }) => destination));
  protected readonly bookable = computed(() =>
    this.state
      .rows()
      .filter(
        ({ destination, listing }) =>
          listing.state === 'open' ||
          (destination.rules.capabilities.booking.kind === 'by_api' &&
            ['draft', 'booked', 'lapsed'].includes(listing.state)),
      )
      .map(({ destination }) => destination.id),
  );
  /** Those of them that are not booked yet, and not waiting for their window. */
  protected readonly toBook = computed(() =>
    this.state
      .rows()
      .filter(
        ({ destination, listing }) =>
          this.bookable().includes(destination.id) &&
          (listing.state === 'draft' || listing.state === 'lapsed') &&
          listing.bookingDueMs === null,
      ),
  );
  /** On air there is nothing to book, and everything can still be written anew. */
  protected readonly onAir = computed(() =>
    this.state.rows().some(({ listing }) => listing.state === 'open'),
  );
  protected readonly done = computed(() => {
    const outcomes = this.state.outcomes();
    if (!outcomes) return null;
    const done = outcomes.filter((one) => one.done).length;
    const sentence =
      done === outcomes.length
        ? listingTexts.allDone(done)
        : outcomes.length === 1
          ? outcomes[0]!.sentence!
          : listingTexts.someFailed(done, outcomes.length);
    return { whole: done === outcomes.length, sentence };
  });
  protected readonly ends = computed(() => {
    const windows = this.rows().flatMap(({ window }) => window ?? []);
    const slots = windows.map(({ slotMs }) => slotMs);
    const fromMs = Math.min(this.clock.nowMs(), ...slots);
    const after = windows.map(({ slotMs, lapseMs }) => (lapseMs ?? slotMs) - slotMs);
    const planned = (this.state.show()?.text.plannedMinutes ?? 60) * MINUTE_MS;
    return { fromMs, afterMs: Math.max(LEAST_AFTER_MS, planned, ...after) * 1.1 };
  });

  constructor() {
    effect(() => {
      const showId = this.showId();
      untracked(() => this.state.open(showId));
    });
    effect(() => {
      const show = this.state.show();
      if (show) this.title.set(show.text.title);
    });
  }

  protected choose(id: string): void {
    this.chosenId.set(id);
  }

  protected fix(finding: PlaceFinding): void {
    if (finding.fix) void this.state.fix(finding.fix, finding.destinationId);
  }

  /** Leads to the field that a finding is about. */
  protected edit({ destinationId, field }: PlaceFinding): void {
    if (destinationId === null || field === null) return;
    this.choose(destinationId);
    // Once the editor shows the other listing.
    afterNextRender(() => this.editor()?.focus(field), { injector: this.injector });
  }

  private shown(row: ListingEntry) {
    const { destination, listing, presented } = row;
    const { capabilities } = destination.rules;
    const startsAtMs = this.state.show()?.startsAtMs ?? null;
    const slotMs = slotAt(listing.slot, startsAtMs);
    const rule = capabilities.title;
    const findings = this.state.findings().filter(({ destinationId }) => destinationId === destination.id);
    return {
      ...row,
      id: destination.id,
      slotMs,
      slot:
        slotMs === null
          ? listingTexts.noSlot
          : `${this.format.day(slotMs, this.clock.now())} ${this.format.time(slotMs)}`,
      window: slotMs === null ? null : slotWindow(slotMs, capabilities),
      count: rule ? `${countText(presented.title, rule.unit)}/${rule.max}` : '',
      over: overLength(presented.title, rule),
      bookable:
        capabilities.booking.kind === 'by_api' && ['draft', 'booked', 'lapsed'].includes(listing.state),
      word:
        capabilities.booking.kind === 'none' && listing.state === 'draft'
          ? listingTexts.opensWithFeed
          : listingStates[listing.state],
      blocks: findings.filter(({ level }) => level === 'block').length,
    };
  }
}
