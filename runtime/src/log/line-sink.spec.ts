import { execFileSync } from 'node:child_process';
import { closeSync, constants, mkdtempSync, openSync, readSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { setImmediate as turn } from 'node:timers/promises';
import { LineSink } from './line-sink';

describe('the sink of log lines', () => {
  const settled = async (done: () => boolean) => {
    while (!done()) await turn();
  };

  it('drops and counts what a full disk does not take, and never throws', async () => {
    const fd = openSync('/dev/full', 'w');
    const sink = new LineSink(fd);
    for (let i = 0; i < 50; i++) sink.write(`{"line":${i}}\n`);
    await settled(() => sink.dropped === 50);
    sink.write('{"line":50}\n');
    await settled(() => sink.dropped === 51);
    sink.write('the last\n');
    expect(() => sink.flushAtExit()).not.toThrow();
    closeSync(fd);
  });

  it('says how many lines are missing as soon as one can be written again', async () => {
    const dir = mkdtempSync(path.join(tmpdir(), 'juncta-sink-'));
    const fifo = path.join(dir, 'fifo');
    execFileSync('mkfifo', [fifo]);
    const fd = openSync(fifo, constants.O_RDWR | constants.O_NONBLOCK);
    const sink = new LineSink(fd);
    const readAll = () => {
      const bytes = Buffer.alloc(1_000_000);
      let text = '';
      try {
        for (;;) text += bytes.toString('utf8', 0, readSync(fd, bytes));
      } catch {
        // It is empty.
      }
      return text;
    };
    // A pipe holds 64 KiB: the first write ends within a line, the next finds no room at all.
    for (let i = 0; i < 10; i++) sink.write(`${'a'.repeat(9_999)}\n`);
    await settled(() => sink.dropped > 0);
    const torn = sink.dropped;
    sink.write('nobody reads this\n');
    await settled(() => sink.dropped === torn + 1);
    const first = readAll();
    sink.write('again\n');
    await settled(() => sink.dropped === 0);
    const [rest, report, again] = readAll().split('\n');
    expect(first.split('\n').length - 1 + torn).toBe(10);
    expect(rest).toBe('');
    expect(JSON.parse(report!)).toEqual(jasmine.objectContaining({ level: 40, dropped: torn + 1 }));
    expect(again).toBe('again');
    closeSync(fd);
    rmSync(dir, { recursive: true });
  });

  it('holds no more than its bound while the disk is slow', () => {
    const sink = new LineSink(1, 100);
    for (let i = 0; i < 9; i++) sink.write(`${' '.repeat(49)}\n`);
    expect(sink.dropped).toBe(7);
    // Nothing of it belongs into the output of the tests.
    sink['waiting'].length = 0;
  });
});
