import { readListingsTable, readShowFile, writeListingsTable, writeShowFile } from '@juncta/contract/formats';
import { saveListing } from '@juncta/contract/listings';
import { readListings } from '@juncta/contract/listings';
import { createSeries, createShow, listShows, saveSharedSettings } from '@juncta/contract/shows';
import { readFileSync } from 'node:fs';
import { addHarbour, sendTo } from '../testing/destination';
import { openHouse, showText, type House } from '../testing/house';

describe('shows and listings as files', () => {
  let house: House;
  let showId: string;
  let destinationId: string;
  beforeAll(async () => {
    house = await openHouse();
    destinationId = await addHarbour(house, 'https://place.example');
  });
  afterAll(() => house.close());
  beforeEach(async () => {
    showId = crypto.randomUUID();
    const { host } = house.members;
    const people = [
      { id: crypto.randomUUID(), memberId: host.id, name: host.name, part: 'host' as const, about: 'Talks' },
      {
        id: crypto.randomUUID(),
        memberId: null,
        name: 'Pascoe Trethewey',
        part: 'guest' as const,
        about: '',
      },
    ];
    await house.as.producer.get(createShow, { body: { id: showId, text: showText({ people }) } });
    await sendTo(house, showId, [destinationId]);
    await house.as.host.get(saveSharedSettings, {
      params: { showId },
      body: { settings: { topics: ['rye'], language: 'pt' } },
    });
    await house.as.host.get(saveListing, {
      params: { showId, destinationId },
      body: {
        title: 'Rye, there',
        slot: { kind: 'offset', minutes: 5 },
        settings: { visibility: 'unlisted', rewind: false },
      },
    });
  });

  const written = () => house.as.moderator.get(writeShowFile, { params: { showId } });
  const read = (file: unknown, id = crypto.randomUUID()) =>
    house.as.producer.get(readShowFile, { body: { id, file } });
  const listingsOf = async (id: string) =>
    (await house.as.host.get(readListings, { params: { showId: id } })).listings;
  const countOfShows = async () => (await house.as.host.get(listShows)).shows.length;

  it('pass by the rules of the form: instants that can be planned, settings that can be seen', async () => {
    const file = await written();
    const [listing] = file.listings;
    const shows = await countOfShows();
    for (const change of [
      { slot: { kind: 'fixed', atMs: 2 ** 53 - 1 } },
      { slot: { kind: 'fixed', atMs: -1 } },
      { title: 'New \u202egnp.exe' },
      { settings: { topics: ['rye\u0000'] } },
    ]) {
      const wrong = { ...file, listings: [{ ...listing, ...change }] };
      const body = { id: crypto.randomUUID(), file: wrong };
      expect((await house.as.producer.refused(readShowFile, { body })).code)
        .withContext(JSON.stringify(change))
        .toBe('bad_input');
    }
    expect(await countOfShows()).toBe(shows);
  });

  it('that an earlier version took with an instant that no calendar has go with their show again', async () => {
    const { pool } = house.server.app.connection;
    await pool.query(
      `update show_destination set slot = '{"kind":"fixed","atMs":9007199254740991}' where show_id = $1`,
      [showId],
    );
    const migration = new URL('../../migrations/0019_slots_in_range.sql', import.meta.url);
    for (const statement of readFileSync(migration, 'utf8').split('--> statement-breakpoint'))
      await pool.query(statement);
    expect((await listingsOf(showId))[0]!.slot).toEqual({ kind: 'with_show' });
    const kept = { params: { showId, destinationId }, body: { slot: { kind: 'fixed' as const, atMs: 0 } } };
    await house.as.host.get(saveListing, kept);
    for (const statement of readFileSync(migration, 'utf8').split('--> statement-breakpoint'))
      await pool.query(statement);
    expect((await listingsOf(showId))[0]!.slot).toEqual({ kind: 'fixed', atMs: 0 });
  });

  it('come back as they went', async () => {
    const file = await written();
    expect(JSON.stringify(file)).not.toContain(destinationId);
    const { show, notHere } = await read(file);
    expect(notHere).toEqual([]);
    expect(show.shared).toEqual({ topics: ['rye'], language: 'pt' });
    expect(show.text.people.map(({ name, part, memberId }) => [name, part, memberId])).toEqual([
      [house.members.host.name, 'host', house.members.host.id],
      ['Pascoe Trethewey', 'guest', null],
    ]);
    const [listing] = await listingsOf(show.id);
    const [before] = await listingsOf(showId);
    for (const field of ['title', 'slot', 'settings', 'destinationId'] as const)
      expect(listing![field]).toEqual(before![field] as never);
    expect(listing!.state).toBe('draft');
    const again = await house.as.producer.get(writeShowFile, { params: { showId: show.id } });
    expect(again).toEqual(file);
  });

  it('make one show, however often the answer is lost', async () => {
    const [file, id] = [await written(), crypto.randomUUID()];
    const before = await countOfShows();
    await Promise.all([read(file, id), read(file, id)]);
    expect(await countOfShows()).toBe(before + 1);
  });

  it('say what is not in this house, and make the show without it', async () => {
    const file = await written();
    const [first] = file.listings;
    const strange = {
      ...file,
      series: 'Nobody’s Hour',
      people: [...file.people, { name: 'Somebody Else', part: 'producer', about: '' }],
      listings: [
        { ...first!, settings: { ...first!.settings, products: ['x'] } },
        { ...first!, destination: 'Elsewhere', place: 'Lighthouse' },
      ],
    };
    const { show, notHere } = await read(strange);
    expect(notHere.map(({ what, name }) => `${what} ${name}`)).toEqual([
      'series Nobody’s Hour',
      'person Somebody Else',
      'destination Elsewhere',
      'setting Harbour: products',
    ]);
    expect((await listingsOf(show.id)).length).toBe(1);
  });

  it('find their series by its name', async () => {
    const seriesId = crypto.randomUUID();
    await house.as.producer.get(createSeries, { body: { id: seriesId, name: 'The Proving Hour' } });
    const { show } = await read({ ...(await written()), series: 'The Proving Hour' });
    expect(show.text.seriesId).toBe(seriesId);
  });

  const wrong: [string, (file: Awaited<ReturnType<typeof written>>) => unknown, string, RegExp][] = [
    [
      'of another version',
      (file) => ({ ...file, version: 2 }),
      'file.version',
      /version 2; this house reads version 1/,
    ],
    ['of something else', () => ({ kind: 'recipe' }), 'file', /no show/],
    ['of nothing', () => null, 'file', /no show/],
    ['without a title', (file) => ({ ...file, title: '' }), 'file.title', /./],
    [
      'with a slot that is none',
      (file) => ({ ...file, listings: [{ ...file.listings[0], slot: 'soon' }] }),
      'file.listings.0.slot',
      /./,
    ],
    [
      'with a start that does not exist',
      (file) => ({ ...file, start: { ...file.start!, local: '2027-02-31T19:00' } }),
      'text.start',
      /./,
    ],
  ];
  for (const [what, change, field, sentence] of wrong) {
    it(`refuse a file ${what}, and make nothing`, async () => {
      const file = change(await written());
      const before = await countOfShows();
      const refusal = await house.as.producer.refused(readShowFile, {
        body: { id: crypto.randomUUID(), file },
      });
      expect(refusal.fields![0]!.field).toContain(field);
      expect(refusal.fields![0]!.sentence).toMatch(sentence);
      expect(await countOfShows()).toBe(before);
    });
  }

  it('have a form that other programs can look up', async () => {
    const answer = await house.stranger().send('GET', '/api/formats/show.schema.json');
    expect(answer.headers.get('content-type')).toContain('application/schema+json');
    const schema = (await answer.json()) as { properties: Record<string, object>; required: string[] };
    expect(Object.keys(schema.properties)).toEqual(Object.keys(await written()));
    expect(schema.required).toContain('listings');
    expect(schema.properties['format']).toEqual(jasmine.objectContaining({ const: 'juncta.show' }));
  });

  describe('as tables', () => {
    const table = async () => (await house.as.moderator.get(writeListingsTable, { params: { showId } })).csv;
    const take = (csv: string) => ({ params: { showId }, body: { csv } });

    it('are worked on and taken over, an empty cell inheriting and a missing column leaving', async () => {
      expect(await table()).toBe(
        'destination,title,description,slot,set.visibility,set.rewind\r\nHarbour,"Rye, there",,5 min after,unlisted,off',
      );
      await house.as.host.get(readListingsTable, take('destination,title,set.visibility\nHarbour,,public'));
      expect((await listingsOf(showId))[0]).toEqual(
        jasmine.objectContaining({
          title: null,
          slot: { kind: 'offset', minutes: 5 },
          settings: { visibility: 'public', rewind: false },
        }),
      );
      expect(await house.as.host.get(readListingsTable, take(await table()))).toEqual({ rows: 1 });
    });

    it('pass by the rules of the form: no marks that hide or turn a text, no day that does not exist', async () => {
      const [before] = await listingsOf(showId);
      for (const [cells, fault] of [
        ['New \u202egnp.exe,,', 'row 2, title: invisible'],
        ['New\u0000,,', 'row 2, title: invisible'],
        [',a\u2066b,', 'row 2, description: invisible'],
        [',,2026-02-31T19:00Z', 'row 2, slot: bad_slot'],
      ]) {
        const csv = `destination,title,description,slot\nHarbour,${cells}`;
        const refusal = await house.as.host.refused(readListingsTable, take(csv));
        expect(refusal.fields!.map(({ field, code }) => `${field}: ${code}`)).toEqual([fault!]);
      }
      expect((await listingsOf(showId))[0]).toEqual(before);
    });

    it('are refused whole, with each fault by row and column', async () => {
      const [before] = await listingsOf(showId);
      const csv = 'destination,title,slot,set.visibility\nHarbour,New,soon,everywhere\nElsewhere,,,';
      const refusal = await house.as.host.refused(readListingsTable, take(csv));
      expect(refusal.fields!.map(({ field, code }) => `${field}: ${code}`)).toEqual([
        'row 2, slot: bad_slot',
        'row 2, set.visibility: unfit_setting',
        'row 3, destination: unknown_destination',
      ]);
      expect(refusal.fields![1]!.sentence).toBe(
        'Row 2, set.visibility: It can be public, unlisted, private.',
      );
      expect((await listingsOf(showId))[0]).toEqual(before);
      const endless = await house.as.host.refused(
        readListingsTable,
        take('destination\n' + 'Harbour\n'.repeat(10_000)),
      );
      expect(endless.fields![0]!.code).toBe('too_many_rows');
      expect((await house.as.moderator.refused(readListingsTable, take('destination\nHarbour'))).code).toBe(
        'forbidden',
      );
    });
  });
});
