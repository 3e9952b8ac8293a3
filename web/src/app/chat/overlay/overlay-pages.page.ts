import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  linkedSignal,
  signal,
  viewChild,
  type ElementRef,
} from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, RouterLink } from '@angular/router';
import {
  dropOverlayPage,
  readOverlayPages,
  readOverlayState,
  renewOverlayPage,
  sampleOverlayPage,
  setOverlayPage,
  type OverlayPage,
} from '@juncta/contract/chat';
import { listDestinations } from '@juncta/contract/destinations';
import { ALL_SHOWS, type ShowScope } from '@juncta/contract/shows';
import type { OverlayBox } from '@juncta/core/stage';
import { Store } from '@ngrx/store';
import { catchError, EMPTY, map, of, switchMap, timer } from 'rxjs';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { Dressings } from '../../dressing/dressings';
import { ArmedKey } from '../../look/keys/armed-key';
import { CopyKey } from '../../look/keys/copy-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { ScopeChoice } from '../../shows/series/scope-choice';
import { showsFeature } from '../../shows/shows.feature';
import { loadFaces } from '../../stage/dressed/paper';
import { BoxFields } from '../../stage/graphics/box-fields';
import { drawOverlay } from './draw-overlay';
import { overlayTexts } from './overlay.texts';

/** What its owner is told follows this often. */
const LOOK_EVERY_MS = 2000;

/** Where overlay pages are set up, and where their owner is told what viewers are not. */
@Component({
  selector: 'jn-overlay-pages-page',
  imports: [ArmedKey, BoxFields, CopyKey, Key, Notice, RouterLink, ScopeChoice],
  templateUrl: './overlay-pages.page.html',
  styleUrl: './overlay-pages.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OverlayPagesPage {
  private readonly api = inject(Api);
  private readonly dressings = inject(Dressings);
  private readonly store = inject(Store);
  private readonly destroyed = inject(DestroyRef);
  protected readonly texts = overlayTexts;
  protected readonly destinations = toSignal(
    this.api.call(listDestinations).pipe(
      map(({ destinations }) => destinations),
      // Nobody can be left out, then; all else works.
      catchError(() => EMPTY),
    ),
    { initialValue: [] },
  );

  protected readonly scope = signal<ShowScope>(
    inject(ActivatedRoute).snapshot.queryParamMap.get('of') ?? ALL_SHOWS,
  );
  /** Null: not known yet. */
  private readonly pages = signal<readonly OverlayPage[] | null>(null);
  protected readonly isKnown = computed(() => this.pages() !== null);
  protected readonly page = computed(() => this.pages()?.find(({ scope }) => scope === this.scope()) ?? null);
  protected readonly address = computed(() => {
    const page = this.page();
    return page && `${location.origin}/overlay#${page.token}`;
  });
  protected readonly request = new RequestState();
  /** Of the page that is looked at. */
  protected readonly sampled = linkedSignal({ source: this.scope, computation: () => false });

  private readonly scopeThere = computed(() => this.page()?.scope ?? null);
  protected readonly state = toSignal(
    toObservable(this.scopeThere).pipe(
      switchMap((scope) =>
        scope === null
          ? of(null)
          : timer(0, LOOK_EVERY_MS).pipe(
              switchMap(() =>
                this.api.call(readOverlayState, { params: { scope } }).pipe(catchError(() => EMPTY)),
              ),
            ),
      ),
    ),
    { initialValue: null },
  );

  private readonly shows = this.store.selectSignal(showsFeature.selectEntities);
  /** As whose the page is dressed now: that of the show it follows. */
  private readonly seriesId = computed(() => {
    const show = this.shows()[this.state()?.show?.id ?? ''];
    if (show) return show.text.seriesId;
    return this.scope() === ALL_SHOWS ? null : this.scope();
  });
  private readonly preview = viewChild<ElementRef<HTMLCanvasElement>>('preview');

  constructor() {
    void this.dressings.follow();
    this.request.run(this.api.call(readOverlayPages).pipe(takeUntilDestroyed(this.destroyed)), ({ pages }) =>
      this.pages.set(pages),
    );
    effect(() => {
      const [canvas, page] = [this.preview()?.nativeElement, this.page()];
      const dressing = this.dressings.of(this.seriesId());
      if (!canvas || !page) return;
      const [first, second] = this.texts.samples;
      void loadFaces(dressing).then(() =>
        drawOverlay(canvas, {
          dressing,
          box: page.box,
          lines: [first!, second!].slice(0, page.box.most),
          card: page.box.card ? first! : null,
        }),
      );
    });
  }

  /** Also makes it. */
  protected set(box: Partial<OverlayBox>): void {
    const params = { scope: this.scope() };
    this.request.run(this.api.call(setOverlayPage, { params, body: { box } }), (page) => this.put(page));
  }

  protected renew(): void {
    this.request.run(this.api.call(renewOverlayPage, { params: { scope: this.scope() } }), (page) =>
      this.put(page),
    );
  }

  protected drop(): void {
    const scope = this.scope();
    this.request.run(this.api.call(dropOverlayPage, { params: { scope } }), () =>
      this.pages.update((pages) => (pages ?? []).filter((one) => one.scope !== scope)),
    );
  }

  protected sample(): void {
    this.sampled.set(false);
    const params = { scope: this.scope() };
    this.request.run(this.api.call(sampleOverlayPage, { params }), () => this.sampled.set(true));
  }

  private put(page: OverlayPage): void {
    this.pages.update((pages) => [...(pages ?? []).filter(({ scope }) => scope !== page.scope), page]);
  }
}
