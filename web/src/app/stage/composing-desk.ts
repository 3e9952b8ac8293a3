import { computed, DestroyRef, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { compose } from '@juncta/contract/programme';
import { adviseRate, type RateLimit } from '@juncta/core/uplink';
import { isBare, peopleIn, silentSince, type BoxLine, type SourceId } from '@juncta/core/stage';
import { Store } from '@ngrx/store';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import { showsFeature } from '../shows/shows.feature';
import type { UplinkFigures, UplinkMessage, UplinkReport } from '../uplink/messages';
import { measureUpload } from '../uplink/measure-upload';
import { TicketRenewal } from '../uplink/ticket-renewal';
import { ComposedHere } from './composed/composed-here';
import { AUDIO_KBPS, findEncoding } from './composer/encoders';
import { deskId } from './desk-id';
import { DeskSources } from './sources/desk-sources';
import type { ComposerMessage, ComposerReport, VideoEncoding } from './messages';
import { DrawnStage, type MessageOnProgramme, type NoticeOnProgramme } from './dressed/drawn-stage';
import { imagesIn, openedOf, ShowDrawing, type OpenedShow } from './dressed/show-drawing';
import { FRESH_DESK, recallDesk, rememberDesk, type DeskMemory } from './desk-memory';
import { StageLink } from './stage-link';
import { stageTexts } from './stage.texts';
import type { RelayLine } from './outside/messages';
import { findMissing, type Missing } from './support';

export type ComposingStatus =
  /** Nothing is composed here. */
  | 'idle'
  | 'beginning'
  | 'composing'
  /** Another desk does it: asked at the beginning. */
  | 'elsewhere'
  /** Another desk took over while this one composed. */
  | 'taken_over'
  | 'failed';

type Figures = Extract<ComposerReport, { type: 'figures' }>;

/**
 * The composing of one show in this tab: owns the workers and the devices, and follows the show's stage. It lives longer
 * than the desk's page, so that a look at the plan does not end the show. Nothing of it belongs into the store.
 */
@Injectable({ providedIn: 'root' })
export class ComposingDesk {
  private readonly api = inject(Api);
  private readonly here = inject(ComposedHere);
  private readonly stage = inject(StageLink);
  private readonly drawing = inject(ShowDrawing);
  private readonly drawn = new DrawnStage(this.drawing, {
    composes: () => this.composer !== null,
    tell: (message, transfer) => this.tell(message, transfer),
    stage: () => this.stage.stage(),
  });

  readonly status = signal<ComposingStatus>('idle');
  readonly showId = signal<string | null>(null);
  readonly deskId = signal<string | null>(null);
  readonly missing = signal<readonly Missing[] | null>(null);
  /** A sentence for whatever stands in the way; null when nothing does. */
  readonly problem = signal<string | null>(null);
  readonly figures = signal<Figures | null>(null);
  /** Since when somebody is on stage and nothing is heard, by `Date.now()`; null: something is. */
  readonly silentSinceMs = signal<number | null>(null);
  readonly uplink = signal<UplinkFigures | null>(null);
  /** As the relay says over the line of this desk, server or not; null: there is no such line. */
  readonly covered = signal<boolean | null>(null);
  private memory: DeskMemory = FRESH_DESK;
  /** Whoever is on programme, seen or heard, by their ids in the show. */
  readonly onProgramme = computed(() => peopleIn(this.stage.stage().programme));
  readonly picture = this.drawing.picture;
  /** What the places of the show take at most. */
  private readonly limits = signal<readonly RateLimit[]>([]);
  /** What this line carried to the relay when it was last checked, kbit/s; null: it was not. */
  readonly measuredKbps = signal<number | null>(null);
  /** What to send, so that it fits the line and every place. */
  readonly advice = computed(() =>
    adviseRate(this.picture(), AUDIO_KBPS, this.limits(), this.measuredKbps()),
  );
  readonly canCompose = computed(() => this.missing()?.every((one) => one === 'devices') ?? false);

  readonly sources = new DeskSources({
    composer: () => this.composer,
    people: () => this.drawing.people(),
    picture: () => this.drawing.picture(),
    remember: (sources) => this.remember({ sources }),
    tell: (sources) => this.stage.do({ type: 'sources', sources }),
    gone: (id) => this.dropSource(id),
    line: () => this.line,
    ticketRefused: () => void this.renewal.now(true),
  });
  private line: RelayLine | null = null;
  private composer: Worker | null = null;
  private uplinkWorker: Worker | null = null;
  private readonly previews = new Map<PreviewOf, OffscreenCanvas>();
  private wasPutDown = false;
  /** Which beginning counts: one that was begun before ends as soon as it notices. */
  private beginning = 0;

  constructor() {
    const onHide = () => this.pageGoes();
    const onShow = ({ persisted }: PageTransitionEvent) => this.pageIsBack(persisted);
    window.addEventListener('pagehide', onHide);
    window.addEventListener('pageshow', onShow);
    const onDevices = () => this.sources.devicesChanged();
    // Pages that were not opened securely have none.
    const devices = navigator.mediaDevices as MediaDevices | undefined;
    devices?.addEventListener('devicechange', onDevices);
    effect(() => {
      const dressing = this.drawing.dressing();
      untracked(() => void this.drawn.dress(dressing));
    });
    // What is planned counts, whatever page is looked at.
    const shows = inject(Store).selectSignal(showsFeature.selectEntities);
    effect(() => {
      const showId = this.showId();
      const show = showId === null ? undefined : shows()[showId];
      if (!show) return;
      untracked(() => void this.plan(openedOf(show)));
    });
    // Viewers have seen the programme: what they read from now on is of a break.
    effect(() => {
      const showId = this.showId();
      const show = showId === null ? undefined : shows()[showId];
      const isSeen = show?.startedAtMs != null && show.endedAtMs === null && this.covered() === false;
      if (!isSeen || this.status() !== 'composing') return;
      untracked(() => {
        if (this.stage.stage().slate === 'before') this.stage.do({ type: 'slate', slate: 'break' });
      });
    });
    const following = this.stage.changed.subscribe((stage) => {
      this.drawn.follow(stage);
      this.sources.followOutside(stage.outside);
    });
    inject(DestroyRef).onDestroy(() => {
      following.unsubscribe();
      devices?.removeEventListener('devicechange', onDevices);
      window.removeEventListener('pagehide', onHide);
      window.removeEventListener('pageshow', onShow);
    });
  }

  /** A desk shows this show. Comes back into what this tab composed before it was reloaded. */
  async open(show: OpenedShow): Promise<void> {
    const showId = show.id;
    if (this.showId() === showId) {
      void this.stage.open(showId);
      await this.plan(show);
      return;
    }
    this.stop();
    this.showId.set(showId);
    this.status.set('idle');
    this.problem.set(null);
    this.drawing.put(show);
    this.memory = recallDesk(showId);
    const known = this.stage.open(showId);
    this.missing.set(await findMissing());
    this.deskId.set(await deskId());
    if (this.showId() !== showId || !this.memory.composing || !this.canCompose()) return;
    // What viewers saw before is what they see again: nobody is to be off the picture for a moment.
    await known;
    if (this.showId() === showId) await this.begin(false);
  }

  /** The show may be another one than before: other people, another title, another picture. */
  private async plan(show: OpenedShow): Promise<void> {
    const isOther = this.drawing.pictureFormat() !== show.pictureFormat;
    const words = () => this.drawing.title() + this.drawing.begins();
    const before = words();
    this.drawing.put(show);
    const isRetitled = words() !== before;
    if (isOther && (this.composer || this.status() === 'beginning')) {
      // Nothing of it goes out yet: the relay takes no other picture in mid-show, and neither does the server.
      await this.beginAnew();
      return;
    }
    this.drawn.giveSetting();
    if (!this.composer) return;
    if (isRetitled) this.drawn.giveSlate();
    this.tellHere();
  }

  /** Composes here from now on. `takeOver`: even if another desk does. */
  async begin(takeOver: boolean): Promise<void> {
    const showId = this.showId();
    if (!showId || this.status() === 'beginning' || this.status() === 'composing') return;
    const beginning = ++this.beginning;
    const isOver = () => beginning !== this.beginning;
    this.status.set('beginning');
    this.problem.set(null);
    try {
      const [encoding] = await Promise.all([
        findEncoding(this.drawing.pictureFormat()),
        this.drawing.ready(),
      ]);
      if (isOver()) return;
      if (!encoding) {
        this.status.set('failed');
        this.problem.set(stageTexts.notEncoded(this.picture()));
        return;
      }
      const ticket = await this.askTicket(showId, takeOver);
      if (isOver()) return;
      this.startWorkers(showId, ticket, encoding);
      this.renewal.begin();
      this.remember({ composing: true });
      this.status.set('composing');
      // What a desk that is gone told last is not at hand any longer.
      if (this.stage.stage().sources.length > 0) this.stage.do({ type: 'sources', sources: [] });
      this.sources.followOutside(this.stage.stage().outside);
      await this.sources.restore(this.memory.sources);
    } catch (error) {
      if (isOver()) return;
      const { code, sentence } = error as Partial<ErrorBody>;
      this.status.set(code === 'composed_elsewhere' ? 'elsewhere' : 'failed');
      this.problem.set(sentence ?? stageTexts.failed);
    }
  }

  /** From the beginning, in another picture. */
  private async beginAnew(): Promise<void> {
    this.stop();
    this.status.set('idle');
    await this.begin(false);
  }

  /** Composes no longer. Feeds go on with the slate. */
  end(): void {
    this.remember({ composing: false });
    if (this.composer) this.stage.do({ type: 'sources', sources: [] });
    this.stop();
    this.status.set('idle');
  }

  /** The places of the show, which may be other ones from now on. */
  limitTo(limits: readonly RateLimit[]): void {
    this.limits.set(limits);
    this.applyCeiling();
  }

  /** Sends for some seconds what means nothing, and counts what the relay gets of it. */
  async checkUpload(): Promise<void> {
    const showId = this.showId();
    if (!showId) return;
    const { ticket, uplinkUrl } = await this.askTicket(showId, false);
    this.measuredKbps.set(await measureUpload(uplinkUrl, ticket));
    this.applyCeiling();
  }

  private applyCeiling(): void {
    const { videoKbps } = this.advice();
    this.uplinkWorker?.postMessage({ type: 'ceiling', videoKbps } satisfies UplinkMessage);
  }

  /** Shows the programme, or what is armed, on this canvas, which must never have been drawn on. */
  showOn(of: PreviewOf, canvas: HTMLCanvasElement): void {
    this.previews.set(of, canvas.transferControlToOffscreen());
    this.sendPreviews();
  }

  previewShown(shown: boolean): void {
    this.tell({ type: 'preview_shown', shown });
  }

  // --- What stands in the picture

  /** Puts a viewer's message on the programme for some time; null takes it off. */
  showMessage(message: MessageOnProgramme | null): void {
    this.drawn.showMessage(message);
  }

  /**
   * Viewers' messages in the picture from now on, the newest last.
   *
   * @param isCut what is not among them may not be seen any longer
   */
  showChat(lines: readonly BoxLine[], isCut: boolean): void {
    this.drawn.showChat(lines, isCut);
  }

  /** Says on the programme what places told of followers and sales; null takes it off. */
  showNotice(notice: NoticeOnProgramme | null): void {
    this.drawn.showNotice(notice);
  }

  /** Where the programme goes back into the room; null: nowhere. */
  returnTo(feed: Extract<ComposerMessage, { type: 'return_feed' }>['feed']): void {
    this.tell({ type: 'return_feed', feed }, feed ? [feed.video, feed.audio] : []);
  }

  /** Takes a source off the stage, and out of what is prepared, and its picture away. */
  dropSource(id: SourceId): void {
    const outside = this.stage.stage().outside.find(({ source }) => source === id);
    if (outside) {
      this.stage.do({ type: 'outside', inputId: outside.inputId, source: null });
      return;
    }
    this.stage.do({ type: 'programme', event: { type: 'take_off', source: id } });
    if (this.stage.isArmed()) this.stage.takeOff(id);
    this.sources.lose(id);
  }

  /** The panic key, straight to the relay. False: not from here. */
  cover(on: boolean): boolean {
    if (!this.uplinkWorker || !this.uplink()?.connected) return false;
    this.uplinkWorker.postMessage({ type: 'cover', on } satisfies UplinkMessage);
    return true;
  }

  /**
   * The page is unloaded, for another one or to be loaded again: devices, sources, composer and uplink are put down in
   * this order, rather than all at once wherever they are just then. That something is composed here stays remembered.
   * Public for the specs: their runner takes a real event for its own end.
   */
  pageGoes(): void {
    if (!this.composer) return;
    this.putDown();
    this.wasPutDown = true;
  }

  /** A page that the browser kept as it was, and shows again, composes as one that was loaded again. */
  private pageIsBack(isKept: boolean): void {
    if (isKept && this.wasPutDown) location.reload();
  }

  // --- Within

  private async askTicket(showId: string, takeOver: boolean) {
    const body = { deskId: await deskId(), takeOver };
    return firstValueFrom(this.api.call(compose, { params: { showId }, body }));
  }

  private startWorkers(showId: string, line: RelayLine, encoding: VideoEncoding): void {
    this.line = line;
    const { ticket, uplinkUrl } = line;
    const { port1, port2 } = new MessageChannel();
    const { videoKbps } = this.advice();
    const { width, height } = this.picture();
    const uplink = new Worker(new URL('../uplink/uplink.worker', import.meta.url), { type: 'module' });
    const composer = new Worker(new URL('./composer/composer.worker', import.meta.url), { type: 'module' });
    uplink.onmessage = ({ data }: MessageEvent<UplinkReport>) => this.hearUplink(data);
    composer.onmessage = ({ data }: MessageEvent<ComposerReport>) => this.hearComposer(data);
    const up: UplinkMessage = {
      type: 'start',
      showId,
      session: crypto.randomUUID(),
      uplinkUrl,
      ticket,
      packets: port1,
      size: { width, height },
      videoKbps,
      audioKbps: AUDIO_KBPS,
    };
    uplink.postMessage(up, [port1]);
    const { backdrop, slate, setting } = this.drawn.start();
    const start: ComposerMessage = {
      type: 'start',
      uplink: port2,
      backdrop,
      slate,
      setting,
      encoding,
      videoKbps,
    };
    composer.postMessage(start, [port2, backdrop.image, slate, ...imagesIn(setting)]);
    this.composer = composer;
    this.uplinkWorker = uplink;
    this.drawn.giveGraphics();
    this.tellHere();
    this.sendPreviews();
  }

  private tellHere(): void {
    this.here.began({ id: this.showId()!, title: this.drawing.title() }, () => this.end());
  }

  private stop(): void {
    this.beginning += 1;
    this.here.ended();
    // The workers' own last words take a moment; what was not sent stays on this browser's disk.
    const ending = this.putDown();
    setTimeout(() => ending.forEach((worker) => worker?.terminate()), 500);
    this.figures.set(null);
    this.silentSinceMs.set(null);
    this.covered.set(null);
    this.uplink.set(null);
  }

  /** Gives the workers that are told to stop. */
  private putDown(): readonly (Worker | null)[] {
    this.renewal.stop();
    const patterns = this.sources.letGo();
    this.tell({ type: 'stop' });
    this.uplinkWorker?.postMessage({ type: 'stop' } satisfies UplinkMessage);
    const ending = [patterns, this.composer, this.uplinkWorker];
    this.composer = this.uplinkWorker = this.line = null;
    return ending;
  }

  private hearComposer(report: ComposerReport): void {
    switch (report.type) {
      case 'figures':
        this.figures.set(report);
        this.silentSinceMs.update((since) =>
          isBare(this.stage.stage()) ? null : silentSince(since, report.peak, Date.now()),
        );
        break;
      case 'source_ended':
        this.sources.ended(report.id, report.track);
        break;
      case 'failed':
        this.problem.set(stageTexts.encoderFailed(report.why));
        break;
    }
  }

  private hearUplink(report: UplinkReport): void {
    if (report.type === 'figures') {
      this.uplink.set(report);
      return;
    }
    if (report.type === 'covered') {
      this.covered.set(report.on);
      return;
    }
    if (report.code === 'ticket') {
      void this.renewal.now(true);
      return;
    }
    this.stopFor(report.code === 'taken_over' ? 'taken_over' : 'failed', report.sentence);
  }

  private stopFor(status: 'taken_over' | 'failed', sentence: string): void {
    this.problem.set(sentence);
    this.remember({ composing: false });
    this.stop();
    this.status.set(status);
  }

  private readonly renewal = new TicketRenewal({
    ask: () => this.askTicket(this.showId()!, false),
    renewed: (ticket, wasRefused) => {
      this.uplinkWorker?.postMessage({ type: 'ticket', ...ticket } satisfies UplinkMessage);
      if (this.line) this.sources.renew((this.line = ticket));
      if (wasRefused) this.problem.set(null);
    },
    takenOver: (sentence) => this.stopFor('taken_over', sentence),
    failed: (sentence) => this.problem.set(sentence),
  });

  private remember(values: Partial<DeskMemory>): void {
    this.memory = { ...this.memory, ...values };
    const showId = this.showId();
    if (showId) rememberDesk(showId, this.memory);
  }

  private sendPreviews(): void {
    if (!this.composer) return;
    for (const [of, canvas] of this.previews) this.tell({ type: 'preview', of, canvas }, [canvas]);
    this.previews.clear();
  }

  private tell(message: ComposerMessage, transfer: Transferable[] = []): void {
    this.composer?.postMessage(message, transfer);
  }
}

type PreviewOf = Extract<ComposerMessage, { type: 'preview' }>['of'];
