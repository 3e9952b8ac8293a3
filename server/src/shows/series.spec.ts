import { saveListing } from '@juncta/contract/listings';
import {
  createSeries,
  createShow,
  listShows,
  makeNextShow,
  readEvergreen,
  setRecurrence,
} from '@juncta/contract/shows';
import { addHarbour, sendTo } from '../testing/destination';
import { FakeEventPlace } from '../testing/fake-event-place';
import { openHouse, showText, type House } from '../testing/house';
import { bookListings } from '@juncta/contract/listings';
import { setProgrammeTimes } from './store';

const DAY = 24 * 3_600_000;
const start = (local: string) => ({ local, zone: 'Etc/UTC', fold: 'earlier' as const });
const localIn = (days: number) => `${new Date(Date.now() + days * DAY).toISOString().slice(0, 10)}T19:00`;

describe('a series', () => {
  let house: House;
  let seriesId: string;
  let slug: string;
  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house.close());
  beforeEach(async () => {
    seriesId = crypto.randomUUID();
    const made = await house.as.producer.get(createSeries, {
      body: { id: seriesId, name: 'The Proving Hour' },
    });
    slug = made.evergreenUrl.split('/').at(-1)!;
    expect(made.evergreenUrl).toMatch(/^https:\/\/juncta\.example\/next\/the-proving-hour-[0-9a-f]{8}$/);
  });

  const plan = async (days: number, title = 'Rye') => {
    const id = crypto.randomUUID();
    const text = showText({ title, seriesId, start: start(localIn(days)) });
    return house.as.producer.get(createShow, { body: { id, text } });
  };
  const params = () => ({ seriesId });

  it('is on by a rule, which everybody sees', async () => {
    const recurrence = { rule: 'FREQ=WEEKLY;BYDAY=TH', start: start('2027-01-07T19:00') };
    const set = await house.as.host.get(setRecurrence, { params: params(), body: { recurrence } });
    expect(set.recurrence).toEqual(recurrence);
    const { series } = await house.as.moderator.get(listShows);
    expect(series.find(({ id }) => id === seriesId)).toEqual(set);
    const bad = { rule: 'FREQ=HOURLY', start: recurrence.start };
    const refusal = await house.as.host.refused(setRecurrence, {
      params: params(),
      body: { recurrence: bad },
    });
    expect(refusal.fields?.[0]?.field).toBe('rule');
    expect(
      (await house.as.moderator.refused(setRecurrence, { params: params(), body: { recurrence: null } }))
        .code,
    ).toBe('forbidden');
  });

  it('gives the next show its next free date', async () => {
    const first = await plan(3);
    const recurrence = { rule: 'FREQ=DAILY;INTERVAL=2', start: start(localIn(3)) };
    await house.as.host.get(setRecurrence, { params: params(), body: { recurrence } });
    const next = async (body: { start?: ReturnType<typeof start> } = {}) =>
      (
        await house.as.producer.get(makeNextShow, {
          params: { showId: first.id },
          body: { id: crypto.randomUUID(), ...body },
        })
      ).show.text.start?.local;
    expect(await next()).toBe(localIn(5));
    expect(await next())
      .withContext('the one before is taken')
      .toBe(localIn(7));
    expect(await next({ start: start('2027-08-01T10:00') })).toBe('2027-08-01T10:00');
    const refusal = await house.as.producer.refused(makeNextShow, {
      params: { showId: first.id },
      body: { id: crypto.randomUUID(), start: start('2027-02-31T10:00') },
    });
    expect(refusal.fields?.[0]?.field).toBe('start');
  });

  describe('has an evergreen link', () => {
    const look = () => house.stranger().get(readEvergreen, { params: { slug } });

    it('that anybody can follow to the next show, and to the one that is on', async () => {
      expect(await look()).toEqual({ series: 'The Proving Hour', show: null });
      await plan(9, 'Later');
      const soon = await plan(2, 'Sooner');
      expect((await look()).show).toEqual(
        jasmine.objectContaining({ title: 'Sooner', onAir: false, zone: 'Etc/UTC' }),
      );
      const late = await plan(12, 'On already');
      await setProgrammeTimes(house.server.app.db, late.id, { startedAt: Date.now(), endedAt: null });
      expect((await look()).show).toEqual(jasmine.objectContaining({ title: 'On already', onAir: true }));
      await setProgrammeTimes(house.server.app.db, late.id, { startedAt: 1, endedAt: 2 });
      await setProgrammeTimes(house.server.app.db, soon.id, { startedAt: 1, endedAt: 2 });
      expect((await look()).show?.title).toBe('Later');
      expect(
        (await house.stranger().refused(readEvergreen, { params: { slug: 'the-proving-hour' } })).code,
      ).toBe('not_found');
    });

    it('that tells of no event which is not for everybody', async () => {
      const place = await new FakeEventPlace().open();
      const show = await plan(2);
      const destinationId = await addHarbour(house, place.url);
      await sendTo(house, show.id, [destinationId]);
      const book = () =>
        house.as.producer.get(bookListings, {
          params: { showId: show.id },
          body: { destinationIds: null, immediate: false },
        });
      await book();
      expect((await look()).show?.places).toEqual([
        { name: 'Harbour', code: 'HA', url: `${place.url}/watch/ev1` },
      ]);
      await house.as.producer.get(saveListing, {
        params: { showId: show.id, destinationId },
        body: { settings: { visibility: 'unlisted' } },
      });
      expect((await look()).show?.places).toEqual([]);
      await place.close();
    });
  });
});
