import { encodePacket, PACKET_FRAME_BYTES, type Packet } from '@juncta/core/media/packets';
import { tagOf, SAMPLE_RATE_HZ } from '@juncta/core/programme';
import { encodeTag, FLV_HEADER, videoConfigurationTag } from '@juncta/core/media/flv';
import { findParameterSets, splitUnits } from '@juncta/core/media/h264';
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import {
  appendFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import pino from 'pino';
import { bytesOf, makeMedia, packetsOf } from '../testing/media';
import { until } from '../testing/place';
import { finishInProcess } from './finisher';
import { Recordings } from './recordings';
import { Run } from './run';

const SECONDS = 6;
const VIDEO_FRAMES = SECONDS * 30;

describe('the files of a run', () => {
  const showId = randomUUID();
  const session = randomUUID();
  let root: string;
  let run: Run;
  let packets: Packet[];
  beforeAll(() => (packets = packetsOf(makeMedia(SECONDS), session)), 30_000);
  beforeEach(() => {
    root = mkdtempSync(path.join(tmpdir(), 'juncta-finish-'));
    run = Run.begin(root, showId, randomUUID(), 1000);
    run.change({ endedAtMs: 2000, sessions: [{ session, offset: 0 }] });
    mkdirSync(run.sessionDir(session), { recursive: true });
  });
  afterEach(() => rmSync(root, { recursive: true, force: true }));

  const lane = (name = 'live') => path.join(run.sessionDir(session), `${name}.jpc`);
  const finish = () => finishInProcess(run, new AbortController().signal);
  const probed = (file: string) =>
    Number(
      execFileSync(
        'ffprobe',
        [
          ...['-v', 'error', '-count_frames', '-select_streams', 'v:0'],
          ...['-show_entries', 'stream=nb_read_frames', '-of', 'csv=p=0', path.join(run.dir, file)],
        ],
        { encoding: 'utf8' },
      ),
    );
  /** What went out: the same frames as tags. */
  const writeAired = (change: (bytes: Buffer) => void = () => undefined) => {
    const videoFrames = packets.filter(({ track }) => track === 'video');
    const units = videoFrames.map(({ payload }) => splitUnits(payload));
    const tags = [
      videoConfigurationTag(findParameterSets(units[0]!)!, 0),
      ...videoFrames.map(({ key, timeUs }, i) => ({
        ...tagOf({
          track: 'video',
          at: Math.round((timeUs * SAMPLE_RATE_HZ) / 1e6),
          key,
          units: units[i]!,
          from: 'source',
        }),
      })),
    ];
    const bytes = Buffer.concat([FLV_HEADER, ...tags.map(encodeTag)]);
    change(bytes);
    writeFileSync(path.join(run.dir, 'aired-1.flv'), bytes);
    run.change({ aired: [{ file: 'aired-1.flv', fromMs: 0 }] });
  };

  it('hold every picture that was kept, and nothing is missing', async () => {
    writeFileSync(lane(), bytesOf(packets.filter((_, i) => i % 3 !== 0)));
    writeFileSync(lane('backlog-2'), bytesOf(packets.filter((_, i) => i % 3 === 0)));
    writeAired();
    expect(await finish()).toEqual(
      jasmine.objectContaining({
        programme: { status: 'made', file: 'programme.mp4' },
        aired: { status: 'made', file: 'aired.mp4' },
        missing: { packets: 0, ms: 0, damagedBytes: 0 },
      }),
    );
    expect([probed('programme.mp4'), probed('aired.mp4')]).toEqual([VIDEO_FRAMES, VIDEO_FRAMES]);
  }, 30_000);

  it('lose a damaged packet and nothing behind it, say so, and leave the parts', async () => {
    const hit = packets.findIndex(({ track, key, number }) => track === 'video' && !key && number > 100);
    const at = bytesOf(packets.slice(0, hit)).length;
    const bytes = bytesOf(packets);
    bytes[at + PACKET_FRAME_BYTES]! ^= 0x10;
    writeFileSync(lane(), bytes);
    // A tag whose length lies.
    let tagBytes = 0;
    writeAired((aired) => {
      const tag = aired.indexOf(Buffer.from([0x27, 1]), aired.length >> 1) - 11;
      tagBytes = 11 + aired.readUIntBE(tag + 1, 3) + 4;
      aired[tag + 2]! ^= 0x40;
    });
    const logged: string[] = [];
    const log = pino({}, { write: (line: string) => void logged.push(line) });
    const recordings = new Recordings(root, log, () => undefined);
    recordings.takeUp();
    await until('they are finished', () => Run.read(run.dir).record.finished, 30_000);
    const size = encodePacket(packets[hit]!).length;
    const missing = { packets: 1, ms: 33, damagedBytes: size + tagBytes };
    expect(recordings.list(showId, null).map((one) => [one.kind, one.status, one.missing])).toEqual([
      ['programme', 'ready', missing],
      ['aired', 'ready', missing],
    ]);
    expect([probed('programme.mp4'), probed('aired.mp4')]).toEqual([VIDEO_FRAMES - 1, VIDEO_FRAMES - 1]);
    expect([existsSync(lane()), existsSync(path.join(run.dir, 'aired-1.flv'))]).toEqual([true, true]);
    expect(logged.join('')).toContain('"packets":1');
    await recordings.close();
  }, 40_000);

  it('are made of a lane of more than 3 GB in little memory, whatever is damaged in it', async () => {
    const half = Math.floor(packets.length / 2);
    writeFileSync(lane(), bytesOf(packets.slice(0, half)));
    // As a disk loses it: nothing was ever written there, and it takes no room.
    const begins = statSync(lane()).size;
    truncateSync(lane(), begins + 3 * 1024 ** 3);
    appendFileSync(lane(), bytesOf(packets.slice(half)));
    const { programme, missing, peakMb } = await finish();
    expect(programme).toEqual({ status: 'made', file: 'programme.mp4' });
    expect(missing).toEqual({ packets: 0, ms: 0, damagedBytes: 3 * 1024 ** 3 });
    expect(probed('programme.mp4')).toBe(VIDEO_FRAMES);
    expect(peakMb).toBeLessThan(400);
  }, 90_000);

  it('are not there when nothing was recorded', async () => {
    rmSync(run.sessionDir(session), { recursive: true });
    expect(await finish()).toEqual(
      jasmine.objectContaining({ programme: { status: 'empty' }, aired: { status: 'empty' } }),
    );
    expect(existsSync(path.join(run.dir, 'programme.mp4'))).toBeFalse();
  }, 30_000);

  it('leave packets alone whose place on the show’s time was not noted', async () => {
    writeFileSync(lane(), bytesOf(packets));
    writeAired();
    run.change({ sessions: [] });
    const recordings = new Recordings(root, pino({ level: 'silent' }), () => undefined);
    recordings.takeUp();
    await until('it is finished', () => Run.read(run.dir).record.finished, 30_000);
    expect(recordings.list(showId, null).map(({ status }) => status)).toEqual(['failed', 'ready']);
    await recordings.close();
    expect(existsSync(lane())).toBeTrue();
  }, 40_000);

  it('are tried again when they could not be made, and by the next life; the parts stay until then', async () => {
    writeFileSync(lane(), bytesOf(packets));
    let tries = 0;
    const house = {
      freeBytes: () => Promise.resolve(null),
      againMs: 1,
      finish: () => {
        tries += 1;
        return Promise.reject(new Error('killed'));
      },
    };
    const recordings = new Recordings(root, pino({ level: 'silent' }), () => undefined, house);
    recordings.takeUp();
    await until('it gave up for now', () => tries === 4, 10_000);
    expect(recordings.list(showId, null)[0]!.status).toBe('failed');
    expect(existsSync(lane())).toBeTrue();
    await recordings.close();

    const next = new Recordings(root, pino({ level: 'silent' }), () => undefined);
    next.takeUp();
    await until('the next has made it', () => next.list(showId, null)[0]!.status === 'ready', 30_000);
    await until('the parts are gone', () => !existsSync(lane()));
    await next.close();
  }, 40_000);
});
