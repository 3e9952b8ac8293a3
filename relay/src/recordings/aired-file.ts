import { encodeTag, FLV_HEADER, type FlvTag } from '@juncta/core/media/flv';
import { open, type FileHandle } from 'node:fs/promises';
import { writeWhole } from './write-whole';

/** Forced to the disk this often: what a crash of the machine may cost. */
const SYNC_EVERY_MS = 1000;
/** When the disk takes nothing for so many bytes, tags are let go: the recording gives way before the feeds do. */
const MOST_WAITING_BYTES = 8_000_000;

/** What went out, written tag by tag as it went: a crash costs what the disk had not taken yet. */
export class AiredFile {
  private waiting: Uint8Array[] = [];
  private waitingBytes = 0;
  private writing: Promise<void> | null = null;
  private file: FileHandle | null = null;
  private syncedAtMs = 0;
  private end = 0;
  /** Tags that the disk did not take. */
  lost = 0;

  /** @param headers without which what follows cannot be read: they stand first, whenever the disk takes the first of it */
  constructor(
    private readonly path: string,
    private readonly headers: readonly FlvTag[],
    private readonly onProblem: (error: NodeJS.ErrnoException | null) => void,
  ) {}

  write(tag: FlvTag): void {
    if (this.waitingBytes > MOST_WAITING_BYTES) {
      this.lost += 1;
      return;
    }
    const bytes = encodeTag(tag);
    this.waiting.push(bytes);
    this.waitingBytes += bytes.length;
    this.writing ??= this.writeAll();
  }

  async close(): Promise<void> {
    await this.writing;
    await this.file?.datasync().catch(() => undefined);
    await this.file?.close();
    this.file = null;
  }

  private async writeAll(): Promise<void> {
    // What comes within one turn of the loop is written together.
    await new Promise((next) => setImmediate(next));
    while (this.waiting.length > 0) {
      const batch = this.waiting;
      this.waiting = [];
      this.waitingBytes = 0;
      try {
        this.file ??= await open(this.path, 'w', 0o600);
        const begun = this.end > 0 ? [] : [FLV_HEADER, ...this.headers.map(encodeTag)];
        this.end += await writeWhole(this.file, [...begun, ...batch], this.end);
        if (Date.now() - this.syncedAtMs > SYNC_EVERY_MS) {
          await this.file.datasync();
          this.syncedAtMs = Date.now();
        }
        this.onProblem(null);
      } catch (error) {
        this.lost += batch.length;
        this.onProblem(error as NodeJS.ErrnoException);
      }
    }
    this.writing = null;
  }
}
