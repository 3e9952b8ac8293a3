import { computed, inject, Injectable, signal } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { compose } from '@juncta/contract/relay';
import { adviseRate, type RateLimit } from '@juncta/core/relay';
import { MOST_ON_STAGE, type Layout } from '@juncta/core/stage';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import type { UplinkFigures, UplinkMessage, UplinkReport } from '../relay/uplink/messages';
import { measureUpload } from '../relay/measure-upload';
import { SOUND_KBPS } from './composer/encoders';
import { deskId } from './desk-id';
import { openDevices, streamOf, type DeviceProblem, type OpenDevice } from './devices';
import type { ComposerMessage, ComposerReport, PatternMessage } from './messages';
import { drawBackdrop, drawMessageCard, drawPlates, drawSlate, loadFaces, type Named } from './plates';
import { recallStage, rememberStage, FRESH_STAGE, type StageMemory } from './stage-memory';
import { stageTexts } from './stage.texts';
import { findMissing, type Missing } from './support';

/** What is sent to the relay at 1280x720 and 30 pictures a second, where the line and every place take it. */
export const WANTED_PICTURE_KBPS = 4000;

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

export interface SourceState {
  readonly kind: 'pattern' | 'camera' | 'guest';
  /** What became of a device that was there. */
  readonly lost: { readonly picture: boolean; readonly sound: boolean };
}

type Figures = Extract<ComposerReport, { type: 'figures' }>;

/**
 * The composing of one show in this tab: owns the workers, the devices and the state of the stage. It lives longer
 * than the desk's page, so that a look at the plan does not end the show. Nothing of it belongs into the store.
 */
@Injectable({ providedIn: 'root' })
export class ComposingDesk {
  private readonly api = inject(Api);

  readonly status = signal<ComposingStatus>('idle');
  readonly showId = signal<string | null>(null);
  readonly deskId = signal<string | null>(null);
  readonly missing = signal<readonly Missing[] | null>(null);
  /** A sentence for whatever stands in the way; null when nothing does. */
  readonly problem = signal<string | null>(null);
  readonly figures = signal<Figures | null>(null);
  readonly uplink = signal<UplinkFigures | null>(null);
  readonly sources = signal<Readonly<Record<string, SourceState>>>({});
  readonly deviceProblem = signal<DeviceProblem | null>(null);
  private readonly memory = signal<StageMemory>(FRESH_STAGE);
  readonly layout = computed(() => this.memory().layout);
  readonly stage = computed(() => this.memory().stage);
  readonly names = computed(() => this.memory().names);
  /** What the places of the show take at the most. */
  private readonly limits = signal<readonly RateLimit[]>([]);
  /** What this line carried to the relay when it was last checked, kbit/s; null: it was not. */
  readonly measuredKbps = signal<number | null>(null);
  /** What to send, so that it fits the line and every place. */
  readonly advice = computed(() =>
    adviseRate(WANTED_PICTURE_KBPS, SOUND_KBPS, this.limits(), this.measuredKbps()),
  );
  readonly canCompose = computed(() => this.missing()?.every((one) => one === 'devices') ?? false);

  private people: readonly Named[] = [];
  private title = '';
  private composer: Worker | null = null;
  private uplinkWorker: Worker | null = null;
  private patterns: Worker | null = null;
  private readonly devices = new Map<string, OpenDevice>();
  private preview: OffscreenCanvas | null = null;

  /** A desk shows this show. Comes back into what this tab composed before it was reloaded. */
  async open(showId: string, title: string, people: readonly Named[]): Promise<void> {
    this.people = people;
    this.title = title;
    if (this.showId() === showId) {
      this.applySetting();
      return;
    }
    this.stop();
    this.showId.set(showId);
    this.status.set('idle');
    this.problem.set(null);
    this.memory.set(recallStage(showId));
    this.missing.set(await findMissing());
    this.deskId.set(await deskId());
    if (this.showId() === showId && this.memory().composing && this.canCompose()) await this.begin(false);
  }

  /** Composes here from now on. `takeOver`: even if another desk does. */
  async begin(takeOver: boolean): Promise<void> {
    const showId = this.showId();
    if (!showId || this.status() === 'beginning' || this.status() === 'composing') return;
    this.status.set('beginning');
    this.problem.set(null);
    try {
      const [ticket] = await Promise.all([this.askTicket(showId, takeOver), loadFaces()]);
      if (this.showId() !== showId) return;
      this.startWorkers(showId, ticket);
      this.remember({ composing: true });
      this.status.set('composing');
      await this.restoreSources();
    } catch (error) {
      const { code, sentence } = error as Partial<ErrorBody>;
      this.status.set(code === 'composed_elsewhere' ? 'elsewhere' : 'failed');
      this.problem.set(sentence ?? stageTexts.failed);
    }
  }

  /** Composes no longer. Feeds go on with the slate. */
  end(): void {
    this.remember({ composing: false });
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
    const { ticket, piecesUrl } = await this.askTicket(showId, false);
    this.measuredKbps.set(await measureUpload(piecesUrl, ticket));
    this.applyCeiling();
  }

  private applyCeiling(): void {
    const { pictureKbps } = this.advice();
    this.uplinkWorker?.postMessage({ type: 'ceiling', pictureKbps } satisfies UplinkMessage);
  }

  /** Shows the programme on this canvas, which must never have been drawn on. */
  showOn(canvas: HTMLCanvasElement): void {
    this.preview = canvas.transferControlToOffscreen();
    this.sendPreview();
  }

  previewShown(shown: boolean): void {
    this.tell({ type: 'preview_shown', shown });
  }

  // --- People and their pictures

  addPattern(id: string): void {
    if (!this.composer || this.sources()[id]) return;
    this.patterns ??= new Worker(new URL('./pattern/pattern.worker', import.meta.url), { type: 'module' });
    const { port1, port2 } = new MessageChannel();
    const index = Math.max(
      0,
      this.people.findIndex((person) => person.id === id),
    );
    const name = this.people[index]?.name ?? '';
    const message: PatternMessage = { type: 'make', id, port: port1, index, name };
    this.patterns.postMessage(message, [port1]);
    this.tell({ type: 'made_source', id, port: port2 }, [port2]);
    this.addSource(id, 'pattern');
  }

  async addCamera(id: string): Promise<void> {
    if (!this.composer || this.sources()[id]) return;
    this.deviceProblem.set(null);
    const device = await openDevices();
    if (typeof device === 'string') {
      this.deviceProblem.set(device);
      return;
    }
    this.devices.set(id, device);
    const video = streamOf<VideoFrame>(device.video);
    const audio = streamOf<AudioData>(device.audio);
    this.tell(
      { type: 'device_source', id, fromRoom: false, video, audio },
      [video, audio].filter((stream) => stream !== null),
    );
    this.addSource(id, 'camera');
  }

  /** A guest's picture and sound, as they come from the room. */
  addGuest(id: string, stream: MediaStream): void {
    if (!this.composer) return;
    const [video, audio] = [stream.getVideoTracks()[0] ?? null, stream.getAudioTracks()[0] ?? null].map(
      (track) => streamOf(track),
    ) as [ReadableStream<VideoFrame> | null, ReadableStream<AudioData> | null];
    const message: ComposerMessage = { type: 'device_source', id, fromRoom: true, video, audio };
    this.tell(
      message,
      [video, audio].filter((one) => one !== null),
    );
    this.addSource(id, 'guest');
  }

  /** Puts a viewer's message on the programme for some time; null takes it off. */
  showMessage(message: { author: string; place: string; text: string; forMs: number } | null): void {
    const card = message && {
      image: drawMessageCard(message.author, message.place, message.text),
      forMs: message.forMs,
    };
    this.tell({ type: 'message_card', card }, card ? [card.image] : []);
  }

  /** Where the programme goes back into the room; null: nowhere. */
  returnTo(feed: Extract<ComposerMessage, { type: 'return_feed' }>['feed']): void {
    this.tell({ type: 'return_feed', feed }, feed ? [feed.picture, feed.sound] : []);
  }

  /** The source goes; whoever it belongs to keeps their place on stage. */
  loseSource(id: string): void {
    this.closeDevice(id);
    this.tell({ type: 'drop_source', id });
    const rest = Object.entries(this.sources()).filter(([other]) => other !== id);
    this.sources.set(Object.fromEntries(rest));
    this.rememberSources();
  }

  dropSource(id: string): void {
    this.takeOff(id);
    this.patterns?.postMessage({ type: 'end', id } satisfies PatternMessage);
    this.loseSource(id);
  }

  bringOn(id: string): void {
    const { stage } = this.memory();
    if (!stage.includes(id) && stage.length < MOST_ON_STAGE) this.change({ stage: [...stage, id] });
  }

  takeOff(id: string): void {
    this.change({ stage: this.memory().stage.filter((one) => one !== id) });
  }

  setLayout(layout: Layout): void {
    this.change({ layout });
  }

  setNames(names: boolean): void {
    this.change({ names });
  }

  /** The panic key, straight to the relay. False: not from here. */
  cover(on: boolean): boolean {
    if (!this.uplinkWorker || !this.uplink()?.connected) return false;
    this.uplinkWorker.postMessage({ type: 'cover', on } satisfies UplinkMessage);
    return true;
  }

  // --- Within

  private async askTicket(showId: string, takeOver: boolean) {
    const body = { deskId: await deskId(), takeOver };
    return firstValueFrom(this.api.call(compose, { params: { showId }, body }));
  }

  private startWorkers(showId: string, { ticket, piecesUrl }: { ticket: string; piecesUrl: string }): void {
    const { port1, port2 } = new MessageChannel();
    const { pictureKbps } = this.advice();
    const uplink = new Worker(new URL('../relay/uplink/uplink.worker', import.meta.url), { type: 'module' });
    const composer = new Worker(new URL('./composer/composer.worker', import.meta.url), { type: 'module' });
    uplink.onmessage = ({ data }: MessageEvent<UplinkReport>) => this.hearUplink(data);
    composer.onmessage = ({ data }: MessageEvent<ComposerReport>) => this.hearComposer(data);
    const up: UplinkMessage = {
      type: 'start',
      showId,
      session: crypto.randomUUID(),
      piecesUrl,
      ticket,
      packets: port1,
      pictureKbps,
      soundKbps: SOUND_KBPS,
    };
    uplink.postMessage(up, [port1]);
    const [backdrop, slate] = [drawBackdrop(), drawSlate(this.title, stageTexts.slate)];
    const setting = this.setting();
    const start: ComposerMessage = {
      type: 'start',
      uplink: port2,
      backdrop,
      slate,
      setting,
      pictureKbps,
    };
    composer.postMessage(start, [port2, backdrop, slate, ...Object.values(setting.plates)]);
    this.composer = composer;
    this.uplinkWorker = uplink;
    this.sendPreview();
  }

  private stop(): void {
    this.tell({ type: 'stop' });
    this.uplinkWorker?.postMessage({ type: 'stop' } satisfies UplinkMessage);
    // The workers' own last words take a moment; what was not sent stays on this browser's disk.
    const ending = [this.composer, this.uplinkWorker, this.patterns];
    setTimeout(() => ending.forEach((worker) => worker?.terminate()), 500);
    this.composer = this.uplinkWorker = this.patterns = null;
    for (const id of this.devices.keys()) this.closeDevice(id);
    this.sources.set({});
    this.figures.set(null);
    this.uplink.set(null);
  }

  private async restoreSources(): Promise<void> {
    for (const [id, kind] of Object.entries(this.memory().sources)) {
      if (kind === 'pattern') this.addPattern(id);
      else await this.addCamera(id);
    }
  }

  private hearComposer(report: ComposerReport): void {
    switch (report.type) {
      case 'figures':
        this.figures.set(report);
        break;
      case 'source_ended': {
        const source = this.sources()[report.id];
        if (!source) break;
        const lost = { ...source.lost, [report.track]: true };
        this.sources.set({ ...this.sources(), [report.id]: { ...source, lost } });
        break;
      }
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
    if (report.code === 'ticket') {
      void this.renewTicket();
      return;
    }
    this.problem.set(report.sentence);
    this.remember({ composing: false });
    this.stop();
    this.status.set(report.code === 'taken_over' ? 'taken_over' : 'failed');
  }

  private async renewTicket(): Promise<void> {
    const showId = this.showId();
    if (!showId) return;
    try {
      const { ticket, piecesUrl } = await this.askTicket(showId, false);
      this.uplinkWorker?.postMessage({ type: 'ticket', ticket, piecesUrl } satisfies UplinkMessage);
    } catch (error) {
      this.problem.set((error as Partial<ErrorBody>).sentence ?? stageTexts.failed);
    }
  }

  private setting() {
    const { layout, stage, names } = this.memory();
    const known = stage.flatMap((id) => this.people.find((person) => person.id === id) ?? []);
    return { layout, stage: [...stage], plates: names ? drawPlates(layout, known) : {} };
  }

  private applySetting(): void {
    if (!this.composer) return;
    const setting = this.setting();
    this.tell({ type: 'setting', setting }, Object.values(setting.plates));
  }

  private change(values: Partial<StageMemory>): void {
    this.remember(values);
    this.applySetting();
  }

  private addSource(id: string, kind: SourceState['kind']): void {
    this.sources.set({ ...this.sources(), [id]: { kind, lost: { picture: false, sound: false } } });
    this.rememberSources();
  }

  private rememberSources(): void {
    // Guests come back by themselves.
    const sources = Object.fromEntries(
      Object.entries(this.sources()).flatMap(([id, { kind }]) =>
        kind === 'guest' ? [] : [[id, kind] as const],
      ),
    );
    this.remember({ sources });
  }

  private remember(values: Partial<StageMemory>): void {
    this.memory.set({ ...this.memory(), ...values });
    const showId = this.showId();
    if (showId) rememberStage(showId, this.memory());
  }

  private closeDevice(id: string): void {
    const device = this.devices.get(id);
    device?.video?.stop();
    device?.audio?.stop();
    this.devices.delete(id);
  }

  private sendPreview(): void {
    if (!this.preview || !this.composer) return;
    this.tell({ type: 'preview', canvas: this.preview }, [this.preview]);
    this.preview = null;
  }

  private tell(message: ComposerMessage, transfer: Transferable[] = []): void {
    this.composer?.postMessage(message, transfer);
  }
}
