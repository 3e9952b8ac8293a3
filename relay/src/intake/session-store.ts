import { decodePieces, Ranges, type Lane, type Piece } from '@juncta/core/relay';
import { open, mkdir, readFile, truncate, type FileHandle } from 'node:fs/promises';
import path from 'node:path';
import { writeWhole } from '../recordings/write-whole';

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
 * The pieces of one session on disk, a file for each lane. Pieces that come while one batch is being written make
 * the next: each batch is forced to the disk once, and only then acknowledged.
 */
export class SessionStore {
  private readonly stored = new Ranges();
  private readonly files: Partial<Record<Lane, FileHandle>> = {};
  private waiting: Waiting[] = [];
  private writing: Promise<void> | null = null;
  private closed = false;

  private constructor(
    readonly dir: string,
    private readonly onProblem: (error: NodeJS.ErrnoException | null) => void,
  ) {}

  /** Opens a session's folder, whether new or left by an earlier run of the relay. */
  static async open(
    dir: string,
    onProblem: (error: NodeJS.ErrnoException | null) => void,
  ): Promise<SessionStore> {
    await mkdir(dir, { recursive: true });
    const store = new SessionStore(dir, onProblem);
    for (const lane of LANES) {
      const { pieces, consumed, bytes } = await readLane(dir, lane);
      for (const piece of pieces) store.stored.add(piece.number);
      // What a crash left half written would hide all that is written after it.
      if (consumed < bytes) await truncate(laneFile(dir, lane), consumed);
    }
    return store;
  }

  /** Keeps a piece. Once it is on disk it is acknowledged; one that is there already, with the next batch. */
  add(lane: Lane, piece: Pick<Piece, 'number'>, bytes: Uint8Array, acknowledge: Acknowledge): void {
    const isNew = this.stored.add(piece.number);
    this.waiting.push({ lane, number: piece.number, bytes: isNew ? bytes : null, acknowledge });
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
      const file = (this.files[lane] ??= await open(laneFile(this.dir, lane), 'a', 0o600));
      const { size } = await file.stat();
      try {
        await writeWhole(file, bytes);
        await file.datasync();
      } catch (error) {
        // Half a piece at the end would hide all that follows it.
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

/** All pieces of a session's folder, in order and each once. A write cut short by a crash ends its file. */
export async function readSession(dir: string): Promise<Piece[]> {
  const byNumber = new Map<number, Piece>();
  for (const lane of LANES) {
    for (const piece of (await readLane(dir, lane)).pieces) byNumber.set(piece.number, piece);
  }
  return [...byNumber.values()].sort((a, b) => a.number - b.number);
}

const LANES = ['live', 'backlog'] as const;
const laneFile = (dir: string, lane: Lane): string => path.join(dir, `${lane}.jpc`);

async function readLane(dir: string, lane: Lane) {
  const bytes = await readFile(laneFile(dir, lane)).catch((error: unknown) => {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return new Uint8Array(0);
    throw error;
  });
  const { pieces, consumed } = decodePieces(bytes);
  return { pieces, consumed, bytes: bytes.length };
}
