import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import { mergeThreeWay, phaseAt, same, showFindings, type NotCarried } from '@juncta/core/shows';
import type { ErrorBody } from '@juncta/contract/errors';
import { makeNextShow, SHOW_FIELDS, type Show, type ShowText } from '@juncta/contract/shows';
import { writeShowFile } from '@juncta/contract/formats';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { PictureField } from '../../listings/listing/picture-field';
import { ShowDestinations } from '../../destinations/show-destinations';
import { fileName, saveFile } from '../../formats/save-file';
import { Key } from '../../look/keys/key';
import { ChatFigures } from '../../chat/list/chat-figures';
import { ChatFiles } from '../../chat/list/chat-files';
import { ShowFigures } from '../../feeds/show-figures';
import { isGrave } from '../../readiness/grave';
import { RecordingsList } from '../../recordings/recordings-list';
import { ProgrammeActions } from '../../programme/programme.actions';
import { programmeFeature } from '../../programme/programme.feature';
import { ShowListings } from '../../listings/show-listings';
import { Notice } from '../../look/notice';
import { ReadinessList } from '../../readiness/readiness-list';
import { GuestLinks } from '../../people/guest-links';
import { PageTitle } from '../../shell/page-title';
import { TeamActions } from '../../team/team.actions';
import { teamFeature } from '../../team/team.feature';
import { ConflictDialog } from './conflict-dialog';
import { Drafts } from './drafts';
import { FindingsList } from './findings-list';
import { PhaseSteps } from './phase-steps';
import { plannedOf } from '../planned';
import { ShowForm } from './show-form';
import { ShowsActions } from '../shows.actions';
import { showsFeature } from '../shows.feature';
import { boardTexts, fieldNames, notCarriedTexts, showTexts } from '../shows.texts';

/** What the writing began from: a saved version, or nothing yet. */
interface Base {
  readonly version: number | null;
  readonly text: ShowText;
}

/** The plan of one show: writing it, saving it, joining it with what others saved meanwhile. */
@Component({
  selector: 'jn-show-page',
  imports: [
    ChatFigures,
    ChatFiles,
    ShowFigures,
    FindingsList,
    GuestLinks,
    Key,
    Notice,
    PhaseSteps,
    ReadinessList,
    RecordingsList,
    RouterLink,
    PictureField,
    ShowDestinations,
    ShowForm,
  ],
  templateUrl: './show.page.html',
  styleUrl: './show.page.scss',
  providers: [ShowListings],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(document:keydown)': 'onKey($event)' },
})
export class ShowPage {
  private readonly store = inject(Store);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly drafts = inject(Drafts);
  private readonly modal = inject(NgbModal);
  private readonly title = inject(PageTitle);
  private readonly format = inject(TimeFormat);
  protected readonly clock = inject(PageClock);
  protected readonly texts = showTexts;
  protected readonly board = boardTexts;

  /** From the address; undefined for a new show. */
  readonly showId = input<string>();
  private readonly newId = crypto.randomUUID();
  protected readonly id = computed(() => this.showId() ?? this.newId);

  private readonly entities = this.store.selectSignal(showsFeature.selectEntities);
  private readonly planned = this.store.selectSignal(showsFeature.selectPlanned);
  protected readonly status = this.store.selectSignal(showsFeature.selectStatus);
  protected readonly listError = this.store.selectSignal(showsFeature.selectError);
  protected readonly series = this.store.selectSignal(showsFeature.selectSeries);
  protected readonly members = this.store.selectSignal(teamFeature.selectMembers);
  protected readonly may = this.store.selectSignal(teamFeature.selectMay);
  private readonly me = this.store.selectSignal(teamFeature.selectMember);
  private readonly lastSave = this.store.selectSignal(showsFeature.selectSaving);
  private readonly form = viewChild(ShowForm);

  protected readonly show = computed((): Show | null => this.entities()[this.id()] ?? null);
  protected readonly isNew = computed(() => this.showId() === undefined);
  protected readonly base = signal<Base | null>(null);
  /** What stands in the form. */
  protected readonly text = signal<ShowText | null>(null);
  protected readonly keptAtMs = signal<number | null>(null);
  /** Said after a save that took over what others had changed. */
  protected readonly joined = signal<string | null>(null);
  protected readonly readOnly = computed(
    () => !this.may()('shows.edit') || this.show()?.archivedAtMs != null,
  );
  protected readonly dirty = computed(() => {
    const [base, text] = [this.base(), this.text()];
    return !!base && !!text && !same(base.text, text);
  });
  protected readonly saving = computed(() => (this.lastSave()?.id === this.id() ? this.lastSave() : null));
  protected readonly fieldErrors = computed(() => this.saving()?.error?.fields ?? []);
  private readonly recordings = inject(Store).selectSignal(programmeFeature.selectRecordings);
  /** There is something to watch, or about to be. */
  protected readonly hasRun = computed(() => this.recordings().length > 0);
  protected readonly phase = computed(() => {
    const show = this.show();
    return show ? phaseAt(show, this.clock.nowMs()) : null;
  });
  protected readonly listings = inject(ShowListings);
  protected readonly grave = computed(() => this.listings.findings().filter(isGrave));
  protected readonly places = computed(() => this.listings.rows().map(({ destination }) => destination));
  protected readonly findings = computed(() => {
    const show = this.show();
    return show ? showFindings(plannedOf(show), this.planned(), this.clock.nowMs()) : [];
  });
  /** What others saved while something is being written here, in words; null when nothing. */
  protected readonly othersSaved = computed(() => {
    const [base, show] = [this.base(), this.show()];
    if (!base || !show || base.version === null || show.version <= base.version || !this.dirty()) return null;
    const changed = namesOf(changesBetween(base.text, show.text));
    return changed === '' ? null : showTexts.othersSaved(show.editedBy ?? boardTexts.somebody, changed);
  });

  constructor() {
    effect(() => {
      const showId = this.showId();
      if (showId === undefined) return;
      untracked(() => {
        this.listings.open(showId);
        // For its recordings.
        this.store.dispatch(ProgrammeActions.opened({ showId }));
      });
    });
    const { router } = this;
    const day = inject(ActivatedRoute).snapshot.queryParamMap.get('day');
    // A new show gets its own address, and with it a new page, which still says that it was saved.
    const arrived = router.currentNavigation()?.extras.replaceUrl === true;
    if (!arrived) this.store.dispatch(ShowsActions.saveForgotten());
    this.store.dispatch(TeamActions.membersWanted());

    effect(() => {
      const [show, known, me] = [this.show(), this.status() === 'known', this.me()];
      if (!known || !me) return;
      untracked(() => this.takeIn(show, day));
    });
    effect(() => {
      const saving = this.saving();
      if (saving) untracked(() => this.onSaving(saving.status));
    });
    effect(() => this.title.set(this.show()?.text.title ?? (this.isNew() ? showTexts.newTitle : undefined)));
  }

  protected onKey(event: KeyboardEvent): void {
    if ((event.ctrlKey || event.metaKey) && event.key === 's') {
      event.preventDefault();
      if (!this.readOnly()) this.save();
    }
  }

  protected write(text: ShowText): void {
    this.text.set(text);
    this.joined.set(null);
    const base = this.base()!;
    if (same(base.text, text)) this.drafts.drop(this.id());
    else {
      this.drafts.keep(this.id(), {
        version: base.version,
        base: base.text,
        text,
        keptAtMs: this.clock.now(),
      });
    }
  }

  protected save(): void {
    const [base, text] = [this.base(), this.text()];
    if (!base || !text || (!this.dirty() && base.version !== null) || this.saving()?.status === 'saving')
      return;
    if (this.form()?.check() === false) return;
    this.joined.set(null);
    this.store.dispatch(ShowsActions.save({ id: this.id(), version: base.version, text }));
  }

  /** Back to what is saved. */
  protected undo(): void {
    const show = this.show();
    this.drafts.drop(this.id());
    this.keptAtMs.set(null);
    this.store.dispatch(ShowsActions.saveForgotten());
    this.rebase(
      show ? { version: show.version, text: show.text } : { version: null, text: this.base()!.text },
    );
  }

  /** Makes the next show from this one, and goes there. */
  protected makeNext(): void {
    this.nextError.set(null);
    this.api.call(makeNextShow, { params: { showId: this.id() }, body: { id: this.nextId } }).subscribe({
      next: ({ show, notCarried }) => {
        this.nextId = crypto.randomUUID();
        this.store.dispatch(ShowsActions.showSaved({ show }));
        void this.router.navigate(['/shows', show.id], { state: { notCarried } satisfies MadeState });
      },
      error: (error: ErrorBody) => this.nextError.set(error),
    });
  }
  /** Made once for each time, so that one asked for twice is made once. */
  private nextId = crypto.randomUUID();
  protected readonly nextError = signal<ErrorBody | null>(null);
  /** What could not be carried, where this show was just made from another; null: it was not. */
  protected readonly notCarried = notCarriedOf(this.router.currentNavigation()?.extras.state);

  /** A file that this house and others can read; see `ShowFile` in the contract. */
  protected saveAsFile(): void {
    this.api.call(writeShowFile, { params: { showId: this.id() } }).subscribe({
      next: (file) =>
        saveFile(`${fileName(file.title)}.json`, 'application/json', JSON.stringify(file, null, 2)),
      error: (error: ErrorBody) => this.nextError.set(error),
    });
  }

  protected archive(archived: boolean): void {
    this.store.dispatch(ShowsActions.archive({ id: this.id(), archived }));
  }

  protected makeSeries(series: { readonly id: string; readonly name: string }): void {
    this.store.dispatch(ShowsActions.createSeries({ series }));
  }

  protected keptWhen(atMs: number): string {
    return this.format.distance(atMs, this.clock.now());
  }

  /** The first sight of a show, or a newer version of it. */
  private takeIn(show: Show | null, day: string | null): void {
    const base = this.base();
    if (!base) {
      const fresh: Base | null = show
        ? { version: show.version, text: show.text }
        : this.isNew()
          ? { version: null, text: this.emptyText(day) }
          : null;
      if (!fresh) return;
      const draft = this.isNew() ? null : this.drafts.find(this.id());
      if (draft && !this.readOnly()) {
        this.base.set({ version: draft.version, text: draft.base });
        this.text.set(draft.text);
        this.keptAtMs.set(draft.keptAtMs);
      } else this.rebase(fresh);
    } else if (show && show.version > (base.version ?? 0) && !this.dirty()) {
      this.rebase({ version: show.version, text: show.text });
    }
  }

  private onSaving(status: 'saving' | 'done' | 'refused'): void {
    const show = this.show();
    if (status === 'done' && show) {
      this.drafts.drop(this.id());
      this.keptAtMs.set(null);
      this.rebase({ version: show.version, text: show.text });
    }
    const error = this.saving()?.error;
    if (status === 'refused' && error?.code === 'changed_meanwhile' && error.current) {
      void this.join(error.current as Show);
    }
  }

  /** Somebody saved first: joins both, asking only about what both have changed differently. */
  private async join(theirs: Show): Promise<void> {
    const [base, mine] = [this.base()!, this.text()!];
    this.store.dispatch(ShowsActions.showSaved({ show: theirs }));
    const { merged, conflicts, theirChanges } = mergeThreeWay(base.text, mine, theirs.text);
    const who = theirs.editedBy ?? boardTexts.somebody;
    let text: ShowText | null = merged;
    if (conflicts.length > 0) text = await this.decide(conflicts, mine, theirs, merged, who);
    if (!text) return;
    this.base.set({ version: theirs.version, text: theirs.text });
    this.text.set(text);
    this.store.dispatch(ShowsActions.save({ id: this.id(), version: theirs.version, text }));
    this.joined.set(showTexts.joined(who, namesOf(theirChanges)));
  }

  private async decide(
    fields: readonly (keyof ShowText)[],
    mine: ShowText,
    theirs: Show,
    merged: ShowText,
    who: string,
  ): Promise<ShowText | null> {
    // Without its fading: while one is still leaving, a save could not ask again.
    const dialog = this.modal.open(ConflictDialog, {
      animation: false,
      ariaLabelledBy: 'conflict-title',
      backdrop: 'static',
    });
    const conflict = dialog.componentInstance as ConflictDialog;
    conflict.conflict.set({ fields, mine, theirs: theirs.text, who });
    try {
      const mineChosen = (await dialog.result) as readonly (keyof ShowText)[];
      const chosen = Object.fromEntries(mineChosen.map((field) => [field, mine[field]]));
      return { ...merged, ...chosen };
    } catch {
      // Back to writing: nothing is lost, and the next save asks again.
      this.store.dispatch(ShowsActions.saveForgotten());
      return null;
    }
  }

  private rebase(base: Base): void {
    this.base.set(base);
    this.text.set(base.text);
  }

  private emptyText(day: string | null): ShowText {
    const me = this.me()!;
    const zone = this.format.ownZone;
    const dated = day !== null && /^\d{4}-\d\d-\d\d$/.test(day);
    return {
      title: '',
      description: '',
      seriesId: null,
      start: dated ? { local: `${day}T19:00`, zone, fold: 'earlier' } : null,
      plannedMinutes: 60,
      people: [{ id: crypto.randomUUID(), memberId: me.id, name: me.name, part: me.role, about: '' }],
    };
  }
}

function changesBetween(base: ShowText, now: ShowText): (keyof ShowText)[] {
  return SHOW_FIELDS.filter((field) => !same(base[field], now[field]));
}

function namesOf(fields: readonly (keyof ShowText)[]): string {
  return SHOW_FIELDS.filter((field) => fields.includes(field))
    .map((field) => fieldNames[field])
    .join(', ');
}

/** What the page that made this show hands on to it. */
interface MadeState {
  readonly notCarried: readonly NotCarried[];
}

function notCarriedOf(state: Readonly<Record<string, unknown>> | undefined): string | null {
  const made = (state as MadeState | undefined)?.notCarried;
  return made ? made.map((one) => notCarriedTexts[one]).join(' ') || ' ' : null;
}
