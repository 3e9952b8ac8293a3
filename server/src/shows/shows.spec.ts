import {
  archiveShow,
  createSeries,
  createShow,
  listShows,
  saveShow,
  type ShowText,
} from '@juncta/contract/shows';
import { openHouse, showText, type House } from '../testing/house';

describe('shows', () => {
  let house: House;
  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house.close());

  const make = (text: ShowText = showText()) =>
    house.as.producer.get(createShow, { body: { id: crypto.randomUUID(), text } });
  const find = async (id: string) =>
    (await house.as.moderator.get(listShows)).shows.find((show) => show.id === id)!;

  it('are made with a wall time in a zone, and its instant', async () => {
    const show = await make();
    expect(show.version).toBe(1);
    expect(show.startsAtMs).toBe(Date.parse('2027-05-20T18:00Z'));
    expect(show.editedBy).toBe('The producer');
    expect(await find(show.id)).toEqual(show);
  });

  it('are made once when the same wish comes twice', async () => {
    const body = { id: crypto.randomUUID(), text: showText() };
    const first = await house.as.host.get(createShow, { body });
    expect(await house.as.host.get(createShow, { body })).toEqual(first);
    const other = { ...body, text: showText({ title: 'Another' }) };
    expect((await house.as.host.refused(createShow, { body: other })).code).toBe('changed_meanwhile');
  });

  it('can be without a start', async () => {
    const show = await make(showText({ start: null }));
    expect(show.startsAtMs).toBeNull();
  });

  it('count their versions, and refuse a save upon another without writing anything', async () => {
    const show = await make();
    const params = { showId: show.id };
    const teo = { version: 1, text: showText({ title: 'Teo’s' }) };
    const odalys = { version: 1, text: showText({ title: 'Odalys’s' }) };
    const saved = await house.as.producer.get(saveShow, { params, body: teo });
    expect(saved.version).toBe(2);
    const refusal = await house.as.host.refused(saveShow, { params, body: odalys });
    expect(refusal.code).toBe('changed_meanwhile');
    expect(refusal.current).toEqual(saved);
    expect(await find(show.id)).toEqual(saved);
    // The very same save again, its answer having been lost.
    expect(await house.as.producer.get(saveShow, { params, body: teo })).toEqual(saved);
  });

  it('let exactly one of many saves at once through', async () => {
    const show = await make();
    const saves = Array.from({ length: 12 }, (_, i) =>
      house.as.host.ask(saveShow, {
        params: { showId: show.id },
        body: { version: 1, text: showText({ title: `Save ${i}` }) },
      }),
    );
    const statuses = (await Promise.all(saves)).map((reply) => reply.status).sort();
    expect(statuses).toEqual([200, ...Array<number>(11).fill(409)]);
    expect((await find(show.id)).version).toBe(2);
  });

  const bad: [string, Partial<Record<keyof ShowText, unknown>>, string, string][] = [
    ['an empty title', { title: '' }, 'text.title', 'empty'],
    ['a title of blanks', { title: ' \t ' }, 'text.title', 'empty'],
    ['a title of 201', { title: 'x'.repeat(201) }, 'text.title', 'too_long'],
    ['a title of a million', { title: 'x'.repeat(100_000) }, 'text.title', 'too_long'],
    ['a title of two lines', { title: 'a\nb' }, 'text.title', 'one_line'],
    ['a title that turns the direction', { title: 'a\u202eb' }, 'text.title', 'invisible'],
    ['no title', { title: undefined }, 'text.title', 'missing'],
    ['a number for a title', { title: 7 }, 'text.title', 'wrong_kind'],
    ['a description of 6,001', { description: 'x'.repeat(6001) }, 'text.description', 'too_long'],
    ['a zero byte', { description: 'a\u0000b' }, 'text.description', 'invisible'],
    [
      '31 February',
      { start: { local: '2027-02-31T19:00', zone: 'UTC', fold: 'earlier' } },
      'text.start.local',
      'no_such_day',
    ],
    [
      '02:30 in the spring gap',
      { start: { local: '2027-03-28T02:30', zone: 'Europe/Berlin', fold: 'earlier' } },
      'text.start.local',
      'skipped',
    ],
    [
      'a zone there is not',
      { start: { local: '2027-03-28T19:00', zone: 'Europe/Atlantis', fold: 'earlier' } },
      'text.start.zone',
      'unknown_zone',
    ],
    [
      'a time that is words',
      { start: { local: 'tomorrow', zone: 'UTC', fold: 'earlier' } },
      'text.start.local',
      'bad_form',
    ],
    ['four minutes', { plannedMinutes: 4 }, 'text.plannedMinutes', 'too_short'],
    ['half a minute more', { plannedMinutes: 60.5 }, 'text.plannedMinutes', 'wrong_kind'],
    ['a series there is not', { seriesId: crypto.randomUUID() }, 'text.seriesId', 'unknown'],
    [
      'a guest without a name',
      { people: [{ id: crypto.randomUUID(), memberId: null, name: '', part: 'guest', about: '' }] },
      'text.people.0.name',
      'empty',
    ],
    [
      'a host who is not in the team',
      { people: [{ id: crypto.randomUUID(), memberId: null, name: 'X', part: 'host', about: '' }] },
      'text.people.0.memberId',
      'missing',
    ],
    [
      'a member there is not',
      {
        people: [
          { id: crypto.randomUUID(), memberId: crypto.randomUUID(), name: 'X', part: 'host', about: '' },
        ],
      },
      'text.people.0.memberId',
      'unknown',
    ],
  ];
  for (const [what, change, field, code] of bad) {
    it(`refuse ${what}`, async () => {
      const text = { ...showText(), ...change } as ShowText;
      const refusal = await house.as.producer.refused(createShow, {
        body: { id: crypto.randomUUID(), text },
      });
      expect(refusal.code).toBe('bad_input');
      expect(refusal.fields?.map((error) => [error.field, error.code])).toEqual([[field, code]]);
      expect(refusal.fields?.[0]?.sentence).toMatch(/^[A-Z].*\.$/);
    });
  }

  it('name every wrong field at once', async () => {
    const text = showText({ title: '', plannedMinutes: 2000 });
    const refusal = await house.as.producer.refused(createShow, { body: { id: crypto.randomUUID(), text } });
    expect(refusal.fields?.map((error) => error.field).sort()).toEqual(['text.plannedMinutes', 'text.title']);
  });

  it('keep HTML in every text as the text it is', async () => {
    const html = '<img src=x onerror="alert(1)"><script>alert(2)</script>';
    const { id: seriesId } = await house.as.producer.get(createSeries, {
      body: { id: crypto.randomUUID(), name: '<b>Series</b>' },
    });
    const person = {
      id: crypto.randomUUID(),
      memberId: null,
      name: '<i>Guest</i>',
      part: 'guest',
      about: html,
    } as const;
    const show = await make(showText({ title: html, description: html, seriesId, people: [person] }));
    expect((await find(show.id)).text).toEqual(
      jasmine.objectContaining({ title: html, description: html, people: [person] }),
    );
  });

  it('keep people’s order and ids through edits', async () => {
    const guest = (name: string) => ({
      id: crypto.randomUUID(),
      memberId: null,
      name,
      part: 'guest' as const,
      about: '',
    });
    const [a, b, c] = [guest('A'), guest('B'), guest('C')];
    const show = await make(showText({ people: [a, b] }));
    const saved = await house.as.host.get(saveShow, {
      params: { showId: show.id },
      body: { version: 1, text: showText({ people: [c, { ...b, name: 'B again' }] }) },
    });
    expect(saved.text.people).toEqual([c, { ...b, name: 'B again' }]);
  });

  it('answer a guessed id as one that does not exist', async () => {
    for (const showId of [crypto.randomUUID(), '1', '../../etc', "' or 1=1 --"]) {
      const refusal = await house.as.producer.refused(saveShow, {
        params: { showId },
        body: { version: 1, text: showText() },
      });
      expect(refusal.code).withContext(showId).toBe('not_found');
    }
  });

  it('are put away and brought back, twice the same as once', async () => {
    const { id: showId } = await make();
    const put = (archived: boolean) =>
      house.as.producer.get(archiveShow, { params: { showId }, body: { archived } });
    const away = await put(true);
    expect(away.archivedAtMs).not.toBeNull();
    expect(await put(true)).toEqual(away);
    expect((await put(false)).archivedAtMs).toBeNull();
  });

  it('refuse a body that is not JSON, and one that is too long, in words', async () => {
    const send = (body: string) =>
      fetch(`${house.url}/api/shows`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', Cookie: house.as.producer.cookieHeader },
        body,
      });
    const broken = await send('{"id":');
    expect([broken.status, ((await broken.json()) as { code: string }).code]).toEqual([400, 'bad_input']);
    const long = await send(JSON.stringify({ x: 'x'.repeat(300_000) }));
    expect([long.status, ((await long.json()) as { code: string }).code]).toEqual([413, 'too_long']);
  });
});
