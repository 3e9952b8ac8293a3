import type { Piece } from '@juncta/core/media/packets';
import type { TestDesk } from '../testing/desk';
import { makeMedia, piecesOf } from '../testing/media';

/**
 * The same stretch of media again and again at its own pace, its times and numbers going on, to whichever desk composes
 * just now. Gives what ends it.
 */
export function playOn(
  desk: () => TestDesk,
  session: string,
  media: { readonly seconds: number; readonly size: string; readonly kbps: number },
): () => void {
  const once = piecesOf(makeMedia(media.seconds, media.size, media.kbps), session);
  const startedMs = performance.now();
  let next = 0;
  const timer = setInterval(() => {
    const dueUs = (performance.now() - startedMs) * 1000;
    const due: Piece[] = [];
    for (;;) {
      const turn = Math.floor(next / once.length);
      const piece = once[next % once.length]!;
      const timeUs = piece.timeUs + turn * media.seconds * 1_000_000;
      if (timeUs > dueUs) break;
      due.push({ ...piece, timeUs, number: ++next });
    }
    if (due.length > 0) desk().sendAll(due);
  }, 20);
  return () => clearInterval(timer);
}
