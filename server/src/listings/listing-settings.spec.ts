import {
  readHouseDefaults,
  readLaunchTicks,
  readListings,
  saveHouseDefaults,
  tickLaunchItem,
} from '@juncta/contract/listings';
import { makeNextShow, saveSharedSettings } from '@juncta/contract/shows';
import { openHouse, type House } from '../testing/house';
import { PlannedShow, slotOf } from '../testing/planned-show';

describe('what a listing says', () => {
  let house: House;
  let at: PlannedShow;

  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house.close());
  beforeEach(async () => (at = await PlannedShow.plan(house)));
  afterEach(() => at.place.close());

  it('is changed bit by bit, and refuses what its place cannot have', async () => {
    await at.set({ settings: { captions: 'automatic', rewind: false } });
    await at.set({ settings: { rewind: null } });
    await at.set({ slot: { kind: 'offset', minutes: -5 } });
    const { settings, slot } = await at.listing();
    expect(settings).toEqual({ captions: 'automatic' });
    expect(slot).toEqual({ kind: 'offset', minutes: -5 });
    const refused = await at.set({ settings: { captions: 'sung', speakers: ['Odalys'] } });
    expect(JSON.stringify(refused.body)).toContain(
      'Kitefield cannot have this value. It can be off, automatic.',
    );
    expect(JSON.stringify(refused.body)).toContain('Kitefield has no such setting.');
    expect((await at.set({ slot: { kind: 'offset', minutes: 2000 } })).status).toBe(400);
  });

  it('has the house’s defaults where nothing else is said', async () => {
    await house.as.producer.get(saveHouseDefaults, {
      body: { seriesId: null, settings: { captions: 'automatic', earning: true }, atDeskMinutes: 30 },
    });
    await house.as.producer.get(saveHouseDefaults, {
      body: { seriesId: null, settings: { earning: null } },
    });
    expect(await house.as.moderator.get(readHouseDefaults)).toEqual({
      team: { captions: 'automatic' },
      bySeries: {},
      atDeskMinutes: 30,
    });
    await at.book();
    expect(at.place.events[0]!.settings).toEqual({ captions: 'automatic' });
    await house.as.producer.get(saveHouseDefaults, {
      body: { seriesId: null, settings: { captions: null } },
    });
  });

  it('has what its show shares before the house’s defaults, and its own before both', async () => {
    await house.as.producer.get(saveHouseDefaults, {
      body: { seriesId: null, settings: { captions: 'automatic' } },
    });
    const share = (settings: object) =>
      house.as.host.get(saveSharedSettings, { params: at.params, body: { settings } });
    expect((await share({ captions: 'off', topics: ['rye', 'salt'] })).shared).toEqual({
      captions: 'off',
      topics: ['rye', 'salt'],
    });
    expect((await share({ topics: null })).shared).toEqual({ captions: 'off' });
    await at.book();
    expect(at.place.events[0]!.settings).toEqual({ captions: 'off' });
    await at.set({ settings: { captions: 'automatic' } });
    await at.book();
    expect(at.place.events[0]!.settings).toEqual({ captions: 'automatic' });
    const shares = { params: at.params, body: { settings: { captions: 'automatic' } } };
    expect((await house.as.moderator.refused(saveSharedSettings, shares)).code).toBe('forbidden');
    await house.as.producer.get(saveHouseDefaults, {
      body: { seriesId: null, settings: { captions: null } },
    });
  });

  it('goes into the next show, without its booking', async () => {
    await at.set({
      title: 'Rye, live',
      settings: { captions: 'automatic' },
      slot: { kind: 'fixed', atMs: 5 },
    });
    const shares = { params: at.params, body: { settings: { language: 'pt' } } };
    await house.as.producer.get(saveSharedSettings, shares);
    await at.book();
    const id = crypto.randomUUID();
    const next = () => house.as.host.get(makeNextShow, { params: at.params, body: { id } });
    const { show, notCarried } = await next();
    expect(notCarried).toEqual(['fixed_slots']);
    expect(show.startsAtMs).toBe(slotOf(10));
    expect(show.shared).toEqual({ language: 'pt' });
    expect((await next()).show)
      .withContext('asked twice')
      .toEqual(show);
    const { listings } = await house.as.host.get(readListings, { params: { showId: id } });
    expect(listings[0]).toEqual(
      jasmine.objectContaining({
        title: 'Rye, live',
        settings: { captions: 'automatic' },
        slot: { kind: 'with_show' },
        state: 'draft',
        bookedSlotMs: null,
        pageUrl: null,
      }),
    );
  });

  it('is beside what was ticked on the launch sheet, by whoever did it', async () => {
    const tick = (done: boolean) =>
      house.as.moderator.get(tickLaunchItem, { params: at.params, body: { itemId: 'check_gear', done } });
    await tick(true);
    const { ticks } = await house.as.host.get(readLaunchTicks, { params: at.params });
    expect(ticks).toEqual([jasmine.objectContaining({ itemId: 'check_gear', by: 'The moderator' })]);
    expect((await tick(false)).ticks).toEqual([]);
  });
});
