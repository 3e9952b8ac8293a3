import {
  DRESSING_FILES_PATH,
  DRESSING_IMAGES_PATH,
  dressingImagePath,
  OVERLAY_IMAGES_PATH,
  readDressings,
  saveDressing,
} from '@juncta/contract/dressing';
import type { ErrorBody } from '@juncta/contract/errors';
import { ALL_SHOWS } from '@juncta/contract/shows';
import type { Dressing, Overlay, OverlayImage } from '@juncta/core/dressing';
import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import sharp from 'sharp';
import { openHouse, type House } from '../testing/house';

const run = promisify(execFile);

describe('overlays of a dressing', () => {
  let house: House;
  let room: string;
  beforeAll(async () => {
    room = await mkdtemp(path.join(tmpdir(), 'juncta-overlays-'));
  });
  afterAll(() => rm(room, { recursive: true }));
  beforeEach(async () => {
    house = await openHouse();
  });
  afterEach(() => house.close());

  /** A half-transparent red square that runs over nothing. */
  async function motion(seconds: number, size = '320x180', codec = 'libvpx-vp9'): Promise<Buffer> {
    const file = path.join(room, `${seconds}-${size}-${codec}.webm`);
    const ground = `color=c=black@0.0:s=${size}:r=30:d=${seconds},format=rgba`;
    const square = `color=c=red@0.5:s=40x40:r=30:d=${seconds},format=rgba`;
    const over = "[0][1]overlay=x='20+60*t':y=60:format=auto,format=yuva420p";
    const input = ['-f', 'lavfi', '-i', ground, '-f', 'lavfi', '-i', square, '-filter_complex', over];
    await run('ffmpeg', ['-v', 'error', '-y', ...input, '-c:v', codec, '-auto-alt-ref', '0', file]);
    return readFile(file);
  }
  const send = async (file: Buffer, where = OVERLAY_IMAGES_PATH) => {
    const answer = await house.as.host.send('PUT', where, file, 'application/octet-stream');
    return { status: answer.status, body: (await answer.json()) as OverlayImage & ErrorBody };
  };
  const overlay = (image: OverlayImage, values: Partial<Overlay> = {}): Overlay => ({
    id: crypto.randomUUID(),
    name: 'Opening',
    image,
    place: 'whole',
    width: 0.3,
    opacity: 1,
    repeats: false,
    ...values,
  });
  const save = async (overlays: readonly Overlay[]) => {
    const { version, dressing } = (await house.as.host.get(readDressings)).team;
    return { params: { scope: ALL_SHOWS }, body: { version, dressing: { ...dressing, overlays } } };
  };

  for (const codec of ['libvpx', 'libvpx-vp9'])
    it(`move as they were sent, and are seen through as before (${codec})`, async () => {
      const { body: image } = await send(await motion(1, '320x180', codec));
      expect([image.width, image.height]).toEqual([320, 180]);
      expect(image.lengthMs! / 1000).toBeCloseTo(1, 2);
      const answer = await house.as.moderator.send('GET', dressingImagePath(image));
      expect(answer.headers.get('content-type')).toBe('image/webp');
      const bytes = Buffer.from(await answer.arrayBuffer());
      const read = await sharp(bytes, { animated: true }).metadata();
      expect([read.pages, read.hasAlpha]).toEqual([30, true]);
      // In its middle the square has run half a second.
      const at = async (page: number, left: number, top: number) => [
        ...(await sharp(bytes, { page }).extract({ left, top, width: 1, height: 1 }).raw().toBuffer()),
      ];
      const [red, , , alpha] = await at(15, 20 + 30 + 20, 80);
      expect(red).toBeGreaterThan(200);
      expect(alpha).toBeGreaterThan(110);
      expect(alpha).toBeLessThan(145);
      expect((await at(15, 200, 20))[3]).toBe(0);
      const saved = await house.as.host.get(saveDressing, await save([overlay(image)]));
      expect(saved.dressing.overlays.map((one) => one.image)).toEqual([image]);
    });

  it('may stand still, and are then pictures like others', async () => {
    const png = await sharp({ create: { width: 200, height: 100, channels: 4, background: '#b4532a80' } })
      .png()
      .toBuffer();
    const { body: image } = await send(png);
    expect(image).toEqual(jasmine.objectContaining({ width: 200, height: 100, lengthMs: null }));
    await house.as.host.get(saveDressing, await save([overlay(image, { place: 'top_left', opacity: 0.5 })]));
  });

  it('are refused in words when they cannot be used', async () => {
    const whole = await motion(1);
    const table: [string, Buffer, string][] = [
      ['longer than an opening', await motion(11, '64x36'), 'too_long'],
      ['more pixels than a programme has', await motion(0.04, '4000x2200'), 'too_many_pixels'],
      ['cut off in its head', whole.subarray(0, 300), 'no_picture'],
      [
        'a WebM by its first bytes alone',
        Buffer.concat([whole.subarray(0, 64), Buffer.alloc(500)]),
        'no_picture',
      ],
      ['no picture', Buffer.from('nothing'), 'no_picture'],
    ];
    for (const [what, file, code] of table) {
      const { status, body } = await send(file);
      expect([status, body.fields?.[0]?.code]).withContext(what).toEqual([400, code]);
    }
    // A logo stands still, and what moves is sent for overlays.
    expect((await send(whole, DRESSING_IMAGES_PATH)).body.fields?.[0]?.code).toBe('no_picture');
  });

  it('are refused in a dressing that has too many, two of one id, or none that is there', async () => {
    const { body: image } = await send(await motion(1));
    const one = overlay(image);
    const table: [string, Overlay[], string][] = [
      ['nine', Array.from({ length: 9 }, () => overlay(image)), 'dressing.overlays'],
      ['one twice', [one, one], 'dressing.overlays'],
      ['seen by nobody', [overlay(image, { opacity: 0 })], 'dressing.overlays.0.opacity'],
      ['with another length', [overlay({ ...image, lengthMs: 5000 })], 'picture'],
      ['that is said not to move', [overlay({ ...image, lengthMs: null })], 'picture'],
    ];
    for (const [what, overlays, field] of table) {
      const { fields } = await house.as.host.refused(saveDressing, await save(overlays));
      expect(fields?.[0]?.field).withContext(what).toBe(field);
    }
    const { version, dressing } = (await house.as.host.get(readDressings)).team;
    const { id, width, height } = image;
    const moving = { ...dressing, backdropImage: { id, width, height } };
    const wrong = { params: { scope: ALL_SHOWS }, body: { version, dressing: moving } };
    expect((await house.as.host.refused(saveDressing, wrong)).fields?.[0]?.code).toBe('gone');
  });

  it('go along in the file of their dressing, and nothing hides in one that moves', async () => {
    const { body: image } = await send(await motion(1));
    const { dressing } = await house.as.host.get(saveDressing, await save([overlay(image)]));
    const written = await house.as.host.send('GET', `${DRESSING_FILES_PATH}/team`);
    const file = Buffer.from(await written.arrayBuffer());
    const other = await openHouse();
    try {
      const taken = await other.as.host.send('PUT', DRESSING_FILES_PATH, file, 'application/zip');
      expect((await taken.json()) as Dressing).toEqual(dressing);
      expect((await other.as.host.send('GET', dressingImagePath(image))).status).toBe(200);
    } finally {
      await other.close();
    }
  });
});
