/** How the items of a file that are written one after another are told apart, and found again behind damage. */
export interface FramedFormat<T> {
  /** Reads all whole items at the start of `bytes`. */
  decode(bytes: Uint8Array): {
    readonly items: readonly T[];
    readonly consumed: number;
    /** True: what stands at `consumed` is no item. False: it is the beginning of one, or the end. */
    readonly isBroken: boolean;
  };
  /** Bytes of an item in the file. */
  sizeOf(item: T): number;
  /** The first offset of `from` or more at which an item may begin; -1: none in `bytes`. */
  findStart(bytes: Uint8Array, from: number): number;
  /** So many bytes at the end may hold the beginning of a start that `findStart` does not know yet. */
  readonly startBytes: number;
}

export interface ReadItem<T> {
  readonly item: T;
  /** Its offset in the file. */
  readonly at: number;
}

/**
 * Reads a file of framed items in chunks of any size. Damage costs the item it is in: reading goes on at the next item
 * that is whole. Memory is bounded by the longest item and the chunk, whatever the length of the file.
 */
export class ResyncReader<T> {
  private rest: Uint8Array = new Uint8Array(0);
  /** Offset in the file of the first byte of `rest`. */
  private restAt: number;
  /** Bytes that belong to no whole item, since the last whole one. */
  private skipping = 0;
  private skipped = 0;

  /** @param startAt offset in the file at which the first chunk begins */
  constructor(
    private readonly format: FramedFormat<T>,
    startAt = 0,
  ) {
    this.restAt = startAt;
  }

  /** Damaged bytes before an item that was read. What stands behind the last is {@link tornBytes}. */
  get damagedBytes(): number {
    return this.skipped;
  }

  /** Bytes behind the last whole item, once {@link end} was called: a write that a crash cut short. */
  get tornBytes(): number {
    return this.skipping + this.rest.length;
  }

  /** The items that are whole now. They are views into memory that is not written again. */
  push(chunk: Uint8Array): ReadItem<T>[] {
    this.rest = this.rest.length === 0 ? chunk : joined(this.rest, chunk);
    return this.read(false);
  }

  /** Nothing more comes: an item that claims more than there is hides no other behind it. */
  end(): ReadItem<T>[] {
    return this.read(true);
  }

  private read(isLast: boolean): ReadItem<T>[] {
    const { format } = this;
    const found: ReadItem<T>[] = [];
    for (;;) {
      const { items, consumed, isBroken } = format.decode(this.rest);
      let at = this.restAt;
      for (const item of items) {
        found.push({ item, at });
        at += format.sizeOf(item);
      }
      if (items.length > 0) {
        this.skipped += this.skipping;
        this.skipping = 0;
      }
      this.drop(consumed);
      if (this.rest.length === 0 || !(isBroken || isLast)) return found;
      const next = format.findStart(this.rest, 1);
      if (next < 0) {
        const kept = isLast ? 0 : Math.min(format.startBytes, this.rest.length - 1);
        this.skip(this.rest.length - kept);
        return found;
      }
      this.skip(next);
    }
  }

  private skip(bytes: number): void {
    this.skipping += bytes;
    this.drop(bytes);
  }

  private drop(bytes: number): void {
    this.rest = this.rest.subarray(bytes);
    this.restAt += bytes;
  }
}

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(a.length + b.length);
  bytes.set(a);
  bytes.set(b, a.length);
  return bytes;
}
