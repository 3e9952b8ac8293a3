import type { DeviceFate, SourceId } from '@juncta/core/stage';
import { listDevices, openDevices, type DeviceChoice, type OpenDevice } from './devices';

export type Kind = 'video' | 'audio';
export const KINDS: readonly Kind[] = ['video', 'audio'];

export interface HeldWays {
  /** Null: there is no such source any more. */
  fateOf(id: SourceId, kind: Kind): DeviceFate | null;
  /** Another track than before is held for a source, or none. */
  changed(id: SourceId, kind: Kind, fate: DeviceFate, tracks: OpenDevice): void;
}

/** A camera and a microphone, or a screen, of one source. */
interface Held {
  tracks: OpenDevice;
  choice: DeviceChoice;
  /** The browser's ids of the devices that are to be used when they are there. */
  wanted: Readonly<Record<Kind, string | undefined>>;
}

/**
 * Devices that are open for sources: one that vanishes is replaced by another that is left, and taken back when it
 * returns.
 */
export class HeldDevices {
  private readonly held = new Map<SourceId, Held>();
  /** One after another, or two lost cameras would be given the same one that is left. */
  private turns: Promise<void> = Promise.resolve();

  constructor(private readonly ways: HeldWays) {}

  hold(id: SourceId, tracks: OpenDevice, choice: DeviceChoice): void {
    this.held.set(id, {
      tracks,
      choice,
      wanted: { video: deviceOf(tracks.video), audio: deviceOf(tracks.audio) },
    });
  }

  ids(): SourceId[] {
    return [...this.held.keys()];
  }

  tracksOf(id: SourceId): OpenDevice {
    return this.held.get(id)?.tracks ?? { video: null, audio: null };
  }

  choiceOf(id: SourceId): DeviceChoice {
    return this.held.get(id)?.choice ?? {};
  }

  /** What ended is not what is used now: news of the device before, which crossed the coming of the next. */
  isLive(id: SourceId, kind: Kind): boolean {
    return this.tracksOf(id)[kind]?.readyState === 'live';
  }

  letGo(id: SourceId): void {
    const { video, audio } = this.tracksOf(id);
    video?.stop();
    audio?.stop();
    this.held.delete(id);
  }

  letAllGo(): void {
    for (const id of this.ids()) this.letGo(id);
  }

  /** A device vanished: one of the same kind that nobody uses here stands in for it. */
  replace(id: SourceId, kind: Kind): void {
    this.inTurn(async () => {
      const used = [...this.held.values()].map(({ tracks }) => deviceOf(tracks[kind]));
      for (const device of await listDevices()) {
        if (device.kind !== kind || used.includes(device.id)) continue;
        if (await this.use(id, kind, device.id, 'replaced')) return;
      }
    });
  }

  /** Devices came or went: what is there again is taken back. */
  devicesChanged(): void {
    this.inTurn(async () => {
      const there = new Set((await listDevices()).map((device) => device.id));
      for (const [id, { wanted }] of this.held) {
        for (const kind of KINDS) {
          const device = wanted[kind];
          const fate = this.ways.fateOf(id, kind);
          if (device !== undefined && there.has(device) && (fate === 'gone' || fate === 'replaced'))
            await this.use(id, kind, device, 'there');
        }
      }
    });
  }

  /**
   * Another device from now on, or none; what is used goes on until it is there.
   *
   * @returns false: it could not be opened, and nothing is changed
   */
  async choose(id: SourceId, kind: Kind, device: string | null): Promise<boolean> {
    let isDone = false;
    this.inTurn(async () => {
      const held = this.held.get(id);
      if (!held) return;
      if (device === null) this.exchange(id, held, kind, null, 'none');
      else if (!(await this.use(id, kind, device, 'there'))) return;
      held.choice = { ...held.choice, [kind]: device };
      held.wanted = { ...held.wanted, [kind]: device ?? undefined };
      isDone = true;
    });
    await this.turns;
    return isDone;
  }

  private async use(id: SourceId, kind: Kind, device: string, fate: DeviceFate): Promise<boolean> {
    const without = kind === 'video' ? 'audio' : 'video';
    const got = await openDevices({ [kind]: device, [without]: null });
    if (typeof got === 'string') return false;
    const held = this.held.get(id);
    // It was removed meanwhile.
    if (!held || this.ways.fateOf(id, kind) === null) {
      got[kind]?.stop();
      return false;
    }
    this.exchange(id, held, kind, got[kind], fate);
    return true;
  }

  private exchange(
    id: SourceId,
    held: Held,
    kind: Kind,
    track: MediaStreamTrack | null,
    fate: DeviceFate,
  ): void {
    const before = held.tracks[kind];
    held.tracks = { ...held.tracks, [kind]: track };
    this.ways.changed(id, kind, fate, held.tracks);
    before?.stop();
  }

  private inTurn(act: () => Promise<void>): void {
    this.turns = this.turns.then(act).catch(() => undefined);
  }
}

/** How it is with a track that was just opened, or with none. */
export const fateOf = (track: MediaStreamTrack | null): DeviceFate => (track ? 'there' : 'none');

const deviceOf = (track: MediaStreamTrack | null): string | undefined => track?.getSettings().deviceId;
