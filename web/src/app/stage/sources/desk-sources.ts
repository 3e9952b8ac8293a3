import { signal } from '@angular/core';
import { nameOf, sourceId, type Origin, type SourceAtHand, type SourceId } from '@juncta/core/stage';
import { openDevices, streamOf, type DeviceProblem, type OpenDevice } from './devices';
import type { ComposerMessage, PatternMessage } from '../messages';
import type { Named } from '../plates';
import type { DeskMemory } from '../desk-memory';

type Sources = Readonly<Record<SourceId, SourceAtHand>>;

export interface SourceWays {
  /** Null: nothing is composed here. Another one after another beginning. */
  composer(): Worker | null;
  people(): readonly Named[];
  /** What a reload is to come back to. */
  remember(sources: DeskMemory['sources']): void;
  /** Every desk is to know what can be brought on. */
  tell(sources: readonly SourceAtHand[]): void;
}

/** Video and audio that come into the programme: made here, from this desk's devices, or from the room. */
export class DeskSources {
  private readonly all = signal<Sources>({});
  private readonly problem = signal<DeviceProblem | null>(null);
  private readonly devices = new Map<SourceId, OpenDevice>();
  private readonly opening = new Set<SourceId>();
  private patterns: Worker | null = null;

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
    const message: PatternMessage = { type: 'make', id, port: port1, index, name: people[index]?.name ?? '' };
    this.patterns.postMessage(message, [port1]);
    this.tell({ type: 'made_source', id, port: port2 }, [port2]);
    this.add(id, 'pattern');
  }

  async addCamera(id: SourceId): Promise<void> {
    const composer = this.ways.composer();
    if (!composer || this.all()[id] || this.opening.has(id)) return;
    this.problem.set(null);
    this.opening.add(id);
    const device = await openDevices();
    this.opening.delete(id);
    if (typeof device === 'string') {
      this.problem.set(device);
      return;
    }
    this.devices.set(id, device);
    // Whoever took their time over the browser's question may find nothing composed any more.
    if (this.ways.composer() !== composer) {
      this.closeDevice(id);
      return;
    }
    this.takeTracks(id, device, false);
    this.add(id, 'camera');
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
    for (const [id, kind] of entriesOf(sources)) {
      if (kind === 'pattern') this.addPattern(id);
      else await this.addCamera(id);
    }
  }

  /** The source goes; whoever it belongs to keeps their place on stage. */
  lose(id: SourceId): void {
    this.closeDevice(id);
    this.patterns?.postMessage({ type: 'end', id } satisfies PatternMessage);
    this.tell({ type: 'drop_source', id });
    this.set(Object.fromEntries(entriesOf(this.all()).filter(([other]) => other !== id)));
  }

  /** A device was unplugged, or taken by another program. */
  ended(id: SourceId, track: 'video' | 'audio'): void {
    const source = this.all()[id];
    if (!source) return;
    this.set({ ...this.all(), [id]: { ...source, lost: { ...source.lost, [track]: true } } });
  }

  /** Lets go of everything, and remembers it. Gives the worker that is left, if there is one. */
  letGo(): Worker | null {
    for (const id of this.devices.keys()) this.closeDevice(id);
    for (const [id, { origin }] of entriesOf(this.all()))
      if (origin === 'pattern') this.patterns?.postMessage({ type: 'end', id } satisfies PatternMessage);
    this.all.set({});
    const { patterns } = this;
    this.patterns = null;
    return patterns;
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
    this.set({ ...this.all(), [source]: { source, origin, lost: { video: false, audio: false } } });
  }

  private set(sources: Sources): void {
    this.all.set(sources);
    // Guests come back by themselves.
    const kept = entriesOf(sources).flatMap(([id, { origin }]) =>
      origin === 'guest' ? [] : [[id, origin] as const],
    );
    this.ways.remember(Object.fromEntries(kept));
    this.ways.tell(Object.values(sources));
  }

  private closeDevice(id: SourceId): void {
    const device = this.devices.get(id);
    device?.video?.stop();
    device?.audio?.stop();
    this.devices.delete(id);
  }

  private tell(message: ComposerMessage, transfer: Transferable[] = []): void {
    this.ways.composer()?.postMessage(message, transfer);
  }
}

const entriesOf = <T>(record: Readonly<Record<SourceId, T>>) => Object.entries(record) as [SourceId, T][];
