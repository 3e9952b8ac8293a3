import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { FeedReport } from '@juncta/contract/relay';
import { forecastDisk, isUnderWay } from '@juncta/core/relay';
import { formatShowTime } from '@juncta/core/stage';
import { Store } from '@ngrx/store';
import { ArmedKey } from '../look/armed-key';
import { feedStateNames } from '../look/look.texts';
import { Notice } from '../look/notice';
import { StateMark } from '../look/state-mark';
import { Tile } from '../look/tile';
import { teamFeature } from '../team/team.feature';
import { RecordingsList } from './recordings-list';
import { RelayActions } from './relay.actions';
import { relayFeature } from './relay.feature';
import { feedReasons, feedSentences, relayTexts } from './relay.texts';

const MINUTE = 60_000;
/** Picture and sound together, before the relay has measured anything. */
const USUAL_KBPS = 4160;

/** The board of feeds on the desk: a row for each destination, what it does and how it is started and ended. */
@Component({
  selector: 'jn-feeds-panel',
  imports: [ArmedKey, Notice, RecordingsList, StateMark, Tile],
  templateUrl: './feeds-panel.html',
  styleUrl: './feeds-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FeedsPanel {
  private readonly store = inject(Store);
  protected readonly texts = relayTexts;

  readonly showId = input.required<string>();
  readonly plannedMinutes = input.required<number>();
  readonly none = input.required<string>();

  protected readonly status = this.store.selectSignal(relayFeature.selectStatus);
  protected readonly programme = this.store.selectSignal(relayFeature.selectProgramme);
  protected readonly busy = this.store.selectSignal(relayFeature.selectBusy);
  protected readonly error = this.store.selectSignal(relayFeature.selectError);
  private readonly listings = this.store.selectSignal(relayFeature.selectListings);
  private readonly destinations = this.store.selectSignal(relayFeature.selectDestinations);

  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  protected readonly mayRun = computed(() => this.may()('show.run'));
  protected readonly hasPicture = computed(() => (this.programme()?.state ?? 'waiting') !== 'waiting');
  protected readonly rows = computed(() =>
    this.destinations().map((destination, place) => {
      const listing = this.listings().find(({ destinationId }) => destinationId === destination.id);
      const feed = this.programme()?.feeds.find(({ destinationId }) => destinationId === destination.id);
      const state = feed?.state ?? 'off';
      return {
        destination,
        state,
        shortcut: place < 9 ? `Shift+${place + 1}` : null,
        pageUrl: listing?.pageUrl ?? destination.pageUrl,
        viewers: isUnderWay(state) ? (listing?.viewers ?? null) : null,
        behindS: this.listings().find((one) => one.destinationId === destination.id)?.delayS ?? null,
        held: state === 'held' && destination.rules.capabilities.goingPublic === 'by_api',
        ending: listing?.state === 'ending',
        mark: `feed.${state}` as const,
        word: feedStateNames[state],
        sentence: sentenceOf(feed),
        underWay: isUnderWay(state),
        onAir: feed?.onAirMs == null ? null : formatShowTime(feed.onAirMs),
        kbps: feed?.bitrateKbps ?? null,
        leftOut: feed?.leftOutPictures ?? 0,
      };
    }),
  );
  /** None has been started: one press starts all. */
  protected readonly canStartAll = computed(
    () => this.rows().length > 1 && this.rows().every(({ underWay }) => !underWay),
  );
  protected readonly showTime = computed(() => {
    const ms = this.programme()?.showTimeMs;
    return ms == null ? null : formatShowTime(ms);
  });
  /** What is to be said of the disk; null before it is known. */
  protected readonly disk = computed(() => {
    const programme = this.programme();
    if (!programme) return null;
    const { freeBytes, recording } = programme.disk;
    if (!recording) return { kind: 'wrong' as const, text: relayTexts.diskFull };
    if (freeBytes === null) return null;
    const gone = (programme.showTimeMs ?? 0) / MINUTE;
    const toCome = Math.max(0, this.plannedMinutes() - gone);
    const { level, minutesLeft } = forecastDisk(freeBytes, USUAL_KBPS, toCome);
    if (!programme.disk.recording || level === 'none')
      return { kind: 'wrong' as const, text: relayTexts.diskFull };
    const time = formatShowTime(minutesLeft * MINUTE).replace(/:00$/, ' h');
    return level === 'short'
      ? { kind: 'look' as const, text: relayTexts.diskShort(time) }
      : { kind: 'know' as const, text: relayTexts.diskLeft(time) };
  });

  protected start(destinationId: string): void {
    this.store.dispatch(RelayActions.startFeed({ showId: this.showId(), destinationId }));
  }

  protected startAll(): void {
    for (const { destination, underWay } of this.rows()) if (!underWay) this.start(destination.id);
  }

  protected publish(destinationId: string): void {
    this.store.dispatch(RelayActions.publishFeed({ showId: this.showId(), destinationId }));
  }

  protected end(destinationId: string): void {
    this.store.dispatch(RelayActions.stopFeed({ showId: this.showId(), destinationId }));
  }

  protected endShow(): void {
    this.store.dispatch(RelayActions.endShow({ showId: this.showId() }));
  }
}

function sentenceOf(feed: FeedReport | undefined): string {
  if (!feed) return feedSentences.off;
  const own = feed.reason ? feedReasons[feed.reason] : feedSentences[feed.state];
  const attempt = feed.attempt > 1 && isUnderWay(feed.state) ? ` (${relayTexts.attempt(feed.attempt)})` : '';
  return `${own}${attempt}${feed.placeSays ? ` ${relayTexts.placeSays(feed.placeSays)}` : ''}`;
}
