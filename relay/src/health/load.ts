const OVER_MS = 3000;

/** What this process takes of one core, %, over the last seconds. To be asked often: it measures between questions. */
export class Load {
  private readonly taken: { atMs: number; cpuUs: number }[] = [];

  percent(nowMs = performance.now(), cpu = process.cpuUsage()): number {
    this.taken.push({ atMs: nowMs, cpuUs: cpu.user + cpu.system });
    while (this.taken.length > 2 && nowMs - this.taken[1]!.atMs > OVER_MS) this.taken.shift();
    const first = this.taken[0]!;
    const ms = nowMs - first.atMs;
    return ms < 500 ? 0 : Math.round((cpu.user + cpu.system - first.cpuUs) / 10 / ms);
  }
}
