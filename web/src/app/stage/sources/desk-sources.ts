import { signal } from '@angular/core';
import {
  freeSource,
  nameOf,
  type DeviceFate,
  type Origin,
  type OutsideOnStage,
  type Size,
  type SourceAtHand,
  type SourceId,
} from '@juncta/core/stage';
import type { Offer } from '@juncta/core/people';
import type { DeskMemory, RememberedSource } from '../desk-memory';
import type { ComposerMessage, PatternMessage } from '../messages';
import type { Named } from '../dressed/drawn-scene';
import type { RelayLine } from '../outside/messages';
import { OutsideSources } from '../outside/outside-sources';
import {
  openDevices,
  openScreen,
  streamOf,
  type DeviceChoice,
  type DeviceProblem,
  type OpenDevice,
} from './devices';
import { fateOf, HeldDevices, type Kind } from './held-devices';

type Sources = Readonly<Record<SourceId, SourceAtHand>>;

export interface SourceWays {
  /** Null: nothing is composed here. Another one after another beginning. */
  composer(): Worker | null;
  people(): readonly Named[];
  /** The programme's, px. */
  picture(): Size;
  /** What a reload is to come back to. */
  remember(sources: DeskMemory['sources']): void;
  /** Every desk is to know what can be brought on. */
  tell(sources: readonly SourceAtHand[]): void;
  /** How the relay is reached; null: nothing is composed here. */
  line(): RelayLine | null;
  /** The relay wants another ticket before it gives anything. */
  ticketRefused(): void;
  /** It will not come back: nobody is to look at its empty place. */
  gone(source: SourceId): void;
}

/** Video and audio that come into the programme: made here, from this desk's devices, or from the room. */
export class DeskSources {
  private readonly all = signal<Sources>({});
  private readonly problem = signal<DeviceProblem | null>(null);
  private readonly held = new HeldDevices({
    fateOf: (id, kind) => this.all()[id]?.[kind] ?? null,
    changed: (id, kind, fate, tracks) => {
      this.takeTracks(id, tracks, false);
      this.setFate(id, kind, fate);
    },
  });
  private readonly opening = new Set<SourceId>();
  private patterns: Worker | null = null;
  private readonly grainy = new Set<SourceId>();
  private readonly outside = new OutsideSources({
    line: () => this.ways.line(),
    flows: (id, { video, audio }) => {
      const known = this.all()[id];
      if (known?.origin !== 'outside' || (known.video === video && known.audio === audio)) return;
      this.set({ ...this.all(), [id]: { ...known, video, audio } });
    },
    ticketRefused: () => this.ways.ticketRefused(),
  });

  readonly known = this.all.asReadonly();
  readonly deviceProblem = this.problem.asReadonly();

  constructor(private readonly ways: SourceWays) {}

  /** @param isGrainy it moves in every pixel, and is as hard to encode as a camera */
  addPattern(id: SourceId, isGrainy = false): void {
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
      grain: isGrainy,
    };
    this.patterns.postMessage(message, [port1]);
    if (isGrainy) this.grainy.add(id);
    this.tell({ type: 'made_source', id, port: port2 }, [port2]);
    this.add(id, 'pattern', BOTH);
  }

  /** The usual devices, unless others are chosen. */
  addCamera(id: SourceId, choice: DeviceChoice = {}): Promise<void> {
    return this.open(id, 'camera', choice, () => openDevices(choice));
  }

  /** Another camera of somebody who may have one already. */
  addAnotherCamera(owner: string, choice: DeviceChoice): Promise<void> {
    return this.addCamera(freeSource('camera', owner, this.ids()), choice);
  }

  addScreen(owner: string, isFilm: boolean): Promise<void> {
    const use = { size: this.ways.picture(), isFilm };
    return this.open(freeSource('screen', owner, this.ids()), 'screen', {}, () => openScreen(use));
  }

  /** What a guest sends of a source, as it comes from the room. */
  addGuest({ source, ...fates }: Offer, stream: MediaStream): void {
    if (!this.ways.composer()) return;
    // Whoever comes themselves is seen instead of what stood for them.
    this.outside.end(source);
    const [video, audio] = [stream.getVideoTracks()[0] ?? null, stream.getAudioTracks()[0] ?? null];
    this.takeTracks(source, { video, audio }, true);
    this.add(source, 'guest', fates);
    this.tellOff(source, fates.video);
  }

  /** A guest turned something of it off or on again, or lost a device. */
  guestChanged({ source, video, audio }: Offer): void {
    const known = this.all()[source];
    if (known?.origin !== 'guest' || (known.video === video && known.audio === audio)) return;
    this.set({ ...this.all(), [source]: { ...known, video, audio } });
    if (known.video !== video) this.tellOff(source, video);
  }

  /** The outside pictures that are to be at hand, each as one source, are so, and no others. */
  followOutside(wanted: readonly OutsideOnStage[]): void {
    if (!this.ways.composer()) return;
    const inputOf = new Map(wanted.map(({ source, inputId }) => [source, inputId]));
    for (const [id, { origin }] of entriesOf(this.all()))
      if (origin === 'outside' && inputOf.get(id) !== this.outside.inputOf(id)) this.lose(id);
    for (const { source, inputId } of wanted) {
      if (this.all()[source]) continue;
      const port = this.outside.receive(source, inputId);
      if (!port) continue;
      this.tell({ type: 'made_source', id: source, port }, [port]);
      this.add(source, 'outside', { video: 'gone', audio: 'gone' });
    }
  }

  /** The line to the relay has another ticket. */
  renew(line: RelayLine): void {
    this.outside.renew(line);
  }

  /** As this desk had them before it was reloaded. */
  async restore(sources: DeskMemory['sources']): Promise<void> {
    for (const [id, one] of entriesOf(sources)) {
      if (one.origin === 'pattern') this.addPattern(id, one.isGrainy);
      else await this.addCamera(id, one.choice);
    }
  }

  /** The source goes; whoever it belongs to keeps their place on stage. */
  lose(id: SourceId): void {
    this.held.letGo(id);
    this.grainy.delete(id);
    this.outside.end(id);
    this.patterns?.postMessage({ type: 'end', id } satisfies PatternMessage);
    this.tell({ type: 'drop_source', id });
    this.set(Object.fromEntries(entriesOf(this.all()).filter(([other]) => other !== id)));
  }

  /** A device was unplugged, taken by another program, or a screen is shared no longer. */
  ended(id: SourceId, kind: Kind): void {
    const source = this.all()[id];
    if (!source) return;
    if (this.held.isLive(id, kind)) return;
    if (source.origin === 'screen' && kind === 'video') {
      this.problem.set('screen_ended');
      this.ways.gone(id);
      return;
    }
    this.setFate(id, kind, 'gone');
    if (source.origin === 'camera') this.held.replace(id, kind);
  }

  /** Another camera or microphone of this desk for a source there is. */
  async choose(id: SourceId, kind: Kind, device: string | null): Promise<void> {
    this.problem.set(null);
    if (!(await this.held.choose(id, kind, device))) this.problem.set('busy');
    this.set(this.all());
  }

  /** What is open for a camera of this desk. */
  streamOf(id: SourceId): MediaStream {
    const { video, audio } = this.held.tracksOf(id);
    return new MediaStream([video, audio].filter((track) => track !== null));
  }

  devicesChanged(): void {
    this.held.devicesChanged();
  }

  /** Lets go of everything, and remembers it. Gives the worker that is left, if there is one. */
  letGo(): Worker | null {
    this.held.letAllGo();
    this.outside.letGo();
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
    this.held.hold(id, tracks, choice);
    // Whoever took their time over the browser's question may find nothing composed any more.
    if (this.ways.composer() !== composer) {
      this.held.letGo(id);
      return;
    }
    this.takeTracks(id, tracks, false);
    this.add(id, origin, { video: fateOf(tracks.video), audio: fateOf(tracks.audio) });
  }

  private takeTracks(id: SourceId, tracks: OpenDevice, fromRoom: boolean): void {
    const video = streamOf<VideoFrame>(tracks.video);
    const audio = streamOf<AudioData>(tracks.audio);
    this.tell(
      { type: 'device_source', id, fromRoom, video, audio },
      [video, audio].filter((stream) => stream !== null),
    );
  }

  /** A picture that is off is no picture: black frames of it are none either. */
  private tellOff(id: SourceId, video: DeviceFate): void {
    this.tell({ type: 'source_off', id, isOff: video === 'off' || video === 'gone' || video === 'none' });
  }

  private add(source: SourceId, origin: Origin, fates: Pick<SourceAtHand, Kind>): void {
    this.set({ ...this.all(), [source]: { source, origin, ...fates } });
  }

  private setFate(id: SourceId, kind: Kind, fate: DeviceFate): void {
    const source = this.all()[id];
    if (source) this.set({ ...this.all(), [id]: { ...source, [kind]: fate } });
  }

  private set(sources: Sources): void {
    this.all.set(sources);
    // Guests come back by themselves; a screen has to be chosen by somebody.
    const kept = entriesOf(sources).flatMap(([id, { origin }]): [SourceId, RememberedSource][] => {
      if (origin === 'pattern') return [[id, { origin, ...(this.grainy.has(id) && { isGrainy: true }) }]];
      return origin === 'camera' ? [[id, { origin, choice: this.held.choiceOf(id) }]] : [];
    });
    this.ways.remember(Object.fromEntries(kept));
    this.ways.tell(Object.values(sources));
  }

  private tell(message: ComposerMessage, transfer: Transferable[] = []): void {
    this.ways.composer()?.postMessage(message, transfer);
  }
}

const BOTH: Pick<SourceAtHand, Kind> = { video: 'there', audio: 'there' };

const entriesOf = <T>(record: Readonly<Record<SourceId, T>>) => Object.entries(record) as [SourceId, T][];
