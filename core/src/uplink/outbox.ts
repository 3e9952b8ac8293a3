import { Ranges } from './ranges';

export type Lane = 'live' | 'backlog';

/**
 * What a composing desk has not had acknowledged. New packets go out on the live lane; what was under way when the
 * connection broke, and what was made while there was none, is *missed* and follows on the backlog lane. After a
 * break the live lane goes on at a keyframe, so that what comes can be shown at once.
 *
 * Knows numbers only: whoever drives it keeps the bytes and does the sending.
 */
export class Outbox {
  private readonly missed = new Ranges();
  private readonly underWay: Record<Lane, number[]> = { live: [], backlog: [] };
  private open = false;
  private needsKey = true;

  /** Packets that wait for the backlog lane, or are under way on it: nobody knows yet that they are safe. */
  get missedCount(): number {
    return this.missed.count + this.underWay.backlog.length;
  }

  /** Whether the encoder should make a keyframe now, because the live lane waits for one. */
  get wantsKey(): boolean {
    return this.open && this.needsKey;
  }

  /** A new packet. True: it is to be sent on the live lane now. */
  add(number: number, key: boolean, track: 'video' | 'audio'): boolean {
    if (this.open && this.needsKey && key && track === 'video') this.needsKey = false;
    if (!this.open || this.needsKey) {
      this.missed.add(number);
      return false;
    }
    this.underWay.live.push(number);
    return true;
  }

  /** A packet that an earlier run of the desk left behind. */
  addLeft(number: number): void {
    this.missed.add(number);
  }

  /** The live lane stands. */
  connected(): void {
    this.open = true;
    this.needsKey = true;
  }

  /** A lane is gone; what was under way on it may or may not have arrived, and is sent again. */
  lost(lane: Lane): void {
    for (const number of this.underWay[lane]) this.missed.add(number);
    this.underWay[lane] = [];
    if (lane === 'live') this.open = false;
  }

  /** The live lane takes too little: what comes goes to the backlog until the next keyframe. */
  skipToKey(): void {
    this.needsKey = true;
  }

  /** Whether this packet should go out on the backlog lane; counts it as under way there if so. */
  takeMissed(number: number): boolean {
    if (!this.missed.delete(number)) return false;
    this.underWay.backlog.push(number);
    return true;
  }

  /** Everything sent on that lane up to this packet is on disk over there. */
  acknowledged(lane: Lane, number: number): void {
    const at = this.underWay[lane].indexOf(number);
    if (at >= 0) this.underWay[lane].splice(0, at + 1);
  }

  /** Whether anything from `from` to `to` (both included) still has to be kept. */
  needs(from: number, to: number): boolean {
    const within = (number: number) => number >= from && number <= to;
    return (
      this.missed.touches(from, to) || this.underWay.live.some(within) || this.underWay.backlog.some(within)
    );
  }

  /** The lowest number that waits for the backlog lane; null when none does. */
  get firstMissed(): number | null {
    return this.missed.first;
  }

  /** Nothing is left to be sent or acknowledged. */
  get done(): boolean {
    return this.missed.empty && this.underWay.live.length === 0 && this.underWay.backlog.length === 0;
  }
}
