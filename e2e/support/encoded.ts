import type { Page, Worker } from '@playwright/test';

type Noting = typeof globalThis & { encodedUs?: Map<VideoEncoder, number[]> };

/**
 * Notes every video frame that the page's workers hand to their encoders, from soon after a worker begins. The slate has
 * an encoder of its own, whose frames come between those of the programme when the machine is busy.
 *
 * @returns what was noted until now, by the encoder that encoded most: programme clock, s
 */
export function noteEncoded(page: Page): () => Promise<number[]> {
  const workers: Worker[] = [];
  page.on('worker', (worker) => {
    workers.push(worker);
    worker
      .evaluate(() => {
        const noting = globalThis as Noting;
        const encodedUs = (noting.encodedUs = new Map<VideoEncoder, number[]>());
        // eslint-disable-next-line @typescript-eslint/unbound-method -- called with its own encoder below
        const { encode } = VideoEncoder.prototype;
        VideoEncoder.prototype.encode = function (frame, options) {
          const mine = encodedUs.get(this);
          if (mine) mine.push(frame.timestamp);
          else encodedUs.set(this, [frame.timestamp]);
          encode.call(this, frame, options);
        };
      })
      // It has ended meanwhile.
      .catch(() => undefined);
  });
  return async () => {
    const all = await Promise.all(
      workers.map((worker) =>
        worker.evaluate(() => [...((globalThis as Noting).encodedUs?.values() ?? [])]).catch(() => []),
      ),
    );
    const most = all.flat().reduce((a, b) => (b.length > a.length ? b : a), []);
    return most.map((us) => us / 1e6);
  };
}

/**
 * Where `some` stands within `all` without one missing between: both rising, in s, each from a beginning of its own.
 *
 * @returns the place in `all` of the first of them; null: something is missing, or stands elsewhere
 */
export function findWhole(
  all: readonly number[],
  some: readonly number[],
  toleranceS = 0.002,
): number | null {
  for (let from = 0; from + some.length <= all.length; from++) {
    const holds = some.every((at, k) => Math.abs(all[from + k]! - all[from]! - (at - some[0]!)) < toleranceS);
    if (holds) return from;
  }
  return null;
}
