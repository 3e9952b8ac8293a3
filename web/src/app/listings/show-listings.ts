import { computed, inject, Injectable, signal } from '@angular/core';
import { listAccounts, type PlaceAccount } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import type { BodyInput } from '@juncta/contract/http';
import {
  bookListings,
  cancelBookings,
  readClashes,
  readBackListings,
  readHouseDefaults,
  saveListing,
  type Clash,
  type HouseDefaults,
  type ListingOutcome,
} from '@juncta/contract/listings';
import { saveSharedSettings, saveShow } from '@juncta/contract/shows';
import {
  shorten,
  type InheritedSettings,
  type SettingValue,
  type SettingValues,
} from '@juncta/core/listings';
import { readiness, type Fix, type PlaceFinding } from '@juncta/core/readiness';
import { Store } from '@ngrx/store';
import { firstValueFrom, type Observable } from 'rxjs';
import { Api } from '../api/api';
import { PageClock } from '../clock/page-clock';
import { broadcastOf, inheritedOf, rowsOf, type ListingEntry } from '../readiness/broadcast-of';
import { EncodingMachineHere } from '../renditions/encoding-machine';
import { ListingsActions } from './listings.actions';
import { listingsFeature } from './listings.feature';
import { showsFeature } from '../shows/shows.feature';

type Change = BodyInput<typeof saveListing>;

/** What was last changed with one press, and how to take that back. */
export interface Undo {
  readonly act: () => Promise<unknown>;
}

/** The listings of one show, how ready they are, and what can be done with them. One for each page that shows them. */
@Injectable()
export class ShowListings {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly clock = inject(PageClock);
  private readonly here = inject(EncodingMachineHere);
  private readonly entities = this.store.selectSignal(showsFeature.selectEntities);
  private readonly planned = this.store.selectSignal(showsFeature.selectAll);
  private readonly series = this.store.selectSignal(showsFeature.selectSeries);
  private readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);
  private readonly listings = this.store.selectSignal(listingsFeature.selectListings);
  private readonly clashes = signal<readonly Clash[]>([]);
  private readonly accounts = signal<readonly PlaceAccount[]>([]);
  readonly defaults = signal<HouseDefaults | null>(null);

  readonly showId = signal<string | null>(null);
  readonly error = signal<ErrorBody | null>(null);
  /** Destinations at which something is under way. */
  readonly working = signal<readonly string[]>([]);
  readonly outcomes = signal<readonly ListingOutcome[] | null>(null);
  readonly undo = signal<Undo | null>(null);

  readonly show = computed(() => this.entities()[this.showId() ?? ''] ?? null);
  private readonly parts = computed(() => {
    const [show, defaults] = [this.show(), this.defaults()];
    if (!show || !defaults) return null;
    const series = this.series().find(({ id }) => id === show.text.seriesId) ?? null;
    return {
      show,
      others: this.planned(),
      series,
      destinations: this.destinations(),
      listings: this.listings(),
      accounts: this.accounts(),
      defaults,
      clashes: this.clashes(),
      machine: this.here.machine(),
    };
  });
  readonly rows = computed((): readonly ListingEntry[] => {
    const parts = this.parts();
    return parts ? rowsOf(parts) : [];
  });
  readonly broadcast = computed(() => {
    const parts = this.parts();
    return parts && broadcastOf(parts, this.rows());
  });
  readonly deskMs = computed(() => {
    const broadcast = this.broadcast();
    const startsAtMs = broadcast?.startsAtMs ?? null;
    return startsAtMs === null ? null : startsAtMs - broadcast!.atDeskMinutes * 60_000;
  });
  /** Minutes are enough: it is computed anew as often, and whenever something changes. */
  private readonly minute = computed(() => Math.floor(this.clock.nowMs() / 60_000) * 60_000);
  readonly findings = computed((): readonly PlaceFinding[] => {
    const broadcast = this.broadcast();
    return broadcast ? readiness(broadcast, this.minute()) : [];
  });

  open(showId: string): void {
    this.showId.set(showId);
    this.here.ask();
    this.store.dispatch(ListingsActions.opened({ showId }));
    void this.try(async () => {
      const [defaults, { accounts }, { clashes }] = await Promise.all([
        this.ask(this.api.call(readHouseDefaults)),
        this.ask(this.api.call(listAccounts)),
        this.ask(this.api.call(readClashes, { params: { showId } })),
      ]);
      this.defaults.set(defaults);
      this.accounts.set(accounts);
      this.clashes.set(clashes);
    });
  }

  inherited(): InheritedSettings {
    const [show, defaults] = [this.show(), this.defaults()];
    return show && defaults ? inheritedOf(show, defaults) : [];
  }

  /** One after the other: two that travel at once may arrive the wrong way round. */
  private saved: Promise<void> = Promise.resolve();

  save(destinationId: string, body: Change): Promise<void> {
    const showId = this.showId()!;
    const save = () =>
      this.try(async () => {
        const params = { showId, destinationId };
        const listing = await this.ask(this.api.call(saveListing, { params, body }));
        this.store.dispatch(ListingsActions.changed({ showId, listing }));
      });
    this.saved = this.saved.then(save);
    return this.saved;
  }

  /** Of all listings that have none of their own. */
  async share(settings: SettingValues): Promise<void> {
    await this.try(async () => {
      const params = { showId: this.showId()! };
      // The change comes back as an event, to this page as to every other.
      await this.ask(this.api.call(saveSharedSettings, { params, body: { settings } }));
    });
  }

  book(destinationIds: string[] | null, immediate = false): Promise<void> {
    return this.atPlaces(destinationIds, (params) =>
      this.api.call(bookListings, { params, body: { destinationIds, immediate } }),
    );
  }
  cancel(destinationId: string): Promise<void> {
    const destinationIds = [destinationId];
    return this.atPlaces(destinationIds, (params) =>
      this.api.call(cancelBookings, { params, body: { destinationIds } }),
    );
  }
  look(destinationId: string): Promise<void> {
    const destinationIds = [destinationId];
    return this.atPlaces(destinationIds, (params) =>
      this.api.call(readBackListings, { params, body: { destinationIds } }),
    );
  }

  /** Does what a finding offers; what changes the plan can be undone. */
  async fix(fix: Fix, destinationId: string | null): Promise<void> {
    const row = this.rows().find(({ destination }) => destination.id === destinationId);
    switch (fix.kind) {
      case 'move_12_hours':
        return this.moveStart(12);
      case 'shorten':
        return row && this.shorten(row, fix.field);
      case 'set':
        return row && this.set(row, fix.setting, fix.value);
      case 'book':
      case 'push':
        return this.book(destinationId ? [destinationId] : null);
      case 'book_anew':
        return this.book(destinationId ? [destinationId] : null, true);
    }
  }

  async shorten({ destination, listing, presented }: ListingEntry, field: 'title' | 'description') {
    const rule = destination.rules.capabilities[field];
    const text = listing[field] ?? this.show()!.text[field];
    const shorter = rule && shorten(text, rule, presented.values);
    if (shorter === null) return;
    const before = listing[field];
    await this.save(destination.id, { [field]: shorter });
    this.undo.set({ act: () => this.save(destination.id, { [field]: before }) });
  }

  private async set({ destination, listing }: ListingEntry, setting: string, value: SettingValue) {
    const before = listing.settings[setting as keyof typeof listing.settings] ?? null;
    await this.save(destination.id, { settings: { [setting]: value } });
    this.undo.set({
      act: () => this.save(destination.id, { settings: { [setting]: before } }),
    });
  }

  private async moveStart(hours: number): Promise<void> {
    const show = this.show();
    const start = show?.text.start;
    if (!show || !start) return;
    const moved = new Date(Date.parse(`${start.local}:00Z`) + hours * 3_600_000).toISOString().slice(0, 16);
    // The same day is meant, at the other half of it.
    const local = `${start.local.slice(0, 10)}${moved.slice(10)}`;
    await this.try(async () => {
      const body = { version: show.version, text: { ...show.text, start: { ...start, local } } };
      await this.ask(this.api.call(saveShow, { params: { showId: show.id }, body }));
      this.undo.set({ act: () => this.moveStart(hours) });
    });
  }

  private async atPlaces(
    ids: readonly string[] | null,
    act: (params: { showId: string }) => Observable<{ outcomes: ListingOutcome[] }>,
  ): Promise<void> {
    this.working.set(ids ?? this.rows().map(({ destination }) => destination.id));
    this.outcomes.set(null);
    // What was changed just before goes along.
    await this.saved;
    await this.try(async () => {
      const { outcomes } = await this.ask(act({ showId: this.showId()! }));
      this.outcomes.set(outcomes);
    });
    this.working.set([]);
  }

  private ask<T>(asked: Observable<T>): Promise<T> {
    return firstValueFrom(asked);
  }

  private async try(act: () => Promise<void>): Promise<void> {
    this.undo.set(null);
    try {
      await act();
      this.error.set(null);
    } catch (error) {
      this.error.set(error as ErrorBody);
    }
  }
}
