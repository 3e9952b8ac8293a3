import {
  DRESSING_FILES_PATH,
  DRESSING_FONTS_PATH,
  DRESSING_IMAGES_PATH,
  dressingFontPath,
  dressingImagePath,
  dropDressing,
  readDressings,
  saveDressing,
} from '@juncta/contract/dressing';
import type { ErrorBody } from '@juncta/contract/errors';
import { ALL_SHOWS, createSeries } from '@juncta/contract/shows';
import {
  MANNERS,
  PLAIN_DRESSING,
  type Dressing,
  type DressingImage,
  type OwnFace,
} from '@juncta/core/dressing';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { strToU8, zipSync } from 'fflate';
import pg from 'pg';
import sharp from 'sharp';
import { openHouse, type House } from '../testing/house';

describe('dressings', () => {
  let house: House;
  let seriesId: string;
  beforeEach(async () => {
    house = await openHouse();
    seriesId = crypto.randomUUID();
    await house.as.producer.get(createSeries, { body: { id: seriesId, name: 'The Proving Hour' } });
  });
  afterEach(() => house.close());

  const read = () => house.as.moderator.get(readDressings);
  const save = (scope: string, version: string, dressing: Dressing) => ({
    params: { scope },
    body: { version, dressing },
  });
  const rust: Dressing = {
    ...PLAIN_DRESSING,
    palette: { ...PLAIN_DRESSING.palette, accent: '#B4532a' },
    manner: 'cut',
    bug: { text: 'The Proving Hour', logo: null, corner: 'top_left', size: 'usual' },
  };

  it('are the plain one until somebody saves another, for all shows or for one series', async () => {
    const { team, bySeries } = await read();
    expect([team.dressing, bySeries]).toEqual([PLAIN_DRESSING, {}]);
    const own = await house.as.host.get(saveDressing, save(seriesId, team.version, rust));
    expect(own.dressing).toEqual(rust);
    const lines: Dressing = { ...PLAIN_DRESSING, backdrop: 'plain' };
    await house.as.host.get(saveDressing, save(ALL_SHOWS, team.version, lines));
    const after = await read();
    expect([after.team.dressing, after.bySeries[seriesId]]).toEqual([lines, own]);
    expect(after.seq).toBeGreaterThan(0);
    // Back to what all shows have.
    const dropped = await house.as.host.get(dropDressing, { params: { scope: seriesId } });
    expect(dropped).toEqual({ team: after.team, bySeries: {} });
  });

  it('are not overwritten by somebody who had not seen them, and the same save twice is one', async () => {
    const { team } = await read();
    const saved = await house.as.host.get(saveDressing, save(seriesId, team.version, rust));
    const late = save(seriesId, team.version, { ...rust, manner: 'rail' });
    const refusal = await house.as.producer.refused(saveDressing, late);
    expect([refusal.code, refusal.current]).toEqual(['changed_meanwhile', saved]);
    expect(await house.as.host.get(saveDressing, save(seriesId, saved.version, rust))).toEqual(saved);
  });

  it('are changed by whoever may plan, of what there is', async () => {
    const { team } = await read();
    expect((await house.as.moderator.refused(saveDressing, save('team', team.version, rust))).code).toBe(
      'forbidden',
    );
    const nowhere = save(crypto.randomUUID(), team.version, rust);
    expect((await house.as.host.refused(saveDressing, nowhere)).code).toBe('not_found');
  });

  it('are read as versions before this one wrote them, and pictures can be sent beside them', async () => {
    // Nothing of what a dressing came to hold later, and the one slate there was.
    const later = { slates: undefined, overlays: undefined, frames: undefined };
    const bug = { text: 'The Proving Hour', logo: null, corner: 'top_left' };
    const old = { ...rust, ...later, bug, slate: 'The dough is resting' };
    const client = new pg.Client({ connectionString: house.database.url });
    await client.connect();
    await client.query('insert into dressing (scope, dressing) values ($1, $2)', [
      'team',
      JSON.stringify(old),
    ]);
    await client.end();
    const slates = { ...PLAIN_DRESSING.slates, break: 'The dough is resting' };
    expect((await read()).team.dressing).toEqual({ ...rust, slates });
    const png = await sharp({ create: { width: 40, height: 40, channels: 3, background: '#b4532a' } })
      .png()
      .toBuffer();
    expect(
      (await house.as.host.send('PUT', DRESSING_IMAGES_PATH, png, 'application/octet-stream')).status,
    ).toBe(200);
  });

  const WRONG: readonly [string, string, object][] = [
    [
      'a colour with something behind it',
      'dressing.palette.accent',
      { palette: { ...rust.palette, accent: '#b4532a;x' } },
    ],
    ['a colour by name', 'dressing.palette.ink', { palette: { ...rust.palette, ink: 'red' } }],
    [
      'a typeface that does not ship',
      'dressing.faces.text',
      { faces: { heading: 'Bitter', text: 'Somebody’s' } },
    ],
    ['a manner that nobody draws', 'dressing.manner', { manner: 'bounce' }],
    [
      'words longer than a corner',
      'dressing.bug.text',
      { bug: { text: 'x'.repeat(25), logo: null, corner: 'top_left', size: 'usual' } },
    ],
    [
      'neither words nor a logo in its corner',
      'dressing.bug.text',
      { bug: { text: '', logo: null, corner: 'top_left', size: 'usual' } },
    ],
    [
      'a picture by an address',
      'dressing.backdropImage.id',
      { backdropImage: { id: '../../etc/hostname', width: 1, height: 1 } },
    ],
    [
      'corners of no kind',
      'dressing.frames.corners',
      { frames: { ...PLAIN_DRESSING.frames, corners: 'oval' as never } },
    ],
    ['an empty slate', 'dressing.slates.break', { slates: { ...PLAIN_DRESSING.slates, break: '' } }],
  ];
  for (const [what, field, values] of WRONG) {
    it(`are refused with ${what}, which is named`, async () => {
      const { team } = await read();
      const wrong = save(ALL_SHOWS, team.version, { ...rust, ...values });
      const refusal = await house.as.host.refused(saveDressing, wrong);
      expect([refusal.code, refusal.fields?.map((one) => one.field)]).toEqual(['bad_input', [field]]);
      expect((await read()).team.dressing).toEqual(PLAIN_DRESSING);
    });
  }

  describe('with pictures', () => {
    const send = (file: Buffer, by = house.as.host) =>
      by.send('PUT', DRESSING_IMAGES_PATH, file, 'application/octet-stream');
    const sent = async (file: Buffer) => (await (await send(file)).json()) as DressingImage;
    const refused = async (file: Buffer) => {
      const answer = await send(file);
      const { fields } = (await answer.json()) as ErrorBody;
      return [answer.status, fields?.[0]?.code];
    };
    const painted = (width: number, height: number) =>
      sharp({ create: { width, height, channels: 4, background: '#b4532a80' } })
        .png()
        .toBuffer();
    const svg = (inside: string) =>
      Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20">${inside}</svg>`);
    const pixelsOf = async (image: DressingImage) =>
      sharp(
        Buffer.from(await (await house.as.moderator.send('GET', dressingImagePath(image))).arrayBuffer()),
      );

    it('are kept see-through, no larger than a programme, and once however often they are sent', async () => {
      const logo = await sent(await painted(8000, 1000));
      expect([logo.width, logo.height]).toEqual([1920, 240]);
      expect(await sent(await painted(8000, 1000))).toEqual(logo);
      const { dominant, isOpaque } = await (await pixelsOf(logo)).stats();
      expect([dominant.r > 150, isOpaque]).toEqual([true, false]);
      const { team } = await read();
      const bug = { text: '', logo, corner: 'top_left' as const, size: 'large' as const };
      const dressed = { ...rust, bug, backdrop: 'picture' as const, backdropImage: logo };
      const saved = await house.as.host.get(saveDressing, save(ALL_SHOWS, team.version, dressed));
      expect(saved.dressing).toEqual(dressed);
      expect((await read()).team).toEqual(saved);
    });

    it('are drawn from a drawing that runs and fetches nothing', async () => {
      const logo = await sent(svg('<rect width="40" height="20" fill="#0000ff"/>'));
      expect([logo.width, logo.height]).toEqual([1920, 960]);
      expect((await (await pixelsOf(logo)).stats()).dominant.b).toBeGreaterThan(200);
      expect(await refused(svg('<script>alert(1)</script>'))).toEqual([400, 'runs']);
      expect(await refused(svg('<image href="https://elsewhere.example/p.png"/>'))).toEqual([400, 'fetches']);
      // In letters that hide what it says.
      const hidden = Buffer.from(`\ufeff${svg('<script>alert(1)</script>').toString()}`, 'utf16le');
      expect(await refused(hidden)).toEqual([400, 'no_picture']);
    });

    it('are refused when they are none, too many pixels, too small, or from somebody who may not', async () => {
      expect(await refused(Buffer.from('no picture'))).toEqual([400, 'no_picture']);
      expect(await refused(await painted(8000, 8000))).toEqual([400, 'too_many_pixels']);
      expect(await refused(await painted(10, 10))).toEqual([400, 'too_small']);
      expect(await refused((await painted(400, 400)).subarray(0, 300))).toEqual([400, 'broken']);
      expect(await refused(Buffer.alloc(0))).toEqual([400, 'empty']);
      expect((await send(await painted(40, 40), house.as.moderator)).status).toBe(403);
    });

    describe('and typefaces of its own', () => {
      const woff2 = readFileSync(
        createRequire(import.meta.url).resolve('@fontsource/karla/files/karla-latin-400-normal.woff2'),
      );
      const sendFont = (file: Buffer, name = 'Millrace Text', by = house.as.host) =>
        by.send('PUT', `${DRESSING_FONTS_PATH}?name=${encodeURIComponent(name)}`, file, 'font/woff2');

      it('is saved with them, and they are read as they came', async () => {
        const face = (await (await sendFont(woff2)).json()) as OwnFace;
        expect(face.name).toBe('Millrace Text');
        const { team } = await read();
        const faces = { heading: face, text: 'Karla' as const };
        const saved = await house.as.host.get(
          saveDressing,
          save(ALL_SHOWS, team.version, { ...rust, faces }),
        );
        expect(saved.dressing.faces).toEqual(faces);
        const answer = await house.as.moderator.send('GET', dressingFontPath(face));
        expect(answer.headers.get('content-type')).toBe('font/woff2');
        expect(Buffer.from(await answer.arrayBuffer()).equals(woff2)).toBeTrue();
        const gone = { ...rust, faces: { ...faces, heading: { ...face, id: '0123456789abcdef' } } };
        const refusal = await house.as.host.refused(saveDressing, save(ALL_SHOWS, saved.version, gone));
        expect(refusal.fields?.[0]?.code).toBe('gone');
      });

      it('is told when a file is no typeface', async () => {
        const broken = Buffer.from(woff2);
        broken.fill(0, 4000, 4100);
        const table: [string, Buffer, string][] = [
          ['words', Buffer.from('no font'), 'no_font'],
          ['a picture', await painted(40, 40), 'no_font'],
          ['half of one', woff2.subarray(0, 5000), 'no_font'],
          ['a damaged one', broken, 'no_font'],
        ];
        for (const [what, file, code] of table) {
          const answer = await sendFont(file);
          const { fields } = (await answer.json()) as ErrorBody;
          expect([answer.status, fields?.[0]?.code]).withContext(what).toEqual([400, code]);
        }
        expect(((await (await sendFont(woff2, '')).json()) as ErrorBody).fields?.[0]?.code).toBe('name');
        expect((await sendFont(woff2, 'Mill', house.as.moderator)).status).toBe(403);
      });

      it('takes them along in its file', async () => {
        const face = (await (await sendFont(woff2)).json()) as OwnFace;
        const { team } = await read();
        const dressed = { ...rust, faces: { heading: face, text: face } };
        await house.as.host.get(saveDressing, save(ALL_SHOWS, team.version, dressed));
        const file = Buffer.from(
          await (await house.as.host.send('GET', `${DRESSING_FILES_PATH}/team`)).arrayBuffer(),
        );
        const answer = await house.as.host.send('PUT', DRESSING_FILES_PATH, file, 'application/zip');
        expect(await answer.json()).toEqual(dressed);
      });
    });

    describe('as a file', () => {
      const take = async (file: Buffer) => {
        const answer = await house.as.host.send('PUT', DRESSING_FILES_PATH, file, 'application/zip');
        return { status: answer.status, body: (await answer.json()) as Dressing & ErrorBody };
      };
      const written = async (scope: string) => {
        const answer = await house.as.moderator.send('GET', `${DRESSING_FILES_PATH}/${scope}`);
        expect(answer.headers.get('content-disposition')).toContain('juncta-dressing.zip');
        return Buffer.from(await answer.arrayBuffer());
      };
      const zipOf = (head: unknown, others: Record<string, Uint8Array> = {}) =>
        Buffer.from(zipSync({ 'dressing.json': strToU8(JSON.stringify(head)), ...others }));
      const headed = (dressing: unknown, version = 2) => ({ kind: 'juncta.dressing', version, dressing });

      it('go from house to house with the dressing that has them', async () => {
        const logo = await sent(await painted(400, 100));
        const { team } = await read();
        const dressed: Dressing = {
          ...rust,
          bug: { text: 'The Proving Hour', logo, corner: 'top_right', size: 'usual' },
        };
        await house.as.host.get(saveDressing, save(ALL_SHOWS, team.version, dressed));
        const file = await written(ALL_SHOWS);
        const other = await openHouse();
        try {
          const answer = await other.as.host.send('PUT', DRESSING_FILES_PATH, file, 'application/zip');
          const taken = (await answer.json()) as Dressing;
          expect({ ...taken, bug: null }).toEqual({ ...dressed, bug: null });
          expect([taken.bug!.logo!.width, taken.bug!.logo!.height]).toEqual([400, 100]);
          const { version } = (await other.as.host.get(readDressings)).team;
          await other.as.host.get(saveDressing, save(ALL_SHOWS, version, taken));
        } finally {
          await other.close();
        }
        expect((await house.as.host.send('GET', `${DRESSING_FILES_PATH}/nowhere`)).status).toBe(404);
      });

      it('are taken from a file of the version before, which had one slate', async () => {
        // What is not known any more, or was not known yet, is not in its JSON.
        const before = { slates: undefined, overlays: undefined, frames: undefined };
        const dressing = { ...rust, ...before, slate: 'The dough is resting' };
        const { body } = await take(zipOf(headed(dressing, 1)));
        const slates = { ...PLAIN_DRESSING.slates, break: 'The dough is resting' };
        expect(body as Dressing).toEqual({ ...rust, slates });
      });

      it('are refused in words when the file is none, or of another version', async () => {
        const table: [string, Buffer, string][] = [
          ['not a ZIP', Buffer.from('no file'), 'no_file'],
          ['nothing in it', Buffer.from(zipSync({})), 'no_file'],
          ['something else', zipOf({ kind: 'mill', version: 1 }), 'no_file'],
          ['another version', zipOf(headed(rust, 3)), 'other_version'],
          [
            'a colour that is none',
            zipOf(headed({ ...rust, palette: { ...rust.palette, ink: 'x' } })),
            'bad_form',
          ],
          [
            'a picture that is not in it',
            zipOf(headed({ ...rust, backdropImage: { id: '0123456789abcdef', width: 1, height: 1 } })),
            'missing',
          ],
          [
            'a picture that is none',
            zipOf(headed(rust), { 'images/0123456789abcdef.png': strToU8('no picture') }),
            'no_picture',
          ],
          [
            'a drawing that runs something, by another name',
            zipOf(headed(rust), { 'images/0123456789abcdef.png': svg('<script>alert(1)</script>') }),
            'runs',
          ],
          [
            'far more than it seems',
            zipOf(headed(rust), { 'images/0123456789abcdef.png': new Uint8Array(21 * 1024 * 1024) }),
            'too_much',
          ],
        ];
        for (const [what, file, code] of table) {
          const { status, body } = await take(file);
          expect([status, body.fields?.[0]?.code]).withContext(what).toEqual([400, code]);
        }
        expect((await read()).team.dressing).toEqual(PLAIN_DRESSING);
      });
    });

    it('are refused in a dressing when they are not there', async () => {
      const { team } = await read();
      const backdropImage = { id: '0123456789abcdef', width: 1920, height: 1080 };
      const gone = save(ALL_SHOWS, team.version, { ...rust, backdropImage });
      expect((await house.as.host.refused(saveDressing, gone)).fields?.[0]?.code).toBe('gone');
      const logo = await sent(await painted(40, 40));
      // Its size is what it is, whatever somebody says of it.
      const larger = { ...rust, backdropImage: { ...logo, width: 1920 } };
      expect((await house.as.host.refused(saveDressing, save(ALL_SHOWS, team.version, larger))).code).toBe(
        'bad_input',
      );
    });
  });

  it('come in every manner that core knows', async () => {
    let { version } = (await read()).team;
    for (const manner of MANNERS)
      ({ version } = await house.as.host.get(saveDressing, save('team', version, { ...rust, manner })));
    expect((await read()).team.dressing.manner).toBe(MANNERS.at(-1)!);
  });
});
