/** How far the rehearsal's clock is from the machine's; looked at twice a second, as nobody can be told by it. */
const LOOK_EVERY_MS = 500;

/** The time that slots and windows go by at a place: a rehearsal may move it. Without CLOCK_URL the machine's. */
export class RehearsalTime {
  private aheadMs = 0;

  start(tick: () => void): void {
    const url = process.env['CLOCK_URL'];
    const look = async () => {
      if (url) await this.look(url);
      tick();
    };
    setInterval(() => void look(), LOOK_EVERY_MS).unref();
  }

  /** Looks now: whoever books right after the clock was moved is judged by the new time. */
  async look(url = process.env['CLOCK_URL']): Promise<void> {
    if (!url) return;
    const read = await fetch(new URL('/clock', url), { signal: AbortSignal.timeout(1000) })
      .then((response) => response.json() as Promise<{ nowMs?: number }>)
      .catch(() => null);
    if (read?.nowMs !== undefined) this.aheadMs = read.nowMs - Date.now();
  }

  nowMs = (): number => Date.now() + this.aheadMs;
}
