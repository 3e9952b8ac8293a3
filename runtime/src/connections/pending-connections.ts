/** How many connections may be open that have not said who they are, and for how long. */
export interface PendingLimits {
  /** From everywhere. */
  readonly total: number;
  readonly perAddress: number;
  /** One that has said nothing for this long is closed. */
  readonly patienceMs: number;
}

interface Pending {
  readonly address: string;
  readonly close: () => void;
  readonly timer: NodeJS.Timeout;
}

/**
 * Connections that were opened and have not been admitted. Where there are too many, the oldest makes room, first of the
 * same address: somebody who opens silent ones by the hundred loses their own, and whoever speaks at once gets in.
 */
export class PendingConnections<T extends object> {
  /** In the order in which they came. */
  private readonly pending = new Map<T, Pending>();
  private readonly perAddress = new Map<string, number>();

  constructor(private readonly limits: PendingLimits) {}

  get size(): number {
    return this.pending.size;
  }

  /** @param close ends this connection; called at most once, and not after {@link remove} */
  add(connection: T, address: string, close: () => void): void {
    const { total, perAddress, patienceMs } = this.limits;
    if (this.count(address) >= perAddress) this.evict((one) => one.address === address);
    else if (this.pending.size >= total) this.evict(() => true);
    const timer = setTimeout(() => this.drop(connection), patienceMs);
    timer.unref();
    this.pending.set(connection, { address, close, timer });
    this.perAddress.set(address, this.count(address) + 1);
  }

  /** It was admitted, or is gone. Safe to repeat. */
  remove(connection: T): void {
    const one = this.pending.get(connection);
    if (!one) return;
    clearTimeout(one.timer);
    this.pending.delete(connection);
    const left = this.count(one.address) - 1;
    if (left > 0) this.perAddress.set(one.address, left);
    else this.perAddress.delete(one.address);
  }

  private count(address: string): number {
    return this.perAddress.get(address) ?? 0;
  }

  private evict(goes: (one: Pending) => boolean): void {
    for (const [connection, one] of this.pending) {
      if (!goes(one)) continue;
      this.drop(connection);
      return;
    }
  }

  private drop(connection: T): void {
    const one = this.pending.get(connection);
    this.remove(connection);
    one?.close();
  }
}
