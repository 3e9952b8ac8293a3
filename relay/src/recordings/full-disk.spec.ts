import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { appendFileSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { TestDesk } from '../testing/desk';
import { makeMedia, packetsOf, slatePackets } from '../testing/media';
import { openPlace, until, type Place } from '../testing/place';
import { openProcessRig, type ProcessRig } from '../testing/rig';

/** Takes what a full disk still has: the last pages that single lines would find. */
function fillUp(file: string): void {
  try {
    for (;;) appendFileSync(file, Buffer.alloc(4096));
  } catch {
    // It is full now.
  }
}

/**
 * The relay's folder and its log on a disk of its own, small and in memory, as the start command lays them out. Only root
 * can mount one: elsewhere this is left out, and says so.
 */
describe('a full disk', () => {
  let dir: string;
  let mounted = false;
  let place: Place;
  let rig: ProcessRig;
  let logFile: string;

  beforeAll(async () => {
    dir = mkdtempSync(path.join(tmpdir(), 'juncta-small-disk-'));
    try {
      execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=8m', 'tmpfs', dir], { stdio: 'ignore' });
      mounted = true;
    } catch {
      return;
    }
    place = await openPlace();
    logFile = path.join(dir, 'relay.log');
    rig = await openProcessRig(path.join(dir, 'relay'), logFile);
  }, 60_000);
  afterAll(async () => {
    if (mounted) {
      await rig.close();
      await place.close();
      execFileSync('umount', [dir]);
    }
    rmSync(dir, { recursive: true, force: true });
  });

  it('stops the recording and not the feed; with room again it goes on', async () => {
    if (!mounted) return pending('only root can mount a small disk');
    const media = makeMedia(30, '640x360', 14_000);
    const session = randomUUID();
    const destination = randomUUID();
    const desk = await TestDesk.open(rig.port, rig.ticket(), session, { width: 640, height: 360 });
    await until('the desk is welcome', () => desk.answers[0]?.type === 'welcome');
    desk.sendAll(slatePackets(media, session, 1).slice(0, 5));
    desk.play(packetsOf(media, session).map((packet) => ({ ...packet, number: packet.number + 60 })));
    await until('there is a programme', async () => (await rig.report()).state === 'source');
    await rig.order('PUT', '/run', { runId: randomUUID() });
    await rig.order('POST', `/feeds/${destination}/start`, {
      address: place.address,
      key: await place.key(),
      arrival: 'public',
    });
    await until('the disk is full', async () => !(await rig.report()).disk.recording, 20_000);
    fillUp(path.join(dir, 'rest'));
    // Each order is logged. Written synchronously, these lines would hold up all that airs.
    for (let i = 0; i < 50; i++) await rig.order('POST', '/cover', { on: false });
    const notAcknowledged = desk.acknowledged;
    const before = (await place.arrivals()).at(-1)!.health.pictures;
    await until(
      'two more seconds have arrived',
      async () => (await place.arrivals()).at(-1)!.health.pictures > before + 60,
    );
    const report = await rig.report();
    expect(report.feeds[0]!.state).toBe('sending');
    expect(report.recordings.map(({ status }) => status)).toEqual(['paused', 'paused']);
    expect((await place.arrivals()).at(-1)!.health.gaps).toEqual({ picture: 0, sound: 0, longestMs: 0 });
    expect(desk.refusal).toBeUndefined();

    execFileSync('mount', ['-o', 'remount,size=300m', dir]);
    await rig.order('POST', '/cover', { on: false });
    await until('the log says what it lacks', () => /"dropped":[1-9]/.test(readFileSync(logFile, 'utf8')));
    await until('it is recorded again', async () => (await rig.report()).disk.recording);
    await until('packets are acknowledged again', () => desk.acknowledged > notAcknowledged);
    desk.kill();
  }, 60_000);
});
