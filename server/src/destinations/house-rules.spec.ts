import {
  addDestination,
  correctHouseRule,
  dismissAlarm,
  listDestinations,
  readHouseRules,
} from '@juncta/contract/destinations';
import { bookListings } from '@juncta/contract/listings';
import { createShow } from '@juncta/contract/shows';
import { addHarbour, sendTo } from '../testing/destination';
import { FakeEventPlace } from '../testing/fake-event-place';
import { openHouse, showText, type House } from '../testing/house';

describe('house rules', () => {
  let house: House;
  let place: FakeEventPlace;
  let showId: string;

  beforeEach(async () => {
    house = await openHouse();
    place = await new FakeEventPlace().open();
    showId = crypto.randomUUID();
    const local = new Date(Date.now() + 48 * 3_600_000).toISOString().slice(0, 16);
    const text = showText({ start: { local, zone: 'Etc/UTC', fold: 'earlier' } });
    await house.as.producer.get(createShow, { body: { id: showId, text } });
    await sendTo(house, showId, [await addHarbour(house, place.url)]);
  });
  afterEach(async () => {
    await house.close();
    await place.close();
  });

  const read = () => house.as.moderator.get(readHouseRules);
  const correct = (rule: 'title' | 'lapse_minutes', figure: number) =>
    house.as.producer.ask(correctHouseRule, {
      body: { kind: 'kitefield', rule, figure, source: 'the place’s letter' },
    });
  const book = () =>
    house.as.producer.get(bookListings, {
      params: { showId },
      body: { destinationIds: null, immediate: false },
    });
  const title = async () =>
    (await house.as.moderator.get(listDestinations)).destinations[0]!.rules.capabilities.title?.max;

  it('are corrected from a day on, with a source and a name, and hold over a restart', async () => {
    const before = await title();
    expect((await correct('title', 80)).status).toBe(200);
    expect(await title()).toBe(80);
    const { corrections } = await read();
    expect(corrections).toEqual([
      {
        kind: 'kitefield',
        rule: 'title',
        was: before!,
        is: 80,
        since: new Date().toISOString().slice(0, 10),
        source: 'the place’s letter',
        by: 'The producer',
      },
    ]);
    await house.server.app.rules.read(house.server.app.db);
    expect(await title()).toBe(80);
  });

  it('refuse what cannot be, and what the place has no rule for', async () => {
    expect((await correct('title', 0)).status).toBe(400);
    const none = await correct('lapse_minutes', 10);
    expect(JSON.stringify(none.body)).toContain('Kitefield has no such rule.');
    const body = { kind: 'kitefield', rule: 'title', figure: 9, source: 'x' } as const;
    expect((await house.as.host.ask(correctHouseRule, { body })).status).toBe(403);
  });

  it('raise an alarm when a place contradicts them, once', async () => {
    place.titleMax = 10;
    await book();
    await book();
    const { alarms } = await read();
    expect(alarms).toEqual([
      jasmine.objectContaining({
        place: 'Kitefield',
        rule: 'title',
        ours: 96,
        theirs: 10,
      }),
    ]);
    // Taken over: the next try is stopped here, before anything is sent.
    await correct('title', 10);
    expect((await read()).alarms).toEqual([]);
    const heard = place.heard.length;
    expect((await book()).outcomes[0]!.sentence).toBe(
      'The title is 6 too long for Harbour. Nothing was booked there.',
    );
    expect(place.heard.length).toBe(heard);
  });

  it('put an alarm away', async () => {
    place.titleMax = 10;
    await book();
    const [alarm] = (await read()).alarms;
    const params = { alarmId: alarm!.id };
    expect((await house.as.producer.get(dismissAlarm, { params })).alarms).toEqual([]);
    expect((await house.as.producer.ask(dismissAlarm, { params: { alarmId: showId } })).status).toBe(404);
  });

  it('of an address and a key are none', async () => {
    const body = {
      id: crypto.randomUUID(),
      name: 'Tower',
      code: 'TO',
      pattern: 'plain' as const,
      address: 'rtmp://tower.example/live',
      key: 'sesame',
      pageUrl: '',
    };
    const added = await house.as.producer.get(addDestination, { body });
    expect(added.rules.capabilities.title).toBeNull();
  });
});
