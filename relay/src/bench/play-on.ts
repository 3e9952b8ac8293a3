import type { Packet } from '@juncta/core/media/packets';
import type { TestDesk } from '../testing/desk';
import { makeMedia, packetsOf } from '../testing/media';

/**
 * The same stretch of media again and again at its own pace, its times and numbers going on, to whichever desk composes
 * just now. Gives what ends it.
 */
export function playOn(
  desk: () => TestDesk,
  session: string,
  media: { readonly seconds: number; readonly size: string; readonly kbps: number },
): () => void {
  const once = packetsOf(makeMedia(media.seconds, media.size, media.kbps), session);
  const startedMs = performance.now();
  let next = 0;
  const timer = setInterval(() => {
    const dueUs = (performance.now() - startedMs) * 1000;
    const due: Packet[] = [];
    for (;;) {
      const turn = Math.floor(next / once.length);
      const packet = once[next % once.length]!;
      const timeUs = packet.timeUs + turn * media.seconds * 1_000_000;
      if (timeUs > dueUs) break;
      due.push({ ...packet, timeUs, number: ++next });
    }
    if (due.length > 0) desk().sendAll(due);
  }, 20);
  return () => clearInterval(timer);
}
