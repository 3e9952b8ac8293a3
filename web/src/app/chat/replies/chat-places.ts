import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { readPlaceChats, writePlaceChat, type PlaceChat, type PlaceChatRules } from '@juncta/contract/chat';
import type { ErrorBody } from '@juncta/contract/errors';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { Tile } from '../../look/tile';
import { listingsFeature } from '../../listings/listings.feature';
import { chatPlaceTexts } from '../chat.texts';

const NOTHING: PlaceChatRules = { slowSeconds: null, followersOnly: null, accountDays: null };
/** What "slow everywhere" asks for, s. */
const SLOW_S = 30;

/** Who may write how often at each place: read from there, changed there, and read back. */
@Component({
  selector: 'jn-chat-places',
  imports: [Key, Notice, Tile],
  templateUrl: './chat-places.html',
  styleUrl: './chat-places.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChatPlaces {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  protected readonly texts = chatPlaceTexts;

  readonly showId = input.required<string>();
  readonly headingId = input.required<string>();
  readonly closed = output();

  private readonly places = signal<readonly PlaceChat[] | null>(null);
  protected readonly error = signal<ErrorBody | null>(null);
  /** The place that is being asked; several: all of them. */
  protected readonly busy = signal<readonly string[]>([]);
  protected readonly told = signal<string | null>(null);
  private readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);

  protected readonly rows = computed(() =>
    this.places()?.map((place) => ({
      place,
      rules: place.rules ?? NOTHING,
      destination: this.destinations().find(({ id }) => id === place.destinationId) ?? null,
    })),
  );
  protected readonly canSlow = computed(() =>
    (this.places() ?? []).some(({ rules }) => rules?.slowSeconds != null),
  );
  protected readonly isSlow = computed(() =>
    (this.places() ?? []).some(({ rules }) => (rules?.slowSeconds ?? 0) > 0),
  );

  constructor() {
    effect(() => {
      const showId = this.showId();
      untracked(() => this.read(showId));
    });
  }

  protected set(destinationId: string, values: Partial<PlaceChatRules>): void {
    this.told.set(null);
    this.busy.update((busy) => [...busy, destinationId]);
    const params = { showId: this.showId(), destinationId };
    this.api.call(writePlaceChat, { params, body: { rules: { ...NOTHING, ...values } } }).subscribe({
      next: ({ place }) => {
        this.error.set(null);
        this.places.update((places) =>
          (places ?? []).map((one) => (one.destinationId === destinationId ? place : one)),
        );
        this.done(destinationId);
        if (place.rules) this.told.set(chatPlaceTexts.set);
      },
      error: (error: ErrorBody) => {
        this.error.set(error);
        this.done(destinationId);
      },
    });
  }

  /** One step for a bad moment, and one back. */
  protected slowEverywhere(): void {
    const slowSeconds = this.isSlow() ? 0 : SLOW_S;
    for (const { destinationId, rules } of this.places() ?? [])
      if (rules?.slowSeconds != null) this.set(destinationId, { slowSeconds });
  }

  protected whole = (text: string, most: number): number =>
    Math.max(0, Math.min(most, Math.round(Number(text)) || 0));

  private done(destinationId: string): void {
    this.busy.update((busy) => busy.filter((id) => id !== destinationId));
  }

  private read(showId: string): void {
    this.api.call(readPlaceChats, { params: { showId } }).subscribe({
      next: ({ places }) => this.places.set(places),
      error: (error: ErrorBody) => this.error.set(error),
    });
  }
}
