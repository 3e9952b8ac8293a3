import type { Packet } from '@juncta/core/media/packets';
import { indexSession, readSession } from '../recordings/session-reader';

/** All packets of a session's folder, in order and each once. */
export async function storedPackets(dir: string): Promise<Packet[]> {
  const packets: Packet[] = [];
  for await (const packet of readSession(await indexSession(dir))) packets.push(packet);
  return packets;
}
