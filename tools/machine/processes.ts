import { readFileSync } from 'node:fs';

/**
 * A process, so that it cannot be taken for another that got its number later: the pid together with when the
 * kernel started it.
 */
export interface ProcessMark {
  readonly pid: number;
  /** Field 22 of /proc/PID/stat: clock ticks since the machine started. */
  readonly startTicks: number;
  /** Of the running kernel: ticks of before a reboot mean nothing. */
  readonly bootId: string;
  readonly name: string;
}

export function markOf(pid: number, name: string): ProcessMark | null {
  const startTicks = startTicksOf(pid);
  return startTicks === null ? null : { pid, startTicks, bootId: bootId(), name };
}

/** Whether this very process still runs. One that ended and waits to be collected does not. */
export function isRunning(mark: ProcessMark): boolean {
  return mark.bootId === bootId() && startTicksOf(mark.pid) === mark.startTicks;
}

/** Ends processes: asks, waits up to `patienceMs`, then forces. `signal` is what each is asked with. */
export async function endProcesses(
  marks: readonly ProcessMark[],
  patienceMs: number,
  signalFor: (mark: ProcessMark) => NodeJS.Signals = () => 'SIGTERM',
): Promise<void> {
  for (const mark of marks) signal(mark, signalFor(mark));
  const until = Date.now() + patienceMs;
  while (marks.some(isRunning) && Date.now() < until) await pause(50);
  for (const mark of marks) signal(mark, 'SIGKILL');
  while (marks.some(isRunning)) await pause(20);
}

function signal(mark: ProcessMark, name: NodeJS.Signals): void {
  if (!isRunning(mark)) return;
  try {
    process.kill(mark.pid, name);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ESRCH') throw error;
  }
}

export const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

function startTicksOf(pid: number): number | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // The name stands in brackets and may hold anything, brackets and blanks too.
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    return fields[0] === 'Z' ? null : Number(fields[19]);
  } catch {
    return null;
  }
}

const bootId = (): string => readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim();
