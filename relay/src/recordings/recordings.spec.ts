import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import pino from 'pino';
import { until } from '../testing/place';
import { finishInProcess } from './finisher';
import { Recordings } from './recordings';
import { readRuns } from './run';

describe('recordings that are being finished', () => {
  const showId = randomUUID();
  let root: string;
  let logged: string[];
  let recordings: Recordings;
  /** Of the disk, bytes; null: nobody knows. */
  let free: number | null;
  beforeEach(() => {
    root = mkdtempSync(path.join(tmpdir(), 'juncta-recordings-'));
    logged = [];
    const log = pino({ level: 'info' }, { write: (line: string) => void logged.push(line) });
    free = null;
    const house = { freeBytes: () => Promise.resolve(free), againMs: 30, finish: finishInProcess };
    recordings = new Recordings(root, log, () => undefined, house);
  });
  afterEach(async () => {
    await recordings.close();
    rmSync(root, { recursive: true, force: true });
  });
  const ended = () => {
    const run = recordings.begin(showId, randomUUID(), 1000);
    run.change({ endedAtMs: 2000 });
    return run;
  };

  it('are not held up by one that cannot be written down, and neither is what is on air', async () => {
    const [lost, other] = [ended(), ended()];
    // Where its folder was is something else, so that nothing can be written there.
    rmSync(lost.dir, { recursive: true });
    writeFileSync(lost.dir, '');
    recordings.finish(lost);
    recordings.finish(other);
    await until('the other is finished', () => other.record.finished);
    expect(logged.join('')).toContain('could not be written down');
    await until('it was tried again', () => logged.join('').split('could not be written down').length > 2);
    rmSync(lost.dir);
    await until('it can be written', () => readRuns(root, showId).length === 2);
  });

  it('wait for room rather than take what is left of it', async () => {
    free = 10;
    const run = ended();
    writeFileSync(path.join(run.dir, 'aired-1.flv'), Buffer.alloc(1000));
    recordings.finish(run);
    await until('it is said', () => logged.join('').includes('no room to finish'));
    expect(recordings.list(showId, null).map(({ status }) => status)).toEqual(['finishing', 'finishing']);
    expect(run.record.finished).toBeNull();
    free = 1_000_000;
    await until('there is room', () => run.record.finished);
  });

  it('are left as they are when the relay ends, and taken up by the next', async () => {
    const run = ended();
    recordings.finish(run);
    await recordings.close();
    expect(run.record.finished).toBeNull();
    expect(logged.join('')).not.toContain('could not be');
    const [kept] = readRuns(root, showId);
    expect(kept!.record.finished).toBeNull();
    const next = new Recordings(root, pino({ level: 'silent' }), () => undefined);
    next.takeUp();
    await until('the next has finished it', () => readRuns(root, showId)[0]!.record.finished);
    await next.close();
    expect(next.list(showId, null).map(({ kind }) => kind)).toEqual(['programme', 'aired']);
  });

  it('of a run of an earlier version are found under the name that they had', () => {
    const run = ended();
    const { record } = run;
    writeFileSync(path.join(run.dir, 'clean.mp4'), 'clip');
    const earlier = { ...record, finished: { clean: 'clean.mp4', aired: null } };
    writeFileSync(path.join(run.dir, 'run.json'), JSON.stringify(earlier));
    const next = new Recordings(root, pino({ level: 'silent' }), () => undefined);
    expect(next.fileOf(showId, record.runId, 'programme')).toBe(path.join(run.dir, 'clean.mp4'));
    expect(next.fileOf(showId, record.runId, 'aired')).toBeNull();
  });
});
