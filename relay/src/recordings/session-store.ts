import type { Packet } from '@juncta/core/media/packets';
import { Ranges, type Lane } from '@juncta/core/uplink';
import { open, mkdir, readdir, type FileHandle } from 'node:fs/promises';
import path from 'node:path';
import { laneFile, laneOf } from './lane-files';
import { writeWhole } from './write-whole';

type Acknowledge = (lane: Lane, number: number) => void;

interface Waiting {
  readonly lane: Lane;
  readonly number: number;
  /** Null: it is on disk already. */
  readonly bytes: Uint8Array | null;
  /** Tells whoever sent it. */
  readonly acknowledge: Acknowledge;
}

/**
 * The packets of one session on disk, a file for each lane. Packets that come while one batch is being written make
 * the next: each batch is forced to the disk once, and only then acknowledged.
 *
 * Each life of the relay begins files of its own: however long a show has run, nothing of it has to be read before the
 * next packet is acknowledged, and nothing is written behind what a crash cut short. A packet that an earlier life kept and
 * that comes again is kept twice; whoever reads the session takes it once.
 */
export class SessionStore {
  private readonly stored = new Ranges();
  private readonly files: Partial<Record<Lane, FileHandle>> = {};
  private waiting: Waiting[] = [];
  private writing: Promise<void> | null = null;
  private closed = false;

  private constructor(
    readonly dir: string,
    /** Counts the lives of the relay that wrote to this session, from 1. */
    private readonly life: number,
    private readonly onProblem: (error: NodeJS.ErrnoException | null) => void,
  ) {}

  /** Opens a session's folder, whether new or left by an earlier life of the relay. */
  static async open(
    dir: string,
    onProblem: (error: NodeJS.ErrnoException | null) => void,
  ): Promise<SessionStore> {
    await mkdir(dir, { recursive: true, mode: 0o700 });
    const lives = (await readdir(dir)).flatMap((name) => laneOf(name)?.life ?? []);
    return new SessionStore(dir, Math.max(0, ...lives) + 1, onProblem);
  }

  /** Keeps a packet. Once it is on disk it is acknowledged; one that is there already, with the next batch. */
  add(lane: Lane, packet: Pick<Packet, 'number'>, bytes: Uint8Array, acknowledge: Acknowledge): void {
    const isNew = this.stored.add(packet.number);
    this.waiting.push({ lane, number: packet.number, bytes: isNew ? bytes : null, acknowledge });
    this.writing ??= this.writeAll();
  }

  async close(): Promise<void> {
    this.closed = true;
    await this.writing;
    for (const file of Object.values(this.files)) await file.close();
  }

  private async writeAll(): Promise<void> {
    while (this.waiting.length > 0) {
      const batch = this.waiting;
      this.waiting = [];
      try {
        for (const lane of LANES) await this.write(lane, batch);
        this.onProblem(null);
      } catch (error) {
        // Not acknowledged, so the desk keeps it and sends it again.
        for (const { number, bytes } of batch) if (bytes) this.stored.delete(number);
        this.onProblem(error as NodeJS.ErrnoException);
      }
    }
    this.writing = null;
  }

  private async write(lane: Lane, batch: readonly Waiting[]): Promise<void> {
    const mine = batch.filter((one) => one.lane === lane);
    if (mine.length === 0) return;
    const bytes = mine.flatMap((one) => (one.bytes ? [one.bytes] : []));
    if (bytes.length > 0) {
      const file = (this.files[lane] ??= await open(
        path.join(this.dir, laneFile(lane, this.life)),
        'a',
        0o600,
      ));
      const { size } = await file.stat();
      try {
        await writeWhole(file, bytes);
        await file.datasync();
      } catch (error) {
        // What was half written is no part of the session.
        await file.truncate(size).catch(() => undefined);
        throw error;
      }
    }
    if (this.closed) return;
    // A lane may have gone over to another line within one batch: each is told of its own.
    mine.forEach(({ number, acknowledge }, i) => {
      if (mine[i + 1]?.acknowledge !== acknowledge) acknowledge(lane, number);
    });
  }
}

const LANES = ['live', 'backlog'] as const;
