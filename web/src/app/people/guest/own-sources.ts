import { computed, signal } from '@angular/core';
import { flows, MOST_OF_A_KIND, type Offer } from '@juncta/core/people';
import { freeSource, sourceId, type DeviceFate, type Size, type SourceId } from '@juncta/core/stage';
import {
  listDevices,
  openDevices,
  openScreen,
  type DeviceChoice,
  type DeviceProblem,
  type NamedDevice,
  type OpenDevice,
} from '../../stage/sources/devices';
import { fateOf, HeldDevices, KINDS, type Kind } from '../../stage/sources/held-devices';
import { openPattern } from '../room/own-media';

/** What a guest has for the show: a camera with its microphone, a test pattern, or a screen. */
export interface OwnSource {
  readonly source: SourceId;
  readonly kind: 'camera' | 'pattern' | 'screen';
  /** Another one whenever a device was exchanged. */
  readonly stream: MediaStream;
  /** How it is with the devices; whether they are on is said beside. */
  readonly video: DeviceFate;
  readonly audio: DeviceFate;
  readonly isOn: Readonly<Record<Kind, boolean>>;
}

/** Enough to open a camera or a test pattern again as it was. */
export interface RememberedOwn {
  readonly source: SourceId;
  /** Null: a test pattern. */
  readonly choice: DeviceChoice | null;
  /** Whoever turned their sound off is not to be heard because their page was loaded again. */
  readonly isOn: Readonly<Record<Kind, boolean>>;
}

/** Everything a guest sends of themselves: opened, turned off and on, exchanged, and let go of. */
export class OwnSources {
  private readonly own = signal<readonly OwnSource[]>([]);
  private readonly opening = signal(false);
  private readonly trouble = signal<DeviceProblem | null>(null);
  private readonly named = signal<readonly NamedDevice[]>([]);
  private readonly patterns = new Map<SourceId, () => void>();
  private readonly held = new HeldDevices({
    fateOf: (id, kind) => this.find(id)?.[kind] ?? null,
    changed: (id, kind, fate, tracks) => {
      this.watch(id, tracks);
      this.change(id, { [kind]: fate, stream: streamOf(tracks) });
    },
  });

  readonly all = this.own.asReadonly();
  readonly isOpening = this.opening.asReadonly();
  readonly problem = this.trouble.asReadonly();
  /** Cameras and microphones of this computer; without names before something was allowed. */
  readonly devices = this.named.asReadonly();
  readonly offers = computed(() => this.own().map(offerOf));
  readonly remembered = computed(() =>
    this.own().flatMap(({ source, kind, isOn }): RememberedOwn[] =>
      kind === 'screen'
        ? []
        : [{ source, choice: kind === 'pattern' ? null : this.held.choiceOf(source), isOn }],
    ),
  );
  /** Cameras that nothing here uses. */
  readonly freeCameras = computed(() => {
    const used = this.own().flatMap(({ stream }) =>
      stream.getVideoTracks().map((track) => track.getSettings().deviceId),
    );
    return this.named().filter(({ kind, id }) => kind === 'video' && !used.includes(id));
  });
  readonly canShareScreen =
    'getDisplayMedia' in ((navigator.mediaDevices as Partial<MediaDevices> | undefined) ?? {});

  private readonly onDevices = () => {
    this.held.devicesChanged();
    void this.look();
  };

  /**
   * @param owner the guest's id in the show
   * @param picture of the programme
   */
  constructor(
    private readonly owner: string,
    private readonly picture: Size,
  ) {
    // Pages that were not opened securely have none.
    (navigator.mediaDevices as MediaDevices | undefined)?.addEventListener('devicechange', this.onDevices);
  }

  find(source: SourceId): OwnSource | undefined {
    return this.own().find((one) => one.source === source);
  }

  /** The first camera, in the place of whatever there was; or one of those beside it. */
  async openCamera(choice: DeviceChoice = {}, source = sourceId('camera', this.owner)): Promise<void> {
    await this.open(source, 'camera', choice, () => openDevices(choice));
  }

  /** Another camera beside the first; whoever is heard by one is not heard by two. */
  async addCamera(device: string): Promise<void> {
    const source = this.free('camera');
    if (source) await this.openCamera({ video: device, audio: null }, source);
  }

  async shareScreen(): Promise<void> {
    const source = this.free('screen');
    if (source)
      await this.open(source, 'screen', {}, () => openScreen({ size: this.picture, isFilm: false }));
  }

  usePattern(name: string): void {
    const source = sourceId('camera', this.owner);
    this.trouble.set(null);
    this.end(source);
    const { stream, close } = openPattern(name);
    this.patterns.set(source, close);
    this.add({ source, kind: 'pattern', stream, video: 'there', audio: 'there', isOn: BOTH_ON });
  }

  /** As they were before this tab was loaded again. */
  async restore(remembered: readonly RememberedOwn[], name: string): Promise<void> {
    for (const { source, choice, isOn } of remembered) {
      if (choice === null) this.usePattern(name);
      else await this.reopen(source, choice);
      for (const kind of KINDS) this.turn(source, kind, isOn[kind]);
    }
  }

  turn(source: SourceId, kind: Kind, isOn: boolean): void {
    const own = this.find(source);
    if (!own) return;
    this.change(source, { isOn: { ...own.isOn, [kind]: isOn } });
  }

  /** Another device from now on, or none. */
  async choose(source: SourceId, kind: Kind, device: string | null): Promise<void> {
    this.trouble.set(null);
    if (!(await this.held.choose(source, kind, device))) this.trouble.set('busy');
  }

  end(source: SourceId): void {
    this.held.letGo(source);
    this.patterns.get(source)?.();
    this.patterns.delete(source);
    this.own.update((own) => own.filter((one) => one.source !== source));
  }

  endAll(): void {
    for (const { source } of this.own()) this.end(source);
  }

  close(): void {
    this.endAll();
    (navigator.mediaDevices as MediaDevices | undefined)?.removeEventListener('devicechange', this.onDevices);
  }

  /** What was chosen may not be there any more: for the first camera, the usual devices are better than none. */
  private async reopen(source: SourceId, choice: DeviceChoice): Promise<void> {
    await this.openCamera(choice, source);
    const own = this.find(source);
    const isMissing = KINDS.some(
      (kind) => typeof choice[kind] === 'string' && (!own || own[kind] === 'none'),
    );
    if (isMissing && source === sourceId('camera', this.owner)) await this.openCamera();
  }

  private free(kind: 'camera' | 'screen'): SourceId | null {
    const taken = this.own().map(({ source }) => source);
    const isOfKind = (source: SourceId) => source.startsWith(`${kind}:`);
    return taken.filter(isOfKind).length < MOST_OF_A_KIND ? freeSource(kind, this.owner, taken) : null;
  }

  private async open(
    source: SourceId,
    kind: OwnSource['kind'],
    choice: DeviceChoice,
    ask: () => Promise<OpenDevice | DeviceProblem>,
  ): Promise<void> {
    this.trouble.set(null);
    this.opening.set(true);
    const tracks = navigator.mediaDevices ? await ask() : 'none';
    this.opening.set(false);
    if (typeof tracks === 'string') {
      this.trouble.set(tracks);
      return;
    }
    this.end(source);
    this.held.hold(source, tracks, choice);
    // Letters are to stay sharp, whatever becomes of the movement.
    if (kind === 'screen' && tracks.video) tracks.video.contentHint = 'detail';
    this.watch(source, tracks);
    const fates = { video: fateOf(tracks.video), audio: fateOf(tracks.audio) };
    this.add({ source, kind, stream: streamOf(tracks), ...fates, isOn: BOTH_ON });
    await this.look();
  }

  private watch(source: SourceId, tracks: OpenDevice): void {
    for (const kind of KINDS) {
      const track = tracks[kind];
      if (track) track.onended = () => this.ended(source, kind);
    }
  }

  /** A device was unplugged, taken by another program, or a screen is shared no longer. */
  private ended(source: SourceId, kind: Kind): void {
    const own = this.find(source);
    if (!own || this.held.isLive(source, kind)) return;
    if (own.kind === 'screen' && kind === 'video') {
      this.end(source);
      return;
    }
    this.change(source, { [kind]: 'gone' });
    if (own.kind === 'camera') this.held.replace(source, kind);
  }

  private add(own: OwnSource): void {
    this.own.update((all) => [...all.filter(({ source }) => source !== own.source), own]);
  }

  private change(source: SourceId, values: Partial<OwnSource>): void {
    this.own.update((all) => all.map((own) => (own.source === source ? { ...own, ...values } : own)));
    const own = this.find(source);
    for (const track of own?.stream.getTracks() ?? []) track.enabled = own!.isOn[track.kind as Kind];
  }

  private async look(): Promise<void> {
    if (navigator.mediaDevices) this.named.set(await listDevices());
  }
}

const BOTH_ON = { video: true, audio: true };

const streamOf = ({ video, audio }: OpenDevice): MediaStream =>
  new MediaStream([video, audio].filter((track) => track !== null));

/** What the house is told of it. */
export function offerOf({ source, video, audio, isOn }: OwnSource): Offer {
  const told = (kind: Kind, fate: DeviceFate): DeviceFate => (flows(fate) && !isOn[kind] ? 'off' : fate);
  return { source, video: told('video', video), audio: told('audio', audio) };
}
