import { encodePacket, type Packet } from '@juncta/core/media/packets';
import { tagOf, type ProgrammeFormat, type Spliced } from '@juncta/core/programme';
import { decodeFile, TAG } from '@juncta/core/media/flv';
import type { Lane } from '@juncta/core/uplink';
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import pino from 'pino';
import { until } from '../testing/place';
import { storedPackets } from '../testing/stored';
import { Recorder } from './recorder';
import { finishInProcess } from './finisher';
import { Recordings } from './recordings';
import { readRuns } from './run';

const FORMAT: ProgrammeFormat = {
  width: 640,
  height: 360,
  sets: { sps: new Uint8Array([0x67, 0x42, 0xc0, 0x1e]), pps: new Uint8Array([0x68, 0xce]) },
  audioConfig: new Uint8Array([0x11, 0x90]),
  videoKbps: 1000,
  audioKbps: 128,
};

describe('what records a programme', () => {
  const showId = randomUUID();
  const session = randomUUID();
  let root: string;
  let recorder: Recorder;
  let recordings: Recordings;
  let nowMs = 0;
  const runId = randomUUID();

  beforeEach(() => {
    root = mkdtempSync(path.join(tmpdir(), 'juncta-recorder-'));
    acknowledged.length = 0;
    const log = pino({ level: 'silent' });
    const house = { freeBytes: () => Promise.resolve(0), againMs: 60_000, finish: finishInProcess };
    recordings = new Recordings(root, log, () => undefined, house);
    recorder = new Recorder({ dir: root, showId, recordings, log, changed: () => undefined });
  });
  afterEach(async () => {
    await recorder.close();
    await recordings.close();
    rmSync(root, { recursive: true, force: true });
  });

  /** From now on nothing can be written to the show's folder, as on a full disk, until the answer is called. */
  const fillDisk = (): (() => void) => {
    const shows = path.join(root, 'shows');
    rmSync(shows, { recursive: true, force: true });
    writeFileSync(shows, '');
    return () => {
      rmSync(shows);
      mkdirSync(shows);
    };
  };
  const record = (at: number, of = session, offset = 0) => {
    const units = [new Uint8Array([0x65, 1, 2])];
    const one: Spliced = { track: 'video', at, key: true, units, from: 'source' };
    recorder.push({ frame: one, tag: tagOf(one), stream: { session: of, offset }, format: FORMAT });
  };
  const tick = () => recorder.tick((nowMs += 2000));
  const kept = () => readRuns(root, showId)[0]?.record;
  const acknowledged: number[] = [];
  const keep = (number: number, lane: Lane = 'live') => {
    const packet: Packet = {
      session,
      number,
      track: 'video',
      key: true,
      slate: false,
      timeUs: number * 33_333,
      durationUs: 33_333,
      payload: new Uint8Array([1, 2, 3]),
    };
    recorder.keep(lane, packet, encodePacket(packet), (_, acknowledgedNumber) =>
      acknowledged.push(acknowledgedNumber),
    );
  };

  it('begins on a full disk without a word to anybody on air, and has it all once there is room', async () => {
    const free = fillDisk();
    expect(recorder.begin(runId, 5000, 0)).toBe(5000);
    expect(recorder.current).toEqual({ runId, writing: false });
    keep(1);
    record(96_000);
    record(98_000);
    expect(recorder.showTimeMs(98_000 + 46_000)).toBe(1000);
    await until('it was tried', () => !recorder.disk.recording);
    free();
    tick();
    await until('it is written down', kept);
    expect(kept()).toEqual(jasmine.objectContaining({ runId, delayMs: 5000, width: 640 }));
    expect(kept()!.sessions).toEqual([{ session, offset: -96_000 }]);
    expect(acknowledged).toEqual([]);
    await until('what is sent again is acknowledged', () => {
      keep(1);
      return acknowledged.includes(1);
    });
    record(100_000);
    const { file } = kept()!.aired[0]!;
    const aired = path.join(root, 'shows', showId, runId, file);
    const tags = () => decodeFile(readFileSync(aired)).tags;
    await until('it can be read from its start', () => {
      try {
        return tags().some(({ kind, timeMs }) => kind === TAG.videoFrame && timeMs === 83);
      } catch {
        return false;
      }
    });
    expect(
      tags()
        .slice(0, 3)
        .map(({ kind }) => kind),
    ).toEqual([TAG.data, TAG.videoFrame, TAG.audioFrame]);
    expect(recorder.disk.recording).toBeTrue();
  });

  it('keeps a desk that comes while the disk is full, and the end that comes then too', async () => {
    recorder.begin(runId, 0, 0);
    record(0);
    await until('it is written down', () => kept()?.sessions.length === 1);
    const free = fillDisk();
    const other = randomUUID();
    record(48_000, other, 48_000);
    await recorder.end();
    expect(recorder.current).toBeNull();
    free();
    tick();
    await until('all of it is written down', () => kept()?.endedAtMs);
    expect(kept()!.sessions.map((one) => [one.session, one.offset])).toEqual([
      [session, 0],
      [other, 48_000],
    ]);
  });

  it('acknowledges at once what nobody wants to keep', () => {
    acknowledged.length = 0;
    keep(7);
    expect(acknowledged).toEqual([7]);
    record(0);
    expect([recorder.current, recorder.showTimeMs(1)]).toEqual([null, null]);
  });

  it('keeps what a desk had missed and sends just after the end, and finishes the run once it has come', async () => {
    const finish = spyOn(recordings, 'finish');
    recorder.begin(runId, 0, 0);
    record(0);
    keep(1);
    keep(3, 'backlog');
    await until('both are safe', () => acknowledged.length === 2);
    await recorder.end();
    expect(recordings.list(showId, recorder.current).map(({ status }) => status)).toEqual([
      'finishing',
      'finishing',
    ]);
    keep(2, 'backlog');
    await until('it is safe', () => acknowledged.includes(2));
    expect(
      (await storedPackets(readRuns(root, showId)[0]!.sessionDir(session)))
        .map(({ number }) => number)
        .sort(),
    ).toEqual([1, 2, 3]);
    // What is live belongs to no run any more.
    keep(4);
    expect(acknowledged.at(-1)).toBe(4);
    expect(finish).not.toHaveBeenCalled();
    await until('it is finished', () => {
      tick();
      return finish.calls.count() === 1;
    });
  });
});
