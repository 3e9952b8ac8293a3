import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import {
  addDestination,
  readHouseRules,
  removeDestination,
  type Destination,
} from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import { TILE_PATTERNS, type TilePattern } from '@juncta/core/destinations';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { AccountsPanel } from './accounts/accounts-panel';
import { Key } from '../look/keys/key';
import { StateMark } from '../look/state-mark';
import { LinePanel } from './lines/line-panel';
import { Notice } from '../look/notice';
import { TextField } from '../look/text-field';
import { Tile } from '../look/tile';
import { teamFeature } from '../team/team.feature';
import { DestinationsActions } from './destinations.actions';
import { destinationsFeature } from './destinations.feature';
import { destinationTexts, patternNames } from './destinations.texts';

/** The places outside that carry our shows; for producers, adding and removing. */
@Component({
  selector: 'jn-destinations-page',
  imports: [
    AccountsPanel,
    Key,
    LinePanel,
    Notice,
    ReactiveFormsModule,
    RouterLink,
    StateMark,
    TextField,
    Tile,
  ],
  templateUrl: './destinations.page.html',
  styleUrl: './destinations.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DestinationsPage {
  private readonly api = inject(Api);
  /** From the address, when a place sent its owner back. */
  readonly account = input<string>();
  readonly connecting = input<string>();
  protected readonly texts = destinationTexts;
  protected readonly patterns = TILE_PATTERNS;
  protected readonly patternNames = patternNames;
  private readonly store = inject(Store);
  protected readonly may = this.store.selectSignal(teamFeature.selectMay);

  private readonly all = this.store.selectSignal(destinationsFeature.selectAll);
  private readonly isKnown = this.store.selectSignal(destinationsFeature.selectIsKnown);
  private readonly unread = this.store.selectSignal(destinationsFeature.selectError);
  /** Null: not known yet. */
  protected readonly destinations = computed(() => (this.isKnown() ? this.all() : null));
  private readonly refused = signal<ErrorBody | null>(null);
  protected readonly error = computed(() => this.refused() ?? this.unread());
  protected readonly added = signal<string | null>(null);
  /** The form for adding by address and key is open. */
  protected readonly adding = signal(false);
  /** Refusals that contradict our rules, and that nobody has looked at. */
  protected readonly alarms = signal(0);
  private readonly picked = signal<string | null>(null);
  protected readonly chosen = computed(() => this.destinations()?.find(({ id }) => id === this.picked()));
  protected readonly pattern = signal<TilePattern>('plain');
  protected readonly form = {
    name: new FormControl('', { nonNullable: true }),
    code: new FormControl('', { nonNullable: true }),
    address: new FormControl('', { nonNullable: true }),
    key: new FormControl('', { nonNullable: true }),
    pageUrl: new FormControl('', { nonNullable: true }),
  };
  protected readonly wrongFields = computed(() => (this.error()?.fields?.length ?? 0) > 0);
  /** Made once for each addition, so that one asked for twice is made once. */
  private id = crypto.randomUUID();

  constructor() {
    this.read();
    this.api.call(readHouseRules).subscribe({
      next: ({ alarms }) => this.alarms.set(alarms.length),
      // The page of rules says what is wrong with them.
      error: () => undefined,
    });
  }

  protected pick(id: string): void {
    this.picked.update((before) => (before === id ? null : id));
  }

  protected replace(destination: Destination): void {
    this.store.dispatch(DestinationsActions.changed({ destination }));
  }

  protected problem(field: string): string | null {
    return this.error()?.fields?.find((one) => one.field === field)?.sentence ?? null;
  }

  protected add(): void {
    const { name, code, address, key, pageUrl } = this.form;
    const body = {
      id: this.id,
      name: name.value,
      code: code.value,
      pattern: this.pattern(),
      address: address.value,
      key: key.value,
      pageUrl: pageUrl.value,
    };
    this.added.set(null);
    this.api.call(addDestination, { body }).subscribe({
      next: (destination) => {
        this.id = crypto.randomUUID();
        for (const control of Object.values(this.form)) control.reset();
        this.refused.set(null);
        this.added.set(destination.name);
        this.adding.set(false);
        this.picked.set(destination.id);
        this.store.dispatch(DestinationsActions.changed({ destination }));
      },
      error: (error: ErrorBody) => this.refused.set(error),
    });
  }

  protected remove(destinationId: string): void {
    this.api.call(removeDestination, { params: { destinationId } }).subscribe({
      next: () => {
        this.refused.set(null);
        this.read();
      },
      error: (error: ErrorBody) => this.refused.set(error),
    });
  }

  protected read(): void {
    this.store.dispatch(DestinationsActions.wanted());
  }
}
