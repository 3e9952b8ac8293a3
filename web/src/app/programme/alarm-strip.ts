import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  type OnDestroy,
} from '@angular/core';
import { Title } from '@angular/platform-browser';
import { alarmsOf, isUnderWay, type Alarm } from '@juncta/core/feeds';
import { formatShowTime } from '@juncta/core/programme';
import { Store } from '@ngrx/store';
import { PageClock } from '../clock/page-clock';
import { Tile } from '../look/tile';
import { listingsFeature } from '../listings/listings.feature';
import { programmeFeature } from './programme.feature';
import { alarmTexts } from './programme.texts';

/** Before the page's title while something needs a person: the tab may be behind others. */
const MARK = '! ';

/** What needs a person now, above everything else on the desk; nothing at all while nothing does. */
@Component({
  selector: 'jn-alarm-strip',
  imports: [Tile],
  template: `
    @if (rows().length > 0) {
      <section role="alert" [attr.aria-label]="texts.title">
        <h2 class="label">{{ texts.title }}</h2>
        <ul class="plain">
          @for (row of rows(); track row.name) {
            <li>
              @if (row.destination; as destination) {
                <jn-tile
                  [code]="destination.code"
                  [pattern]="destination.pattern"
                  [name]="destination.name"
                />
              }
              <span>{{ row.sentence }}</span>
            </li>
          }
        </ul>
      </section>
    }
  `,
  styles: `
    section {
      display: flex;
      gap: var(--space-2) var(--space-4);
      align-items: center;
      padding: var(--space-2) var(--space-3);
      border-top: 3px solid var(--saffron);
      background: var(--raised);
    }
    h2 {
      margin: 0;
      color: var(--saffron-text);
    }
    ul {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-1) var(--space-4);
      max-height: 4.6rem;
      overflow-y: auto;
    }
    li {
      display: flex;
      gap: var(--space-2);
      align-items: center;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AlarmStrip implements OnDestroy {
  private readonly store = inject(Store);
  private readonly clock = inject(PageClock);
  private readonly title = inject(Title);
  protected readonly texts = alarmTexts;

  /** Since when nothing is heard in what this desk composes, by `Date.now()`; null: something is, or it composes nothing. */
  readonly silentSinceMs = input<number | null>(null);

  private readonly programme = this.store.selectSignal(programmeFeature.selectProgramme);
  private readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);
  private readonly listings = this.store.selectSignal(listingsFeature.selectListings);
  private readonly slate = computed(() => this.programme()?.state === 'slate');
  private readonly slateSinceMs = linkedSignal<boolean, number | null>({
    source: this.slate,
    computation: (slate, before) => (slate ? (before?.value ?? Date.now()) : null),
  });

  /** By this desk, which hears what is composed at once, or by the relay, which hears what goes out, whoever composes. */
  private readonly nothingHeardSinceMs = computed<number | null>(() => {
    const programme = this.programme();
    // Covered, it is meant to be silent.
    if (programme?.state !== 'source') return null;
    const { silentMs } = programme;
    const both = [this.silentSinceMs(), silentMs === null ? null : Date.now() - silentMs];
    const known = both.filter((ms) => ms !== null);
    return known.length > 0 ? Math.min(...known) : null;
  });

  private readonly alarms = computed<readonly Alarm[]>(() => {
    const programme = this.programme();
    if (!programme || programme.isDrilled) return [];
    // Slots go by the house's clock, which a rehearsal moves; feeds by the world's.
    const [houseMs, nowMs] = [this.clock.nowMs(), Date.now()];
    const feeds = this.destinations().map(({ id, kind, rules }) => {
      const slotMs = this.listings().find(({ destinationId }) => destinationId === id)?.bookedSlotMs ?? null;
      const feed = programme.feeds.find(({ destinationId }) => destinationId === id);
      return {
        destinationId: id,
        state: feed?.state ?? ('off' as const),
        sinceMs: feed?.sinceMs ?? nowMs,
        onAirMs: feed?.onAirMs ?? null,
        bookedSlotMs: slotMs === null ? null : slotMs - houseMs + nowMs,
        rules: rules.capabilities,
        looked: kind !== 'custom_rtmp',
      };
    });
    const on = programme.runId !== null && programme.feeds.some(({ state }) => isUnderWay(state));
    return alarmsOf(
      { on, slateSinceMs: this.slateSinceMs(), silentSinceMs: this.nothingHeardSinceMs(), feeds },
      nowMs,
    );
  });
  protected readonly rows = computed(() =>
    this.alarms().map(({ kind, destinationId, dueMs }) => {
      const destination = this.destinations().find(({ id }) => id === destinationId) ?? null;
      const name = destination?.name ?? '';
      const left = dueMs === null ? null : formatShowTime(Math.max(0, dueMs - Date.now()));
      const byHand = destination?.rules.capabilities.goingPublic === 'by_hand';
      const words = kind === 'held' && byHand ? alarmTexts.heldByHand : alarmTexts.kinds[kind];
      const sentence = left === null ? words(name) : `${words(name)} ${alarmTexts.left(left)}`;
      return { name: `${kind} ${destinationId ?? ''}`, destination, sentence };
    }),
  );

  constructor() {
    effect(() => this.mark(this.rows().length > 0));
  }

  ngOnDestroy(): void {
    this.mark(false);
  }

  private mark(on: boolean): void {
    const plain = this.title.getTitle().replace(MARK, '');
    this.title.setTitle(on ? MARK + plain : plain);
  }
}
