import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  viewChild,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import type { ShowPerson } from '@juncta/contract/shows';
import { Store } from '@ngrx/store';
import { OutsideKeys } from '../../ingest/outside-keys';
import { OutsidePicture } from '../../ingest/outside-picture';
import { ArmedKey } from '../../look/keys/armed-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { programmeFeature } from '../../programme/programme.feature';
import { teamFeature } from '../../team/team.feature';
import { ComposingDesk } from '../composing-desk';
import { Arranging } from '../own-layouts/arranging';
import { PlaceBoxes } from '../own-layouts/place-boxes';
import { SourceNames } from '../source-names';
import { StageLink } from '../stage-link';
import { WhoComposes } from '../who-composes';
import { missingSentences, programmeWords, stageTexts } from '../stage.texts';
import { LayoutKeys } from './layout-keys';
import { SceneSketch } from './scene-sketch';
import { TakeKeys } from './take-keys';

/** The programme on the desk: its picture, how it is composed, and the panic key. */
@Component({
  selector: 'jn-programme-panel',
  imports: [
    ArmedKey,
    Key,
    LayoutKeys,
    Notice,
    OutsideKeys,
    OutsidePicture,
    PlaceBoxes,
    RouterLink,
    SceneSketch,
    TakeKeys,
  ],
  templateUrl: './programme-panel.html',
  styleUrl: './programme-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(document:visibilitychange)': 'seen()' },
})
export class ProgrammePanel {
  private readonly store = inject(Store);
  private readonly sourceNames = inject(SourceNames);
  protected readonly desk = inject(ComposingDesk);
  protected readonly texts = stageTexts;
  protected readonly stage = inject(StageLink);

  readonly covered = input.required<boolean>();
  protected readonly arranging = inject(Arranging);
  readonly people = input.required<readonly ShowPerson[]>();
  /** Whose layouts there are keys for; null: the show belongs to none. */
  readonly seriesId = input.required<string | null>();
  private readonly layoutKeys = viewChild<LayoutKeys, ElementRef<HTMLElement>>('layoutKeys', {
    read: ElementRef,
  });
  /** By a key of this panel, which had the focus. */
  private begun = false;
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly armedCanvas = viewChild<ElementRef<HTMLCanvasElement>>('armed');
  private readonly programme = this.store.selectSignal(programmeFeature.selectProgramme);

  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  protected readonly mayRun = computed(() => this.may()('show.run'));
  protected readonly other = inject(WhoComposes).elsewhere;
  /** An outside picture is the programme, or comes on at its next keyframe. */
  protected readonly isFromOutside = computed(() => (this.programme()?.inputId ?? null) !== null);
  protected readonly showId = this.store.selectSignal(programmeFeature.selectShowId);
  protected readonly hasInputs = computed(() => (this.programme()?.inputs.length ?? 0) > 0);
  /** Where the pictures are made; null: nowhere. */
  protected readonly picture = computed(() => {
    if (this.desk.status() === 'composing') return 'here';
    return this.other() === null ? null : 'elsewhere';
  });
  protected readonly armed = computed(() => (this.picture() ? this.stage.stage().armed : null));
  protected readonly names = computed(() => this.sourceNames.of(this.people()));
  protected readonly missing = computed(() =>
    (this.desk.missing() ?? []).filter((one) => one !== 'devices').map((one) => missingSentences[one]),
  );
  /** What viewers get, in words; empty while nothing comes to the relay. */
  protected readonly airing = computed(() => programmeWords[this.programme()?.state ?? 'waiting']);
  protected readonly figures = computed(() => {
    const [figures, uplink] = [this.desk.figures(), this.desk.uplink()];
    if (!figures) return null;
    return {
      frames: Math.round(figures.pace.framesPerS),
      kbps: uplink?.kbps ?? 0,
      connected: uplink?.connected ?? false,
      missed: uplink?.missed ?? 0,
      kept: uplink?.kept ?? true,
      loweredKbps: uplink && uplink.videoKbps < uplink.ceilingKbps ? uplink.videoKbps : null,
      drawn: figures.drawn,
      // 0 dBFS is full; below -48 nothing is heard.
      levelPercent: Math.round(
        Math.max(0, Math.min(1, 1 + Math.log10(Math.max(figures.peak, 1e-6)) / 2.4)) * 100,
      ),
    };
  });

  constructor() {
    effect(() => {
      const canvas = this.canvas()?.nativeElement;
      if (!canvas) return;
      this.desk.showOn('programme', canvas);
      // The key that began it is gone: the keyboard goes on with the layouts.
      if (this.begun) this.layoutKeys()?.nativeElement.querySelector('button')?.focus();
      this.begun = false;
    });
    effect(() => {
      const canvas = this.armedCanvas()?.nativeElement;
      if (canvas) this.desk.showOn('armed', canvas);
    });
  }

  protected begin(takeOver: boolean): void {
    this.begun = true;
    void this.desk.begin(takeOver);
  }

  protected seen(): void {
    this.desk.previewShown(document.visibilityState === 'visible');
  }
}
