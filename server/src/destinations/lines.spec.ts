import {
  addDestination,
  applyRoute,
  chooseRegion,
  listDestinations,
  listRoutes,
  measureRegions,
  removeRoute,
  revealKey,
  saveRoute,
  setShowDestinations,
  testLine,
} from '@juncta/contract/destinations';
import { readListings, saveListing } from '@juncta/contract/listings';
import { createShow } from '@juncta/contract/shows';
import { addHarbour, sendTo } from '../testing/destination';
import { FakeEventPlace } from '../testing/fake-event-place';
import { FakeRelay } from '../testing/fake-relay';
import { openHouse, showText, type House } from '../testing/house';

describe('the line to a destination', () => {
  let house: House;
  let relay: FakeRelay;
  let place: FakeEventPlace;
  beforeAll(async () => {
    relay = await new FakeRelay().open();
    place = await new FakeEventPlace().open();
    house = await openHouse({
      relay: relay.reached,
    });
  });
  afterAll(async () => {
    await house.close();
    await relay.close();
    await place.close();
  });
  beforeEach(() => {
    relay.heard.length = 0;
    place.heard.length = 0;
    place.mood = 'well';
    relay.lineTest = { outcome: 'taken', roundTripMs: 12.5, kbps: 4480, placeSays: null };
  });

  const tower = async () => {
    const body = {
      id: crypto.randomUUID(),
      name: 'Our own tower',
      code: 'ot',
      pattern: 'dotted' as const,
      address: 'rtmps://tower.example/live',
      key: 'sesame-open',
      pageUrl: '',
    };
    return { destinationId: (await house.as.producer.get(addDestination, { body })).id };
  };

  it('shows its key to producers who ask for it, and notes that it did', async () => {
    const params = await tower();
    expect(await house.as.producer.get(revealKey, { params })).toEqual({ key: 'sesame-open' });
    expect(house.logged.join('')).toContain('a key was shown');
    expect(house.logged.join('')).not.toContain('sesame');
    expect((await house.as.host.refused(revealKey, { params })).code).toBe('forbidden');
    const kept = { destinationId: await addHarbour(house, place.url) };
    expect((await house.as.producer.refused(revealKey, { params: kept })).code).toBe('not_ready');
  });

  it('is tried by an event that nobody sees, which is gone afterwards', async () => {
    const params = { destinationId: await addHarbour(house, place.url) };
    const { lineTest } = await house.as.producer.get(testLine, { params, body: { sure: false } });
    expect(lineTest).toEqual(jasmine.objectContaining({ good: true, kbps: 4480, roundTripMs: 12.5 }));
    expect(place.events).toEqual([]);
    expect(relay.heard.length).toBe(1);
    expect(relay.heard[0]).toContain('"address":"rtmp://ingest.place.example/live"');
    const made = place.heard.filter((line) => line === 'POST /v1/events');
    expect(made.length).toBe(1);
    const { destinations } = await house.as.moderator.get(listDestinations);
    expect(destinations.find(({ id }) => id === params.destinationId)?.lineTest).toEqual(lineTest);
  });

  it('says what went wrong, and leaves no event behind when the relay is away', async () => {
    const params = { destinationId: await addHarbour(house, place.url) };
    relay.lineTest = { outcome: 'refused', roundTripMs: 9, kbps: null, placeSays: 'Not your key.' };
    const { lineTest } = await house.as.producer.get(testLine, { params, body: { sure: false } });
    expect(lineTest!.good).toBeFalse();
    expect(lineTest!.sentence).toContain('Not your key.');
    relay.broken = true;
    expect((await house.as.producer.refused(testLine, { params, body: { sure: false } })).code).toBe(
      'relay_away',
    );
    relay.broken = false;
    expect(place.events).toEqual([]);
  });

  it('takes away later what could not be taken away at once', async () => {
    const params = { destinationId: await addHarbour(house, place.url) };
    place.keepsEvents = true;
    await house.as.producer.get(testLine, { params, body: { sure: false } });
    expect(place.events.length).toBe(1);
    place.keepsEvents = false;
    await house.as.producer.get(testLine, { params, body: { sure: false } });
    expect(place.events).toEqual([]);
  });

  it('is tried where nobody can say who sees it only at a person’s word', async () => {
    const params = await tower();
    const refusal = await house.as.producer.refused(testLine, { params, body: { sure: false } });
    expect(refusal.code).toBe('not_ready');
    expect(relay.heard).toEqual([]);
    const { lineTest } = await house.as.producer.get(testLine, { params, body: { sure: true } });
    expect(lineTest!.good).toBeTrue();
    expect(relay.heard.length).toBe(1);
  });

  it('has regions only where a place has them', async () => {
    const params = await tower();
    for (const call of [
      house.as.producer.refused(measureRegions, { params }),
      house.as.producer.refused(chooseRegion, { params, body: { region: 'north' } }),
    ])
      expect((await call).code).toBe('not_ready');
  });

  describe('in routes', () => {
    const makeShow = async () => {
      const body = { id: crypto.randomUUID(), text: showText() };
      return (await house.as.producer.get(createShow, { body })).id;
    };

    it('goes to a show in one step, with its settings and in its order', async () => {
      const [first, second] = [await addHarbour(house, place.url), await addHarbour(house, place.url)];
      const [planned, next] = [await makeShow(), await makeShow()];
      await sendTo(house, planned, [second, first]);
      await house.as.host.get(saveListing, {
        params: { showId: planned, destinationId: first },
        body: { settings: { visibility: 'unlisted' } },
      });
      const routeId = crypto.randomUUID();
      const body = { name: 'Every Thursday', showId: planned };
      await house.as.host.get(saveRoute, { params: { routeId }, body });
      const taken = await house.as.host.refused(saveRoute, {
        params: { routeId: crypto.randomUUID() },
        body,
      });
      expect(taken.fields?.[0]?.code).toBe('taken');
      await sendTo(house, next, [(await tower()).destinationId]);
      const applied = await house.as.host.get(applyRoute, { params: { showId: next }, body: { routeId } });
      expect(applied.destinationIds).toEqual([second, first]);
      const { listings } = await house.as.host.get(readListings, { params: { showId: next } });
      expect(listings.map((one) => [one.destinationId, one.settings])).toEqual([
        [second, {}],
        [first, { visibility: 'unlisted' }],
      ]);
      expect((await house.as.moderator.refused(removeRoute, { params: { routeId } })).code).toBe('forbidden');
      await house.as.host.get(removeRoute, { params: { routeId } });
      expect((await house.as.moderator.get(listRoutes)).routes).toEqual([]);
    });

    it('keeps what was written for a destination that is taken off and put back', async () => {
      const showId = await makeShow();
      const destinationId = await addHarbour(house, place.url);
      await sendTo(house, showId, [destinationId]);
      const listing = { title: 'Rye, at the harbour', slot: { kind: 'offset', minutes: 5 } } as const;
      await house.as.host.get(saveListing, { params: { showId, destinationId }, body: listing });
      for (const destinationIds of [[], [destinationId]])
        await house.as.host.get(setShowDestinations, { params: { showId }, body: { destinationIds } });
      const { listings } = await house.as.host.get(readListings, { params: { showId } });
      expect(listings[0]).toEqual(jasmine.objectContaining(listing));
    });
  });
});
