import { PACKET_FORMAT, ResyncReader, type Packet, type ReadItem } from '@juncta/core/media/packets';
import { createReadStream } from 'node:fs';
import { readdir } from 'node:fs/promises';
import path from 'node:path';
import { laneOf } from './lane-files';

const CHUNK_BYTES = 64 * 1024;

/** A part of a file in which the packets' numbers rise. Both ends belong to it. */
interface Stretch {
  readonly file: string;
  readonly firstByte: number;
  lastByte: number;
  readonly first: number;
  last: number;
}

/** What a session's folder holds. Its size follows the breaks of the line and the damage, not the length of the show. */
export interface SessionIndex {
  readonly stretches: readonly Stretch[];
  /** Bytes between packets that belong to none. What a crash cut short at a file's end does not count. */
  readonly damagedBytes: number;
}

/** Reads a session's folder once, in packets of bounded size. A folder that is not there holds nothing. */
export async function indexSession(dir: string): Promise<SessionIndex> {
  const names = await readdir(dir).catch((error: unknown) => {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return [];
    throw error;
  });
  const stretches: Stretch[] = [];
  let damagedBytes = 0;
  for (const name of names.filter(laneOf)) {
    const file = path.join(dir, name);
    const reader = new ResyncReader(PACKET_FORMAT);
    let open: Stretch | null = null;
    for await (const { item, at } of packetsIn(file, reader)) {
      const lastByte = at + PACKET_FORMAT.sizeOf(item) - 1;
      // Damage ends a stretch too, so that it is not read again.
      if (open && item.number > open.last && at === open.lastByte + 1) {
        open.last = item.number;
        open.lastByte = lastByte;
      } else {
        open = { file, firstByte: at, lastByte, first: item.number, last: item.number };
        stretches.push(open);
      }
    }
    damagedBytes += reader.damagedBytes;
  }
  return { stretches: stretches.sort((a, b) => a.first - b.first), damagedBytes };
}

/** The packets of a session in the order of their numbers, each once. At most the overlapping stretches are open at a time. */
export async function* readSession({ stretches }: SessionIndex): AsyncGenerator<Packet> {
  const open: { packets: AsyncGenerator<ReadItem<Packet>>; next: Packet }[] = [];
  let unopened = 0;
  let last = 0;
  try {
    for (;;) {
      let least = 0;
      for (let i = 1; i < open.length; i++) if (open[i]!.next.number < open[least]!.next.number) least = i;
      const one = open[least];
      const coming = stretches[unopened];
      if (coming && (!one || coming.first <= one.next.number)) {
        unopened += 1;
        const { file, firstByte, lastByte } = coming;
        const packets = packetsIn(file, new ResyncReader(PACKET_FORMAT, firstByte), firstByte, lastByte);
        const begun = await packets.next();
        if (!begun.done) open.push({ packets, next: begun.value.item });
        continue;
      }
      if (!one) return;
      if (one.next.number > last) {
        last = one.next.number;
        yield one.next;
      }
      const after = await one.packets.next();
      if (after.done) open.splice(least, 1);
      else one.next = after.value.item;
    }
  } finally {
    for (const { packets } of open) await packets.return(undefined);
  }
}

async function* packetsIn(
  file: string,
  reader: ResyncReader<Packet>,
  start = 0,
  end = Infinity,
): AsyncGenerator<ReadItem<Packet>> {
  for await (const chunk of createReadStream(file, { start, end, highWaterMark: CHUNK_BYTES }))
    yield* reader.push(chunk as Buffer);
  yield* reader.end();
}
