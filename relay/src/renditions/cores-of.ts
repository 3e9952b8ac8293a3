import { readFileSync } from 'node:fs';

/** What Linux counts a process's time in: hundredths of a second (`man 5 proc`, USER_HZ). */
const TICK_MS = 10;
const OVER_MS = 3000;

/** Cores that another process takes, over the last seconds. To be asked often: it measures between questions. */
export class CoresOf {
  private readonly taken: { atMs: number; cpuMs: number }[] = [];

  constructor(private readonly pid: number) {}

  /** Null: not known yet, or the process is gone. */
  read(nowMs: number): number | null {
    const cpuMs = cpuMsOf(this.pid);
    if (cpuMs === null) return null;
    this.taken.push({ atMs: nowMs, cpuMs });
    while (this.taken.length > 2 && nowMs - this.taken[1]!.atMs > OVER_MS) this.taken.shift();
    const { atMs, cpuMs: from } = this.taken[0]!;
    return nowMs - atMs < 500 ? null : Math.round(((cpuMs - from) / (nowMs - atMs)) * 100) / 100;
  }
}

/** User and system time of a process and of the children that it has waited for; null: there is no such process. */
function cpuMsOf(pid: number): number | null {
  try {
    // The name in brackets may have blanks of its own.
    const fields = readFileSync(`/proc/${pid}/stat`, 'utf8')
      .replace(/^.*\) /s, '')
      .split(' ');
    return (Number(fields[11]) + Number(fields[12])) * TICK_MS;
  } catch {
    return null;
  }
}
