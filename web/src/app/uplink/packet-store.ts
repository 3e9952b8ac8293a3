import { decodePackets, type Packet } from '@juncta/core/media/packets';

/** A segment is closed when it is this large: small enough to be forgotten soon, large enough to be few. */
const SEGMENT_BYTES = 2 * 1024 * 1024;
/** What is kept in memory where the browser's store takes nothing: about a minute. */
const MOST_IN_MEMORY_BYTES = 40 * 1024 * 1024;

interface Segment {
  readonly name: string;
  first: number;
  last: number;
  bytes: number;
  /** Null: read from the store when it is needed. */
  handle: FileSystemSyncAccessHandle | null;
  /** Only where there is no store. */
  memory: Uint8Array[] | null;
}

/**
 * Packets of one session on the browser's own disk (OPFS), until the relay has them: a crash of the page or the
 * browser loses none. Segment after segment; what is acknowledged is forgotten a segment at a time.
 */
export class PacketStore {
  private segments: Segment[] = [];
  private memoryBytes = 0;

  private constructor(
    private readonly parent: FileSystemDirectoryHandle | null,
    private readonly dir: FileSystemDirectoryHandle | null,
    readonly session: string,
  ) {}

  /** Whether packets survive a crash. */
  get kept(): boolean {
    return this.dir !== null;
  }

  static async open(showId: string, session: string): Promise<PacketStore> {
    try {
      const parent = await showFolder(showId);
      return new PacketStore(parent, await parent.getDirectoryHandle(session, { create: true }), session);
    } catch {
      return new PacketStore(null, null, session);
    }
  }

  /** What earlier composings of this show left behind in this browser; their pages are gone. */
  static async left(showId: string, except: string): Promise<PacketStore[]> {
    try {
      const parent = await showFolder(showId);
      const stores: PacketStore[] = [];
      for await (const [session, entry] of parent.entries()) {
        if (session === except || entry.kind !== 'directory') continue;
        const store = new PacketStore(parent, entry as FileSystemDirectoryHandle, session);
        if (await store.readLeft()) stores.push(store);
      }
      return stores;
    } catch {
      return [];
    }
  }

  /** The numbers of every packet in the store. */
  async numbers(): Promise<number[]> {
    const all: number[] = [];
    for (const segment of this.segments)
      all.push(...(await this.readSegment(segment)).map(({ number }) => number));
    return all;
  }

  /** Keeps an encoded packet. Numbers rise. */
  async add(number: number, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
    let segment = this.segments.at(-1);
    if (!segment || segment.bytes > SEGMENT_BYTES) {
      segment?.handle?.flush();
      segment = await this.newSegment(number);
    }
    segment.last = number;
    if (segment.handle) segment.handle.write(bytes, { at: segment.bytes });
    else this.keepInMemory(segment, bytes);
    segment.bytes += bytes.length;
  }

  /** The packets of the segment that holds this number, or comes next after it. */
  async around(number: number): Promise<Packet[]> {
    const segment = this.segments.find(({ last }) => last >= number);
    return segment ? this.readSegment(segment) : [];
  }

  /** Forgets the segments that nobody needs any more; never the one that is being written. */
  async forget(needed: (first: number, last: number) => boolean, all = false): Promise<void> {
    const open = all ? undefined : this.segments.at(-1);
    const gone = this.segments.filter((segment) => segment !== open && !needed(segment.first, segment.last));
    this.segments = this.segments.filter((segment) => !gone.includes(segment));
    for (const segment of gone) {
      segment.handle?.close();
      this.memoryBytes -= segment.memory ? segment.bytes : 0;
      await this.dir?.removeEntry(segment.name).catch(() => undefined);
    }
    if (all && this.segments.length === 0) {
      await this.parent?.removeEntry(this.session, { recursive: true }).catch(() => undefined);
    }
  }

  flush(): void {
    this.segments.at(-1)?.handle?.flush();
  }

  close(): void {
    for (const { handle } of this.segments) handle?.close();
  }

  private async newSegment(first: number): Promise<Segment> {
    const name = `${String(first).padStart(16, '0')}.jpc`;
    const segment: Segment = { name, first, last: first, bytes: 0, handle: null, memory: null };
    try {
      const file = await this.dir?.getFileHandle(name, { create: true });
      segment.handle = (await file?.createSyncAccessHandle()) ?? null;
    } catch {
      // The store is full or closed to us: memory has to do.
    }
    if (!segment.handle) segment.memory = [];
    this.segments.push(segment);
    return segment;
  }

  private keepInMemory(segment: Segment, bytes: Uint8Array): void {
    segment.memory!.push(bytes);
    this.memoryBytes += bytes.length;
    while (this.memoryBytes > MOST_IN_MEMORY_BYTES && this.segments.length > 1) {
      const [oldest] = this.segments.splice(0, 1);
      this.memoryBytes -= oldest!.memory ? oldest!.bytes : 0;
    }
  }

  private async readSegment(segment: Segment): Promise<Packet[]> {
    if (segment.memory) return segment.memory.flatMap((bytes) => decodePackets(bytes).packets);
    const bytes = new Uint8Array(segment.bytes);
    if (segment.handle) segment.handle.read(bytes, { at: 0 });
    else {
      const file = await (await this.dir!.getFileHandle(segment.name)).getFile();
      bytes.set(new Uint8Array(await file.arrayBuffer()));
    }
    return [...decodePackets(bytes).packets];
  }

  /** False: another page still writes there, or nothing is left. */
  private async readLeft(): Promise<boolean> {
    for await (const [name, entry] of this.dir!.entries()) {
      if (entry.kind !== 'file') continue;
      const handle = entry as FileSystemFileHandle;
      try {
        // Whoever writes holds the file alone.
        (await handle.createSyncAccessHandle()).close();
      } catch {
        return false;
      }
      const { size } = await handle.getFile();
      const segment: Segment = { name, first: 0, last: 0, bytes: size, handle: null, memory: null };
      const numbers = (await this.readSegment(segment)).map(({ number }) => number);
      if (numbers.length === 0) continue;
      segment.first = numbers[0]!;
      segment.last = numbers.at(-1)!;
      this.segments.push(segment);
    }
    this.segments.sort((a, b) => a.first - b.first);
    if (this.segments.length > 0) return true;
    await this.parent?.removeEntry(this.session, { recursive: true }).catch(() => undefined);
    return false;
  }
}

/** Older than its contents' name: browsers may still hold packets there that no relay has. */
const FOLDER = 'pieces';

async function showFolder(showId: string): Promise<FileSystemDirectoryHandle> {
  const root = await navigator.storage.getDirectory();
  const packets = await root.getDirectoryHandle(FOLDER, { create: true });
  return packets.getDirectoryHandle(showId, { create: true });
}
