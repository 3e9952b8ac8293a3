import { write, writeSync } from 'node:fs';
import type { DestinationStream } from 'pino';

/** What waits while the disk is slow. Beyond it lines are dropped: a log must not grow into the memory of what airs. */
const MAX_WAITING_BYTES = 1_000_000;

/**
 * Log lines on their way into a file or pipe. Writing never blocks the process and never throws: a line that cannot be
 * written (a full disk, a reader that is gone) is dropped and counted, and the count is logged as soon as something can
 * be written again. One write is in flight at a time.
 */
export class LineSink implements DestinationStream {
  private waiting: string[] = [];
  private waitingBytes = 0;
  private writing = false;
  private droppedLines = 0;
  /** The last write ended within a line: the next begins on a line of its own. */
  private isTorn = false;

  /** @param fd an open file descriptor; stays open */
  constructor(
    private readonly fd: number,
    private readonly maxWaitingBytes = MAX_WAITING_BYTES,
  ) {}

  /** Lines that were dropped and are not reported in the log yet. */
  get dropped(): number {
    return this.droppedLines;
  }

  write(line: string): void {
    const bytes = Buffer.byteLength(line);
    if (this.waitingBytes + bytes > this.maxWaitingBytes) {
      this.droppedLines += 1;
      return;
    }
    this.waiting.push(line);
    this.waitingBytes += bytes;
    // What is logged within one turn of the loop is written together.
    if (!this.writing) {
      this.writing = true;
      setImmediate(() => this.writeWaiting());
    }
  }

  /** One attempt to write what waits, synchronously: for the end of the process only. */
  flushAtExit(): void {
    const { text } = this.takeWaiting();
    try {
      if (text !== '') writeSync(this.fd, text);
    } catch {
      // Nobody is left who could be told.
    }
  }

  private writeWaiting(): void {
    const { text, lines, reported } = this.takeWaiting();
    if (lines === 0) {
      this.writing = false;
      return;
    }
    const bytes = Buffer.from(text);
    write(this.fd, bytes, (error, written) => {
      const isWhole = !error && written === bytes.length;
      if (isWhole) this.droppedLines -= reported;
      else this.droppedLines += error ? lines : linesAfter(bytes, written);
      if (!error) this.isTorn = !isWhole;
      // Not at once: a disk that takes nothing is not asked in a tight loop.
      setImmediate(() => this.writeWaiting());
    });
  }

  private takeWaiting(): { text: string; lines: number; reported: number } {
    const lines = this.waiting;
    const reported = lines.length > 0 ? this.droppedLines : 0;
    this.waiting = [];
    this.waitingBytes = 0;
    const report = reported > 0 ? droppedLine(reported) : '';
    return {
      text: lines.length > 0 ? `${this.isTorn ? '\n' : ''}${report}${lines.join('')}` : '',
      lines: lines.length,
      reported,
    };
  }
}

/** pino's level 40 is a warning. */
const droppedLine = (count: number): string =>
  `${JSON.stringify({ level: 40, time: Date.now(), msg: 'log lines were dropped', dropped: count })}\n`;

function linesAfter(bytes: Buffer, written: number): number {
  let count = 0;
  for (let at = bytes.indexOf(10, written); at >= 0; at = bytes.indexOf(10, at + 1)) count += 1;
  return count;
}
