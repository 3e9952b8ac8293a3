import { signal } from '@angular/core';
import {
  freeSource,
  nameOf,
  sourceId,
  type DeviceFate,
  type Origin,
  type SourceAtHand,
  type SourceId,
} from '@juncta/core/stage';
import type { DeskMemory, RememberedSource } from '../desk-memory';
import type { ComposerMessage, PatternMessage } from '../messages';
import type { Named } from '../dressed/drawn-scene';
import {
  listDevices,
  openDevices,
  openScreen,
  streamOf,
  type DeviceChoice,
  type DeviceProblem,
  type OpenDevice,
} from './devices';

type Sources = Readonly<Record<SourceId, SourceAtHand>>;
type Kind = 'video' | 'audio';

export interface SourceWays {
  /** Null: nothing is composed here. Another one after another beginning. */
  composer(): Worker | null;
  people(): readonly Named[];
  /** What a reload is to come back to. */
  remember(sources: DeskMemory['sources']): void;
  /** Every desk is to know what can be brought on. */
  tell(sources: readonly SourceAtHand[]): void;
  /** It will not come back: nobody is to look at its empty place. */
  gone(source: SourceId): void;
}

/** A camera and a microphone of this desk, or a screen. */
interface Opened {
  tracks: OpenDevice;
  readonly choice: DeviceChoice;
  /** The browser's ids of the devices that it began with. */
  readonly wanted: Readonly<Record<Kind, string | undefined>>;
}

/** Video and audio that come into the programme: made here, from this desk's devices, or from the room. */
export class DeskSources {
  private readonly all = signal<Sources>({});
  private readonly problem = signal<DeviceProblem | null>(null);
  private readonly opened = new Map<SourceId, Opened>();
  private readonly opening = new Set<SourceId>();
  private patterns: Worker | null = null;
  /** One after another, or two lost cameras would be given the same one that is left. */
  private replacing: Promise<void> = Promise.resolve();

  readonly known = this.all.asReadonly();
  readonly deviceProblem = this.problem.asReadonly();

  constructor(private readonly ways: SourceWays) {}

  addPattern(id: SourceId): void {
    if (!this.ways.composer() || this.all()[id]) return;
    this.patterns ??= new Worker(new URL('../pattern/pattern.worker', import.meta.url), { type: 'module' });
    const { port1, port2 } = new MessageChannel();
    const people = this.ways.people();
    const index = Math.max(
      0,
      people.findIndex((person) => person.id === nameOf(id).owner),
    );
    const message: PatternMessage = {
      type: 'make',
      id,
      port: port1,
      index,
      name: people[index]?.name ?? '',
      grain: false,
    };
    this.patterns.postMessage(message, [port1]);
    this.tell({ type: 'made_source', id, port: port2 }, [port2]);
    this.add(id, 'pattern');
  }

  /** The usual devices, unless others are chosen. */
  addCamera(id: SourceId, choice: DeviceChoice = {}): Promise<void> {
    return this.open(id, 'camera', choice, () => openDevices(choice));
  }

  /** Another camera of somebody who may have one already. */
  addAnotherCamera(owner: string, choice: DeviceChoice): Promise<void> {
    return this.addCamera(freeSource('camera', owner, this.ids()), choice);
  }

  addScreen(owner: string): Promise<void> {
    return this.open(freeSource('screen', owner, this.ids()), 'screen', {}, openScreen);
  }

  /** A guest's video and audio, as they come from the room. */
  addGuest(personId: string, stream: MediaStream): void {
    if (!this.ways.composer()) return;
    const id = sourceId('camera', personId);
    const [video, audio] = [stream.getVideoTracks()[0] ?? null, stream.getAudioTracks()[0] ?? null];
    this.takeTracks(id, { video, audio }, true);
    this.add(id, 'guest');
  }

  /** As this desk had them before it was reloaded. */
  async restore(sources: DeskMemory['sources']): Promise<void> {
    for (const [id, one] of entriesOf(sources)) {
      if (one.origin === 'pattern') this.addPattern(id);
      else await this.addCamera(id, one.choice);
    }
  }

  /** The source goes; whoever it belongs to keeps their place on stage. */
  lose(id: SourceId): void {
    this.close(id);
    this.patterns?.postMessage({ type: 'end', id } satisfies PatternMessage);
    this.tell({ type: 'drop_source', id });
    this.set(Object.fromEntries(entriesOf(this.all()).filter(([other]) => other !== id)));
  }

  /** A device was unplugged, taken by another program, or a screen is shared no longer. */
  ended(id: SourceId, kind: Kind): void {
    const source = this.all()[id];
    if (!source) return;
    // Of the device before, whose end crossed the coming of the next.
    if (this.opened.get(id)?.tracks[kind]?.readyState === 'live') return;
    if (source.origin === 'screen' && kind === 'video') {
      this.problem.set('screen_ended');
      this.ways.gone(id);
      return;
    }
    this.setFate(id, kind, 'gone');
    if (source.origin === 'camera') this.inTurn(() => this.replace(id, kind));
  }

  /** Devices came or went: what is there again is taken back. */
  devicesChanged(): void {
    this.inTurn(async () => {
      const there = new Set((await listDevices()).map(({ id }) => id));
      for (const [id, { wanted }] of this.opened) {
        for (const kind of ['video', 'audio'] as const) {
          const device = wanted[kind];
          if (device !== undefined && there.has(device) && this.all()[id]?.[kind] !== 'there')
            await this.use(id, kind, device, 'there');
        }
      }
    });
  }

  /** Lets go of everything, and remembers it. Gives the worker that is left, if there is one. */
  letGo(): Worker | null {
    for (const id of this.opened.keys()) this.close(id);
    for (const [id, { origin }] of entriesOf(this.all()))
      if (origin === 'pattern') this.patterns?.postMessage({ type: 'end', id } satisfies PatternMessage);
    this.all.set({});
    const { patterns } = this;
    this.patterns = null;
    return patterns;
  }

  private ids(): SourceId[] {
    return [...Object.keys(this.all()), ...this.opening] as SourceId[];
  }

  private async open(
    id: SourceId,
    origin: Origin,
    choice: DeviceChoice,
    ask: () => Promise<OpenDevice | DeviceProblem>,
  ): Promise<void> {
    const composer = this.ways.composer();
    if (!composer || this.all()[id] || this.opening.has(id)) return;
    this.problem.set(null);
    this.opening.add(id);
    const tracks = await ask();
    this.opening.delete(id);
    if (typeof tracks === 'string') {
      this.problem.set(tracks);
      return;
    }
    const wanted = { video: deviceOf(tracks.video), audio: deviceOf(tracks.audio) };
    this.opened.set(id, { tracks, choice, wanted });
    // Whoever took their time over the browser's question may find nothing composed any more.
    if (this.ways.composer() !== composer) {
      this.close(id);
      return;
    }
    this.takeTracks(id, tracks, false);
    this.add(id, origin);
  }

  /** With a device of the same kind that nobody uses here. */
  private async replace(id: SourceId, kind: Kind): Promise<void> {
    const used = [...this.opened.values()].map(({ tracks }) => deviceOf(tracks[kind]));
    for (const device of await listDevices()) {
      if (device.kind !== kind || used.includes(device.id)) continue;
      if (await this.use(id, kind, device.id, 'replaced')) return;
    }
  }

  private async use(id: SourceId, kind: Kind, device: string, fate: DeviceFate): Promise<boolean> {
    const without = kind === 'video' ? 'audio' : 'video';
    const got = await openDevices({ [kind]: device, [without]: null });
    if (typeof got === 'string') return false;
    const opened = this.opened.get(id);
    // It was removed meanwhile.
    if (!opened || !this.all()[id]) {
      got[kind]?.stop();
      return false;
    }
    const before = opened.tracks[kind];
    opened.tracks = { ...opened.tracks, [kind]: got[kind] };
    this.takeTracks(id, opened.tracks, false);
    before?.stop();
    this.setFate(id, kind, fate);
    return true;
  }

  private inTurn(act: () => Promise<void>): void {
    this.replacing = this.replacing.then(act).catch(() => undefined);
  }

  private takeTracks(id: SourceId, tracks: OpenDevice, fromRoom: boolean): void {
    const video = streamOf<VideoFrame>(tracks.video);
    const audio = streamOf<AudioData>(tracks.audio);
    this.tell(
      { type: 'device_source', id, fromRoom, video, audio },
      [video, audio].filter((stream) => stream !== null),
    );
  }

  private add(source: SourceId, origin: Origin): void {
    this.set({ ...this.all(), [source]: { source, origin, video: 'there', audio: 'there' } });
  }

  private setFate(id: SourceId, kind: Kind, fate: DeviceFate): void {
    const source = this.all()[id];
    if (source) this.set({ ...this.all(), [id]: { ...source, [kind]: fate } });
  }

  private set(sources: Sources): void {
    this.all.set(sources);
    // Guests come back by themselves; a screen has to be chosen by somebody.
    const kept = entriesOf(sources).flatMap(([id, { origin }]): [SourceId, RememberedSource][] => {
      if (origin === 'pattern') return [[id, { origin }]];
      return origin === 'camera' ? [[id, { origin, choice: this.opened.get(id)?.choice ?? {} }]] : [];
    });
    this.ways.remember(Object.fromEntries(kept));
    this.ways.tell(Object.values(sources));
  }

  private close(id: SourceId): void {
    const opened = this.opened.get(id);
    opened?.tracks.video?.stop();
    opened?.tracks.audio?.stop();
    this.opened.delete(id);
  }

  private tell(message: ComposerMessage, transfer: Transferable[] = []): void {
    this.ways.composer()?.postMessage(message, transfer);
  }
}

const deviceOf = (track: MediaStreamTrack | null): string | undefined => track?.getSettings().deviceId;

const entriesOf = <T>(record: Readonly<Record<SourceId, T>>) => Object.entries(record) as [SourceId, T][];
