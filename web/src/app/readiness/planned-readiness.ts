import { computed, DestroyRef, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { listAccounts, type Destination, type PlaceAccount } from '@juncta/contract/destinations';
import { readHouseDefaults, type HouseDefaults } from '@juncta/contract/listings';
import { readPlannedListings, type PlannedListings } from '@juncta/contract/readiness';
import type { Show } from '@juncta/contract/shows';
import { corrected, type Correctable } from '@juncta/core/destinations';
import { newlyFound, readiness, type PlaceFinding } from '@juncta/core/readiness';
import { Actions, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import {
  catchError,
  debounceTime,
  EMPTY,
  forkJoin,
  map,
  merge,
  startWith,
  Subject,
  switchMap,
  timer,
} from 'rxjs';
import { Api } from '../api/api';
import { EventFeed } from '../api/event-feed';
import { ShowsActions } from '../shows/shows.actions';
import { showsFeature } from '../shows/shows.feature';
import { EncodingMachineHere } from '../renditions/encoding-machine';
import { broadcastOf, rowsOf } from './broadcast-of';

interface Known extends PlannedListings {
  readonly defaults: HouseDefaults;
  readonly accounts: readonly PlaceAccount[];
}

/** One figure of a place's rules, as it would be. */
export interface RuleChange {
  readonly kind: Destination['kind'];
  readonly rule: Correctable;
  readonly figure: number;
}

/** A show ahead that a change would hold up, and by what. */
export interface TouchedShow {
  readonly show: Show;
  readonly findings: readonly PlaceFinding[];
}

/** Read anew at the latest after this long: other desks change listings too. */
const EVERY_MS = 60_000;
/** What changes several shows at once is read once. */
const GATHER_MS = 300;

/**
 * How ready every show ahead is at its destinations, for pages that show many of them. By the same rules, from the same
 * listings, as the plan of each. One for each such page.
 */
@Injectable()
export class PlannedReadiness {
  private readonly store = inject(Store);
  private readonly shows = this.store.selectSignal(showsFeature.selectAll);
  private readonly series = this.store.selectSignal(showsFeature.selectSeries);
  private readonly here = inject(EncodingMachineHere);
  private readonly known = signal<Known | null>(null);

  readonly destinations = computed(() => this.known()?.destinations ?? []);
  private readonly byShow = computed(
    () => new Map((this.known()?.shows ?? []).map((one) => [one.showId, one] as const)),
  );

  constructor() {
    this.here.ask();
    const api = inject(Api);
    const feed = inject(EventFeed);
    const actions = inject(Actions);
    const told = new Subject<void>();
    const changed = merge(actions.pipe(ofType(ShowsActions.showSaved, ShowsActions.saveDone)), told).pipe(
      debounceTime(GATHER_MS),
    );
    const tell = () => told.next();
    inject(DestroyRef).onDestroy(() => feed.unfollow('readiness'));
    merge(changed, timer(EVERY_MS, EVERY_MS))
      .pipe(
        startWith(null),
        switchMap(() =>
          forkJoin({
            planned: api.call(readPlannedListings),
            defaults: api.call(readHouseDefaults),
            accounts: api.call(listAccounts).pipe(map(({ accounts }) => accounts)),
          }).pipe(catchError(() => EMPTY)),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(({ planned, defaults, accounts }) => {
        this.known.set({ ...planned, defaults, accounts });
        // What of listings and places changes, of whatever show.
        feed.follow('readiness', 'destinations', planned.seq, tell, tell);
      });
  }

  /** Null: that is not known yet. */
  of(show: Show, nowMs: number): readonly PlaceFinding[] | null {
    return this.find(show, nowMs, this.destinations());
  }

  /** The shows ahead that a corrected rule would hold up, and which it does not hold up as it is. Null: not known yet. */
  touchedBy({ kind, rule, figure }: RuleChange, nowMs: number): readonly TouchedShow[] | null {
    if (!this.known()) return null;
    const destinations = this.destinations().map((one) =>
      one.kind === kind
        ? { ...one, rules: { ...one.rules, capabilities: corrected(one.rules.capabilities, rule, figure) } }
        : one,
    );
    return this.shows().flatMap((show) => {
      const [before, after] = [this.of(show, nowMs), this.find(show, nowMs, destinations)];
      const findings = before && after ? newlyFound(before, after) : [];
      return findings.length > 0 ? { show, findings } : [];
    });
  }

  private find(
    show: Show,
    nowMs: number,
    destinations: readonly Destination[],
  ): readonly PlaceFinding[] | null {
    const [known, planned] = [this.known(), this.byShow().get(show.id)];
    if (show.endedAtMs !== null || show.archivedAtMs !== null) return [];
    if (!known || !planned) return null;
    const parts = {
      show,
      others: this.shows(),
      series: this.series().find(({ id }) => id === show.text.seriesId) ?? null,
      destinations: planned.listings.flatMap(
        ({ destinationId }) => destinations.find(({ id }) => id === destinationId) ?? [],
      ),
      listings: planned.listings,
      accounts: known.accounts,
      defaults: known.defaults,
      clashes: planned.clashes,
      machine: this.here.machine(),
    };
    return readiness(broadcastOf(parts, rowsOf(parts)), nowMs);
  }
}
