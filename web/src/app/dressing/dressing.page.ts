import type { ElementRef } from '@angular/core';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  linkedSignal,
  signal,
  viewChild,
} from '@angular/core';
import {
  DRESSING_FILES_PATH,
  DRESSING_FONTS_PATH,
  DRESSING_IMAGES_PATH,
  OVERLAY_IMAGES_PATH,
  dropDressing,
  saveDressing,
  type SavedDressing,
} from '@juncta/contract/dressing';
import { ALL_SHOWS, type ShowScope } from '@juncta/contract/shows';
import {
  BACKDROPS,
  BORDERS,
  BUG_MAX,
  BUG_SIZES,
  contrastsOf,
  FACES,
  MANNERS,
  OVERLAY_NAME_MAX,
  OWN_FACE_NAME_MAX,
  PALETTE,
  ROUNDINGS,
  SLATE_MAX,
  SPACES,
  withTrimmedSlates,
  type Bug,
  type Dressing,
  type DressingImage,
  type Face,
  type Frames,
  type Overlay,
  type OverlayImage,
  type OwnFace,
  type Palette,
} from '@juncta/core/dressing';
import { CORNERS, SLATES, type Slate } from '@juncta/core/stage';
import { figuresOf, USUAL_FORMAT } from '@juncta/core/programme';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { PICTURE_MAX_BYTES } from '@juncta/contract/http';
import { ArmedKey } from '../look/keys/armed-key';
import { FileKey } from '../look/keys/file-key';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { ScopeChoice } from '../shows/series/scope-choice';
import { showsFeature } from '../shows/shows.feature';
import { loadDressed } from '../stage/dressed/images';
import { teamFeature } from '../team/team.feature';
import { dressingTexts } from './dressing.texts';
import { Dressings } from './dressings';
import { OverlayFields, type OverlayFile } from './overlay-fields';
import { drawPreview } from './preview';

const NO_BUG: Bug = { text: '', logo: null, corner: 'top_right', size: 'usual' };

/** Whatever has the shape of a programme fills it; other things begin small, in a corner. */
function newOverlay(fileName: string, image: OverlayImage): Overlay {
  const isWhole = Math.abs(image.width / image.height - 16 / 9) < 0.02;
  return {
    id: crypto.randomUUID(),
    name: fileName.replace(/\.\w+$/, '').slice(0, OVERLAY_NAME_MAX) || dressingTexts.overlays,
    image,
    place: isWhole ? 'whole' : 'bottom_right',
    width: SMALL,
    opacity: 1,
    repeats: true,
  };
}
/** Of the picture's width. */
const SMALL = 0.16;

/** How programmes look: of all shows, or of the shows of one series. What is changed is seen here, and saved when it pleases. */
@Component({
  selector: 'jn-dressing-page',
  imports: [ArmedKey, FileKey, Key, Notice, OverlayFields, RouterLink, ScopeChoice],
  templateUrl: './dressing.page.html',
  styleUrl: './dressing.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DressingPage {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly dressings = inject(Dressings);
  protected readonly texts = dressingTexts;
  protected readonly colours = PALETTE;
  protected readonly words = ['heading', 'text'] as const;
  protected readonly manners = MANNERS;
  protected readonly backdrops = BACKDROPS;
  protected readonly spaces = SPACES;
  protected readonly roundings = ROUNDINGS;
  protected readonly borders = BORDERS;
  protected readonly corners = CORNERS;
  protected readonly fileOf = computed(() => `${DRESSING_FILES_PATH}/${this.scope()}`);
  protected readonly pictures = 'image/png,image/jpeg,image/webp,image/svg+xml';
  protected readonly bugMax = BUG_MAX;
  protected readonly bugSizes = BUG_SIZES;
  protected readonly slateMax = SLATE_MAX;
  protected readonly slates = SLATES;
  /** Which of them is in the preview: the one that was looked at last. */
  protected readonly slateSeen = signal<Slate>('break');
  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  protected readonly mayChange = computed(() => this.may()('shows.edit'));
  private readonly series = this.store.selectSignal(showsFeature.selectSeries);

  protected readonly scope = signal<ShowScope>(ALL_SHOWS);
  protected readonly seriesName = computed(
    () => this.series().find(({ id }) => id === this.scope())?.name ?? null,
  );
  protected readonly isOwn = computed(() => this.dressings.all()?.bySeries[this.scope()] !== undefined);
  /** What is saved of this scope: its own, or the team's; null: not known yet. */
  private readonly saved = computed(() => {
    const all = this.dressings.all();
    return all && (all.bySeries[this.scope()] ?? all.team);
  });
  /** As it is on this page, from the state it had when it was changed first; another's saving does not take it away. */
  protected readonly draft = linkedSignal<ShowScope, { version: string; dressing: Dressing } | null>({
    source: this.scope,
    computation: () => null,
  });
  protected readonly dressing = computed(() => this.draft()?.dressing ?? this.saved()?.dressing ?? null);
  protected readonly contrasts = computed(() => {
    const dressing = this.dressing();
    return dressing ? contrastsOf(dressing.palette) : [];
  });
  protected readonly request = new RequestState();
  protected readonly wasSaved = signal(false);

  private readonly people = viewChild<ElementRef<HTMLCanvasElement>>('people');
  private readonly message = viewChild<ElementRef<HTMLCanvasElement>>('message');
  private readonly slate = viewChild<ElementRef<HTMLCanvasElement>>('slate');
  private readonly graphics = viewChild<ElementRef<HTMLCanvasElement>>('graphics');

  constructor() {
    void this.dressings.follow();
    effect(() => {
      const dressing = this.dressing();
      const previews = [
        ['people', this.people()],
        ['message', this.message()],
        ['slate', this.slate()],
        ['graphics', this.graphics()],
      ] as const;
      const slate = this.slateSeen();
      if (!dressing) return;
      void loadDressed(dressing).then(() => {
        if (this.dressing() !== dressing) return;
        const look = { dressing, size: figuresOf(USUAL_FORMAT) };
        for (const [of, canvas] of previews) if (canvas) drawPreview(canvas.nativeElement, of, slate, look);
      });
    });
  }

  protected change(values: Partial<Dressing>): void {
    const [dressing, saved] = [this.dressing(), this.saved()];
    if (!dressing || !saved) return;
    this.wasSaved.set(false);
    this.draft.set({ version: this.draft()?.version ?? saved.version, dressing: { ...dressing, ...values } });
  }

  protected paint(colour: keyof Palette, value: string): void {
    this.change({ palette: { ...this.dressing()!.palette, [colour]: value } });
  }

  /** Those that ship, and the own one that is in use. */
  protected facesFor(of: keyof Dressing['faces']): readonly (Face | OwnFace)[] {
    const now = this.dressing()!.faces[of];
    return typeof now === 'string' ? FACES : [...FACES, now];
  }

  protected nameOf = (face: Face | OwnFace): string => (typeof face === 'string' ? face : face.name);

  protected setFace(of: keyof Dressing['faces'], face: Face | OwnFace): void {
    this.change({ faces: { ...this.dressing()!.faces, [of]: face } });
  }

  protected sendFace(of: keyof Dressing['faces'], file: File): void {
    const name = file.name.replace(/\.\w+$/, '').slice(0, OWN_FACE_NAME_MAX);
    const path = `${DRESSING_FONTS_PATH}?name=${encodeURIComponent(name)}`;
    this.request.run(this.api.upload(path, file), (face) => this.setFace(of, face as OwnFace));
  }

  protected setFrames(values: Partial<Frames>): void {
    this.change({ frames: { ...this.dressing()!.frames, ...values } });
  }

  protected setBug(values: Partial<Bug>): void {
    const bug: Bug = { ...NO_BUG, ...this.dressing()!.bug, ...values };
    this.change({ bug: bug.text.trim() === '' && bug.logo === null ? null : bug });
  }

  private readonly isOverlaySent = signal(false);
  /** An overlay is being made ready. */
  protected readonly overlayBusy = computed(() => this.isOverlaySent() && this.request.busy());

  protected setSlate(slate: Slate, words: string): void {
    this.slateSeen.set(slate);
    this.change({ slates: { ...this.dressing()!.slates, [slate]: words } });
  }

  /** A new one is seen over the whole picture first, or stands in a corner when it was made for one. */
  protected sendOverlay({ file, id }: OverlayFile): void {
    this.isOverlaySent.set(true);
    this.send(
      file,
      (sent) => {
        const image = sent as OverlayImage;
        const { overlays } = this.dressing()!;
        const added = id === null ? [newOverlay(file.name, image)] : [];
        this.change({
          overlays: [...overlays.map((one) => (one.id === id ? { ...one, image } : one)), ...added],
        });
      },
      OVERLAY_IMAGES_PATH,
    );
  }

  /** It is kept by the server before the dressing that has it is saved. */
  protected send(file: File, use: (image: DressingImage) => void, path: string = DRESSING_IMAGES_PATH): void {
    if (file.size > PICTURE_MAX_BYTES) {
      this.request.fail({ code: 'too_long', sentence: this.texts.tooHeavy });
      return;
    }
    this.request.run(this.api.upload(path, file), (image) => use(image as DressingImage));
  }

  protected setLogo(file: File): void {
    this.send(file, (logo) => this.setBug({ logo }));
  }

  protected setBackdropImage(file: File): void {
    this.send(file, (backdropImage) => this.change({ backdrop: 'picture', backdropImage }));
  }

  /** What is in it is seen first, and saved when it pleases. */
  protected takeFile(file: File): void {
    this.request.run(this.api.upload(DRESSING_FILES_PATH, file), (dressing) =>
      this.change(dressing as Dressing),
    );
  }

  protected undo(): void {
    this.draft.set(null);
    this.request.clear();
  }

  protected save(): void {
    this.isOverlaySent.set(false);
    const draft = this.draft();
    if (!draft) return;
    const scope = this.scope();
    const dressing = withTrimmedSlates(draft.dressing);
    this.request.run(
      this.api.call(saveDressing, { params: { scope }, body: { version: draft.version, dressing } }),
      (saved) => {
        const all = this.dressings.all()!;
        this.dressings.put(
          scope === ALL_SHOWS
            ? { ...all, team: saved }
            : { ...all, bySeries: { ...all.bySeries, [scope]: saved } },
        );
        if (this.scope() === scope) this.draft.set(null);
        this.wasSaved.set(true);
      },
      // The sentence says so; who saves once more has chosen their own.
      ({ code, current }) => {
        if (code !== 'changed_meanwhile') return;
        this.draft.set({ version: (current as SavedDressing).version, dressing });
      },
    );
  }

  protected drop(): void {
    this.request.run(this.api.call(dropDressing, { params: { scope: this.scope() } }), (all) => {
      this.dressings.put(all);
      this.draft.set(null);
    });
  }
}
