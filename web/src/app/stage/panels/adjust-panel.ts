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
import type { ShowPerson } from '@juncta/contract/shows';
import {
  adjustmentOf,
  AS_IT_COMES,
  LEAST_TONE,
  MOST_LEVEL,
  MOST_TONE,
  MOST_ZOOM,
  freeSource,
  nameOf,
  outsideSource,
  slotKindOf,
  type Adjustment,
  type SourceId,
} from '@juncta/core/stage';
import { ASKABLE, stillAsked, type Asked } from '@juncta/core/people';
import { Key } from '../../look/keys/key';
import { RoomLink } from '../../people/room/room-link';
import { OpenPanel } from '../open-panel';
import { SourceNames } from '../source-names';
import { StageLink } from '../stage-link';
import { adjustTexts } from '../stage.texts';
import { DropKey } from './drop-key';
import { wordsOf } from './source-words';

type Figure = { [K in keyof Adjustment]: Adjustment[K] extends number ? K : never }[keyof Adjustment];
type Switch = Exclude<keyof Adjustment, Figure>;

interface Slider {
  readonly of: Figure;
  readonly least: number;
  readonly most: number;
}

const SLIDERS: readonly Slider[] = [
  { of: 'level', least: 0, most: MOST_LEVEL },
  { of: 'zoom', least: 1, most: MOST_ZOOM },
  { of: 'panX', least: -1, most: 1 },
  { of: 'panY', least: -1, most: 1 },
  { of: 'brightness', least: LEAST_TONE, most: MOST_TONE },
  { of: 'contrast', least: LEAST_TONE, most: MOST_TONE },
  { of: 'warmth', least: -1, most: 1 },
];
const SWITCHES: readonly Switch[] = ['isMuted', 'isHidden', 'mirror'];
/** A screen is shown whole and as it is: only what makes it hard to read is of use. */
const OF_SCREENS: readonly (keyof Adjustment)[] = ['level', 'brightness', 'contrast', 'isMuted', 'isHidden'];
/** While a slider is drawn, so often at the most is it given on. */
const GIVEN_EVERY_MS = 100;

/** How one source is shown and heard. Beside the picture, which shows at once what is done here. */
@Component({
  selector: 'jn-adjust-panel',
  imports: [DropKey, Key],
  templateUrl: './adjust-panel.html',
  styleUrl: './beside-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'dialog', 'aria-labelledby': 'adjust-title', '(keydown.escape)': 'close()' },
})
export class AdjustPanel implements OnDestroy {
  private readonly stage = inject(StageLink);
  private readonly panel = inject(OpenPanel);
  private readonly room = inject(RoomLink);
  private readonly sourceNames = inject(SourceNames);
  protected readonly texts = adjustTexts;

  readonly source = input.required<SourceId>();
  readonly people = input.required<readonly ShowPerson[]>();

  private readonly before = document.activeElement as HTMLElement | null;
  /** What was drawn and is not given on yet. Shown at once: a step that follows starts from it. */
  private readonly waiting = signal<Partial<Adjustment>>({});
  private timer: ReturnType<typeof setTimeout> | undefined;

  protected readonly name = computed(() => {
    const person = this.people().find(({ id }) => id === nameOf(this.source()).owner);
    const names = this.sourceNames.of(this.people());
    const { kind, number } = nameOf(this.source());
    return kind === 'camera' && number === 1 && person ? person.name : wordsOf(this.source(), names);
  });
  protected readonly now = computed<Adjustment>(() => ({
    ...adjustmentOf(this.stage.stage(), this.source()),
    ...this.waiting(),
  }));
  protected readonly sliders = computed(() => SLIDERS.filter(({ of }) => this.isOfUse(of)));
  /** What only the guest can do, as far as it is not done. */
  protected readonly asks = computed(() => {
    const { kind, owner, number } = nameOf(this.source());
    const guest = this.room.view()?.people.find(({ personId }) => personId === owner);
    if (!guest || kind !== 'camera' || number > 1) return [];
    return stillAsked(ASKABLE, guest.sources).map((what) => ({ what, isAsked: guest.asked.includes(what) }));
  });
  protected readonly switches = computed(() => SWITCHES.filter((one) => this.isOfUse(one)));

  /** Of an outside picture: its input, and whom it shows; null: nobody of the show. */
  protected readonly outside = computed(() => {
    const source = this.source();
    const outside = this.stage.stage().outside.find((one) => one.source === source);
    const { kind, owner } = nameOf(source);
    return outside ? { inputId: outside.inputId, shows: kind === 'outside' ? null : owner } : null;
  });

  constructor() {
    const element = inject<ElementRef<HTMLElement>>(ElementRef);
    afterNextRender(() => element.nativeElement.querySelector('input')?.focus());
  }

  ngOnDestroy(): void {
    clearTimeout(this.timer);
    this.give();
    const open = this.panel.content();
    if (open?.of === 'source' && open.source === this.source()) this.panel.content.set(null);
  }

  protected draw(of: Figure, value: string): void {
    this.waiting.update((waiting) => ({ ...waiting, [of]: Number(value) }));
    this.timer ??= setTimeout(() => this.give(), GIVEN_EVERY_MS);
  }

  protected ask(what: Asked): void {
    this.room.ask(nameOf(this.source()).owner, what);
  }

  protected turn(of: Switch): void {
    this.stage.do({ type: 'adjust', source: this.source(), values: { [of]: !this.now()[of] } });
  }

  /** @param personId whom the outside picture shows; empty: it is a picture of its own */
  protected standFor(inputId: string, personId: string): void {
    const taken = this.stage.stage().sources.map(({ source }) => source);
    const source = personId === '' ? outsideSource(inputId) : freeSource('camera', personId, taken);
    this.stage.do({ type: 'outside', inputId, source });
    // What is adjusted here is that source from now on.
    this.panel.content.set({ of: 'source', source });
  }

  protected reset(): void {
    this.waiting.set({});
    this.stage.do({ type: 'adjust', source: this.source(), values: AS_IT_COMES });
  }

  protected close(): void {
    this.panel.content.set(null);
    this.before?.focus();
  }

  private isOfUse(what: keyof Adjustment): boolean {
    return slotKindOf(this.source()) !== 'screen' || OF_SCREENS.includes(what);
  }

  private give(): void {
    this.timer = undefined;
    const values = this.waiting();
    this.waiting.set({});
    if (Object.keys(values).length > 0) this.stage.do({ type: 'adjust', source: this.source(), values });
  }
}
