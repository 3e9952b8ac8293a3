import {
  readListings,
  bookListings,
  picturePath,
  removePicture,
  saveListing,
  sentPicturePath,
} from '@juncta/contract/listings';
import { createShow, listShows, makeNextShow } from '@juncta/contract/shows';
import sharp from 'sharp';
import { deflateSync } from 'node:zlib';
import { addHarbour, sendTo } from '../testing/destination';
import { FakeEventPlace } from '../testing/fake-event-place';
import { openHouse, showText, type House } from '../testing/house';

describe('pictures', () => {
  let house: House;
  let place: FakeEventPlace;
  let showId: string;
  let destinationId: string;
  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house.close());
  beforeEach(async () => {
    place = await new FakeEventPlace().open();
    showId = crypto.randomUUID();
    const local = new Date(Date.now() + 3 * 24 * 3_600_000).toISOString().slice(0, 16);
    const text = showText({ start: { local, zone: 'Etc/UTC', fold: 'earlier' } });
    await house.as.producer.get(createShow, { body: { id: showId, text } });
    destinationId = await addHarbour(house, place.url);
    await sendTo(house, showId, [destinationId]);
  });
  afterEach(() => place.close());

  const painted = (width: number, height: number, colour: string) =>
    sharp({ create: { width, height, channels: 3, background: colour } });
  const put = (scope: string, file: Buffer, by = house.as.host) =>
    by.send('PUT', picturePath(showId, scope), file, 'application/octet-stream');
  const listing = async () => (await house.as.host.get(readListings, { params: { showId } })).listings[0]!;
  const show = async () => (await house.as.host.get(listShows)).shows.find(({ id }) => id === showId)!;

  it('are shared by all listings, unless one has its own', async () => {
    expect((await put('show', await painted(1600, 1200, 'red').png().toBuffer())).status).toBe(200);
    expect((await show()).picture).toEqual(jasmine.objectContaining({ width: 1600, height: 1200 }));
    const sent = async () => {
      const answer = await house.as.moderator.send('GET', sentPicturePath(showId, destinationId));
      expect(answer.headers.get('content-type')).toBe('image/jpeg');
      return sharp(Buffer.from(await answer.arrayBuffer()));
    };
    const { width, height } = await (await sent()).metadata();
    expect([width, height]).toEqual([1600, 900]);
    expect((await (await sent()).stats()).dominant.r).toBeGreaterThan(200);
    await put(destinationId, await painted(960, 540, 'blue').jpeg().toBuffer());
    expect((await listing()).picture).toEqual(jasmine.objectContaining({ width: 960 }));
    expect((await (await sent()).stats()).dominant.b).toBeGreaterThan(200);
    await house.as.host.get(removePicture, { params: { showId, scope: destinationId } });
    expect((await listing()).picture).toBeNull();
    expect((await (await sent()).stats()).dominant.r).toBeGreaterThan(200);
  });

  it('are cut as somebody said', async () => {
    const halves = await painted(1600, 900, 'red')
      .composite([{ input: await painted(800, 900, 'blue').png().toBuffer(), left: 800, top: 0 }])
      .png()
      .toBuffer();
    await put('show', halves);
    const crop = { x: 1, y: 0.5, zoom: 2 };
    await house.as.host.get(saveListing, { params: { showId, destinationId }, body: { crop } });
    expect((await listing()).crop).toEqual(crop);
    const answer = await house.as.host.send('GET', sentPicturePath(showId, destinationId));
    const { channels } = await sharp(Buffer.from(await answer.arrayBuffer())).stats();
    expect(channels[0]!.mean).toBeLessThan(20);
    expect(channels[2]!.mean).toBeGreaterThan(230);
  });

  it('keep nothing of what a file says besides its picture', async () => {
    const told = await painted(400, 400, 'green')
      .withExif({ IFD0: { Copyright: 'a secret garden' } })
      .jpeg()
      .toBuffer();
    expect(told.includes('a secret garden')).toBeTrue();
    await put('show', told);
    const answer = await house.as.host.send('GET', picturePath(showId, 'show'));
    expect(Buffer.from(await answer.arrayBuffer()).includes('a secret garden')).toBeFalse();
  });

  /** A PNG of few bytes that says it has so many pixels each way. */
  function bomb(side: number): Buffer {
    const chunk = (type: string, body: Buffer) => {
      const all = Buffer.concat([Buffer.from(type, 'latin1'), body]);
      const length = Buffer.alloc(4);
      length.writeUInt32BE(body.length);
      const sum = Buffer.alloc(4);
      sum.writeUInt32BE(crc(all));
      return Buffer.concat([length, all, sum]);
    };
    const header = Buffer.alloc(13);
    header.writeUInt32BE(side, 0);
    header.writeUInt32BE(side, 4);
    header.set([1, 0, 0, 0, 0], 8);
    const rows = deflateSync(Buffer.alloc(Math.min(2_000_000, side * (1 + Math.ceil(side / 8)))));
    const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
    return Buffer.concat([
      signature,
      chunk('IHDR', header),
      chunk('IDAT', rows),
      chunk('IEND', Buffer.alloc(0)),
    ]);
  }
  function crc(bytes: Buffer): number {
    let sum = ~0;
    for (const byte of bytes) {
      sum ^= byte;
      for (let bit = 0; bit < 8; bit++) sum = (sum >>> 1) ^ (sum & 1 ? 0xedb88320 : 0);
    }
    return ~sum >>> 0;
  }

  const bad: [string, () => Buffer | Promise<Buffer>, number, string][] = [
    [
      'a web page that is called a picture',
      () => Buffer.from('<!doctype html><img src=x onerror=alert(1)>'),
      400,
      'no_picture',
    ],
    [
      'a drawing with a script in it',
      () => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script/></svg>'),
      400,
      'no_picture',
    ],
    ['a picture that unfolds to gigabytes', () => bomb(60_000), 400, 'too_many_pixels'],
    [
      'a picture that breaks off',
      async () => (await painted(900, 900, 'red').jpeg().toBuffer()).subarray(0, 400),
      400,
      'broken',
    ],
    ['a stamp', () => painted(40, 40, 'red').png().toBuffer(), 400, 'too_small'],
    ['nothing', () => Buffer.alloc(0), 400, 'empty'],
    ['11 MB', () => Buffer.alloc(11 * 1024 * 1024), 413, ''],
  ];
  for (const [what, file, status, code] of bad) {
    it(`refuse ${what}, and keep what was there`, async () => {
      await put('show', await painted(800, 800, 'red').png().toBuffer());
      const before = (await show()).picture;
      const answer = await put('show', await file());
      expect(answer.status).toBe(status);
      const body = (await answer.json()) as { sentence: string; fields?: { code: string }[] };
      expect(body.sentence.length).toBeGreaterThan(15);
      if (code) expect(body.fields?.[0]?.code).toBe(code);
      expect((await show()).picture).toEqual(before);
    });
  }

  it('are changed only by who may change the show, from a page of ours', async () => {
    const file = await painted(400, 400, 'red').png().toBuffer();
    expect((await put('show', file, house.as.moderator)).status).toBe(403);
    expect((await put('show', file, house.stranger())).status).toBe(401);
    expect((await put('../../x', file)).status).toBe(404);
    expect((await put(crypto.randomUUID(), file)).status).toBe(404);
    expect((await house.stranger().send('GET', picturePath(showId, 'show'))).status).toBe(401);
  });

  it('are given to the event when it is booked, once', async () => {
    await put('show', await painted(1600, 900, 'red').png().toBuffer());
    const body = { destinationIds: null, immediate: false };
    await house.as.producer.get(bookListings, { params: { showId }, body });
    const given = () => place.heard.filter((line) => line.startsWith('PUT ') && line.endsWith('/picture'));
    expect(given().length).toBe(1);
    await house.as.producer.get(bookListings, { params: { showId }, body });
    expect(given().length).toBe(1);
    await put('show', await painted(1600, 900, 'blue').png().toBuffer());
    await house.as.producer.get(bookListings, { params: { showId }, body });
    expect(given().length).toBe(2);
  });

  it('that a place does not take leave the booking as it is, and it is said', async () => {
    await put('show', await painted(1600, 900, 'red').png().toBuffer());
    place.takesPictures = false;
    await house.as.producer.get(bookListings, {
      params: { showId },
      body: { destinationIds: null, immediate: false },
    });
    expect(await listing()).toEqual(
      jasmine.objectContaining({
        state: 'booked',
        problem: jasmine.stringContaining('its picture is not there'),
      }),
    );
  });

  it('go with the show into the next one', async () => {
    await put('show', await painted(1600, 900, 'red').png().toBuffer());
    await put(destinationId, await painted(960, 540, 'blue').png().toBuffer());
    const id = crypto.randomUUID();
    const { show: next } = await house.as.producer.get(makeNextShow, { params: { showId }, body: { id } });
    expect(next.picture).toEqual((await show()).picture);
    for (const scope of ['show', destinationId])
      expect((await house.as.host.send('GET', picturePath(id, scope))).status).toBe(200);
  });
});
