/**
 * How long the disk will last. While a show runs the relay writes the packets (for the programme recording) and what is
 * aired; when it ends, both are made into files that can be played, beside what they are made from.
 */
export interface DiskForecast {
  /** Minutes of show that still fit, to their finished recordings; 0 when none do. */
  readonly minutesLeft: number;
  readonly level: 'enough' | 'short' | 'none';
}

/** Kept free for everything else on the machine; below it recordings stop, feeds go on. */
export const RESERVE_BYTES = 256 * 1024 ** 2;
/** Warned from this on beyond what is planned: shows run over. */
const MARGIN_MINUTES = 30;
const PACKET_OVERHEAD = 1.05;
const COPIES = { packets: 1, aired: 1, finished: 2 };

/** Bytes of disk that a minute of show takes in all. */
export function bytesPerMinute(kbps: number): number {
  const copies = COPIES.packets + COPIES.aired + COPIES.finished;
  return ((kbps * 1000) / 8) * 60 * copies * PACKET_OVERHEAD;
}

/**
 * @param freeBytes what the disk has left
 * @param kbps picture and sound together
 * @param plannedMinutes what is still to come as planned; 0 when it is not known
 */
export function forecastDisk(freeBytes: number, kbps: number, plannedMinutes: number): DiskForecast {
  if (!(kbps > 0)) throw new RangeError('kbps must be above 0');
  const room = Math.max(0, freeBytes - RESERVE_BYTES);
  const minutesLeft = Math.floor(room / bytesPerMinute(kbps));
  const level =
    minutesLeft === 0 ? 'none' : minutesLeft < plannedMinutes + MARGIN_MINUTES ? 'short' : 'enough';
  return { minutesLeft, level };
}
