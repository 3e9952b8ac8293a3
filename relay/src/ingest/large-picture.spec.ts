import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { inputsRequest } from '../testing/inputs';
import { openPlace, until, type Place } from '../testing/place';
import { openRig, type InnerRig } from '../testing/rig';

/** The largest picture of a show: an encoder outside makes it, and nobody encodes it again on its way. */
describe('an outside picture of 1920x1080 at 60 frames a second', () => {
  let dir: string;
  let clip: string;
  let place: Place;
  let rig: InnerRig;
  let encoder: ChildProcess;

  beforeAll(async () => {
    dir = mkdtempSync(path.join(tmpdir(), 'juncta-large-'));
    clip = path.join(dir, 'clip.flv');
    // Made beforehand: whoever sends it only has to read it.
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-nostdin', '-f', 'lavfi', '-i', 'testsrc2=s=1920x1080:r=60'],
      ...['-f', 'lavfi', '-i', 'sine=f=440:r=48000', '-t', '12', '-c:v', 'libx264', '-preset', 'ultrafast'],
      ...['-pix_fmt', 'yuv420p', '-bf', '0', '-g', '120', '-sc_threshold', '0', '-b:v', '6000k'],
      ...['-maxrate', '6000k', '-bufsize', '6000k', '-c:a', 'aac', '-b:a', '128k', '-ac', '2', clip],
    ]);
    [place, rig] = [await openPlace(), await openRig()];
  }, 120_000);
  afterAll(async () => {
    encoder?.kill('SIGKILL');
    await rig.close();
    await place.close();
    rmSync(dir, { recursive: true, force: true });
  });

  it('reaches a place that takes it as it came, every frame of it', async () => {
    const [inputId, key, destinationId] = [randomUUID(), 'a-key-that-nobody-guesses', randomUUID()];
    const wants = { width: 1920, height: 1080, rateHz: 60, leastKbps: 2600, mostKbps: 9000 };
    await rig.order('PUT', '/inputs', inputsRequest(inputId, key, {}, wants));
    const url = `rtmp://127.0.0.1:${rig.running.ingestPort}/in/${inputId}/${key}`;
    encoder = spawn(
      'ffmpeg',
      ['-v', 'error', '-nostdin', '-re', '-stream_loop', '-1', '-i', clip, '-c', 'copy', '-f', 'flv', url],
      { stdio: 'ignore' },
    );
    const input = await until('it is known what comes', async () => {
      const [report] = (await rig.report()).inputs;
      return report?.carriage ? report : null;
    });
    expect([input.carriage, input.cores]).toEqual([{ video: false, audio: false }, null]);
    await rig.order('POST', '/input', { inputId });
    await until('it is the programme', async () => (await rig.report()).state === 'source');
    await rig.order('POST', `/feeds/${destinationId}/start`, {
      ...{ address: place.address, key: await place.key(), arrival: 'public' },
    });
    const arrival = await until(
      'ten seconds have arrived',
      async () => (await place.arrivals()).find(({ health }) => health.pictures >= 600) ?? null,
      60_000,
    );
    const { video, framesPerS, gaps, notRising, longestKeyframeS, formatChanges } = arrival.health;
    expect(video).toEqual(jasmine.objectContaining({ codec: 'h264', width: 1920, height: 1080 }));
    expect(framesPerS).toBeCloseTo(60, 0);
    expect(longestKeyframeS).toBeLessThan(2.1);
    expect([gaps.picture, notRising, formatChanges]).toEqual([0, 0, 0]);
    // Where the clip begins again, its sound is some ms shorter than its picture.
    expect(gaps.sound).toBeLessThan(2);
  }, 120_000);
});
