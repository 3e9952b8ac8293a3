import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { TestDesk } from '../testing/desk';
import { makeMedia, piecesOf, slatePieces } from '../testing/media';
import { openPlace, until, type Place } from '../testing/place';
import { openRig, type Rig } from '../testing/rig';

/** On a disk of its own, small and in memory. Only root can make one: elsewhere this is left out, and says so. */
describe('a full disk', () => {
  let dir: string;
  let mounted = false;
  let place: Place;
  let rig: Rig;

  beforeAll(async () => {
    dir = mkdtempSync(path.join(tmpdir(), 'juncta-small-disk-'));
    try {
      execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=8m', 'tmpfs', dir], { stdio: 'ignore' });
      mounted = true;
    } catch {
      return;
    }
    place = await openPlace();
    rig = await openRig(path.join(dir, 'relay'));
  }, 30_000);
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
    desk.sendAll(slatePieces(media, session, 1).slice(0, 5));
    desk.play(piecesOf(media, session).map((piece) => ({ ...piece, number: piece.number + 60 })));
    await until('there is a programme', async () => (await rig.report()).state === 'source');
    await rig.order('PUT', '/run', { runId: randomUUID() });
    await rig.order('POST', `/feeds/${destination}/start`, {
      address: place.address,
      key: await place.key(),
      arrival: 'public',
    });
    await until('the disk is full', async () => !(await rig.report()).disk.recording, 20_000);
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
    await until('it is recorded again', async () => (await rig.report()).disk.recording);
    await until('pieces are acknowledged again', () => desk.acknowledged > notAcknowledged);
    desk.kill();
  }, 60_000);
});
