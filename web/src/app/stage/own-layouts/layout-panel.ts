import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
  type OnDestroy,
} from '@angular/core';
import { ALL_SHOWS, type Show, type ShowScope } from '@juncta/contract/shows';
import { dropLayout, keepLayout } from '@juncta/contract/stage';
import { LEAST_PLACE, nameOf, OWN_LAYOUT_NAME_MAX, type OwnPlace, type SlotKind } from '@juncta/core/stage';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { ArmedKey } from '../../look/keys/armed-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { showsFeature } from '../../shows/shows.feature';
import { OpenPanel } from '../open-panel';
import { wordsOf } from '../panels/source-words';
import { Arranging } from './arranging';
import { OwnLayouts } from './own-layouts';
import { ownLayoutTexts } from './own-layouts.texts';

const FIGURES = ['x', 'y', 'width', 'height'] as const;
type Figure = (typeof FIGURES)[number];
const KINDS: readonly SlotKind[] = ['person', 'screen'];

/** Makes a layout on what comes next, and keeps it for all shows or those of the series. */
@Component({
  selector: 'jn-layout-panel',
  imports: [ArmedKey, Key, Notice],
  templateUrl: './layout-panel.html',
  styleUrls: ['../panels/beside-panel.scss', './layout-panel.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'dialog', 'aria-labelledby': 'layout-title', '(keydown.escape)': 'close()' },
})
export class LayoutPanel implements OnDestroy {
  private readonly api = inject(Api);
  private readonly panel = inject(OpenPanel);
  protected readonly arranging = inject(Arranging);
  private readonly layouts = inject(OwnLayouts);
  protected readonly texts = ownLayoutTexts;
  protected readonly allShows = ALL_SHOWS;
  protected readonly figures = FIGURES;
  protected readonly kinds = KINDS;
  protected readonly nameMax = OWN_LAYOUT_NAME_MAX;

  readonly show = input.required<Show>();

  private readonly before = document.activeElement as HTMLElement | null;
  protected readonly seriesId = computed(() => this.show().text.seriesId);
  private readonly series = inject(Store).selectSignal(showsFeature.selectSeries);
  protected readonly seriesName = computed(
    () => this.series().find(({ id }) => id === this.seriesId())?.name ?? null,
  );
  protected readonly kept = computed(() => this.layouts.of(this.seriesId()));
  protected readonly layout = this.arranging.layout;
  private readonly names = computed(() => new Map(this.show().text.people.map(({ id, name }) => [id, name])));
  protected readonly places = computed(() => {
    const takers = this.arranging.takers();
    return (this.layout()?.places ?? []).map((_, at) => {
      const source = takers[at] ?? null;
      const who = source && (this.names().get(nameOf(source).owner) ?? wordsOf(source, this.names()));
      return ownLayoutTexts.placeOf(at + 1, who);
    });
  });
  protected readonly chosen = computed(() => this.layout()?.places[this.arranging.chosen()] ?? null);

  /** As it is written here; of a layout that is kept already, its own. */
  protected readonly name = linkedSignal(() => this.layout()?.name ?? '');
  protected readonly scope = signal<ShowScope>(ALL_SHOWS);
  protected readonly problem = signal<string | null>(null);
  protected readonly keptName = signal<string | null>(null);
  protected readonly request = new RequestState();
  constructor() {
    void this.layouts.follow();
    const element = inject<ElementRef<HTMLElement>>(ElementRef);
    afterNextRender(() => {
      const { nativeElement } = element;
      (nativeElement.querySelector<HTMLElement>('select') ?? nativeElement.querySelector('button'))?.focus();
    });
    this.begin();
    effect(() => {
      if (this.layout() && !this.arranging.isCurrent()) untracked(() => this.close());
    });
  }

  ngOnDestroy(): void {
    this.arranging.end();
    if (this.panel.content()?.of === 'layout') this.panel.content.set(null);
  }

  protected begin(): void {
    this.arranging.begin();
  }

  protected percent(share: number): string {
    return (Math.round(share * 1000) / 10).toString();
  }

  /** Within the picture: what is too much for it is as much as it has. */
  protected setFigure(of: Figure, written: string): void {
    const place = this.chosen();
    const share = Number(written) / 100;
    if (!place || written === '' || !Number.isFinite(share)) return;
    this.arranging.set(this.arranging.chosen(), fitted({ ...place, [of]: share }, of));
  }

  protected setKind(kind: SlotKind): void {
    this.arranging.set(this.arranging.chosen(), { kind });
  }

  protected keep(): void {
    const name = this.name().trim();
    this.keptName.set(null);
    this.problem.set(name === '' ? this.texts.noName : null);
    if (name === '' || !this.layout()) return;
    // Of the same name: that one is changed. Of another: a new one, and the one it was made from stays.
    const scope = this.scope();
    const same = this.kept().find((one) => one.scope === scope && one.layout.name === name);
    const { id, places } = this.arranging.call(name, same?.layout.id ?? crypto.randomUUID());
    const body = { scope, name, places: [...places] };
    this.request.run(this.api.call(keepLayout, { params: { layoutId: id }, body }), () =>
      this.keptName.set(name),
    );
  }

  protected drop(layoutId: string): void {
    this.keptName.set(null);
    this.request.run(this.api.call(dropLayout, { params: { layoutId } }));
  }

  protected close(): void {
    this.panel.content.set(null);
    this.before?.focus();
  }
}

/** What was written wins, and the other figure gives way. */
function fitted(place: OwnPlace, of: Figure): OwnPlace {
  const span = (from: number, length: number, isLength: boolean): [number, number] => {
    const long = Math.max(LEAST_PLACE, Math.min(1, length));
    const at = Math.max(0, Math.min(isLength ? 1 - long : 1 - LEAST_PLACE, from));
    return [at, Math.min(long, 1 - at)];
  };
  const [x, width] = span(place.x, place.width, of === 'width');
  const [y, height] = span(place.y, place.height, of === 'height');
  return { ...place, x, y, width, height };
}
