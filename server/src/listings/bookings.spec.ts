import { REAL_SETTING, setTo } from '@juncta/core/clock';
import { listAccounts, setShowDestinations } from '@juncta/contract/destinations';
import {
  adoptEvent,
  bookListings,
  cancelBookings,
  findRemoteEvents,
  readBackListings,
  readClashes,
} from '@juncta/contract/listings';
import { readPlannedListings } from '@juncta/contract/readiness';
import { createShow, listShows, saveShow } from '@juncta/contract/shows';
import { sendTo } from '../testing/destination';
import type { FakeEventPlace } from '../testing/fake-event-place';
import { openHouse, showText, type House } from '../testing/house';
import { inDays, PlannedShow, slotOf } from '../testing/planned-show';
import { until } from '../testing/until';
import { setProgrammeTimes } from '../shows/store';
import { LaunchJobs } from './launch-jobs';
import { changeListing } from './store';

const MINUTE = 60_000;
const DAY = 24 * 60 * MINUTE;

describe('bookings', () => {
  let house: House;
  let at: PlannedShow;
  let place: FakeEventPlace;
  let showId: string;
  let destinationId: string;
  let accountId: string;

  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house.close());
  beforeEach(async () => {
    at = await PlannedShow.plan(house);
    ({ place, showId, destinationId, accountId } = at);
  });
  afterEach(() => place.close());

  const params = () => at.params;
  const book = (immediate?: boolean) => at.book(immediate);
  const listing = () => at.listing();
  const set = (body: object) => at.set(body);
  const move = (days: number) => at.move(days);
  const shown = () => at.shown();

  it('make an event with its slot, text and settings, and are read back', async () => {
    await set({ description: 'With {guests}.', settings: { captions: 'automatic' } });
    expect(await book()).toEqual({ destinationId, done: true, sentence: null });
    const [event] = place.events;
    expect(event!.title).toBe('Rye and patience');
    expect(event!.description).toBe('With .');
    expect(Date.parse(event!.starts_at!)).toBe(slotOf(3));
    expect(event!.settings).toEqual({ captions: 'automatic' });
    const there = await listing();
    expect(there).toEqual(
      jasmine.objectContaining({
        state: 'booked',
        bookedSlotMs: slotOf(3),
        differs: [],
        problem: null,
        pageUrl: `${place.url}/watch/ev1`,
      }),
    );
  });

  it('are made once, though answers are lost and two people press at once', async () => {
    place.forgetAnswer = true;
    const lost = await book();
    expect(lost.done).toBeFalse();
    expect(lost.sentence).toContain('Harbour does not answer just now, so nothing was booked there.');
    expect((await listing()).problem).toBe(lost.sentence);
    place.forgetAnswer = false;
    await Promise.all([book(), book()]);
    expect(place.events.length).toBe(1);
    expect((await listing()).problem).toBeNull();
  });

  it('are brought up to date when the show is moved or written anew', async () => {
    await book();
    await move(4);
    await set({ title: 'Rye, patience and salt' });
    expect((await book()).done).toBeTrue();
    expect(place.events.length).toBe(1);
    expect(place.events[0]!.title).toBe('Rye, patience and salt');
    expect((await listing()).bookedSlotMs).toBe(slotOf(4));
  });

  it('keep the hour of the day when the show is moved over a change of clocks', async () => {
    const { clock } = house.server.app;
    const on = (day: string) =>
      showText({ start: { local: `${day}T19:00`, zone: 'Europe/Lisbon', fold: 'earlier' } });
    const save = async (day: string) => {
      const { version } = await shown();
      await house.as.producer.get(saveShow, { params: params(), body: { version, text: on(day) } });
    };
    const bookedFor = async () => {
      expect(await book()).toEqual({ destinationId, done: true, sentence: null });
      return new Date(place.events[0]!.starts_at!).toISOString();
    };
    clock.adopt(setTo(REAL_SETTING, Date.now(), Date.parse('2027-03-25T12:00Z')));
    try {
      await save('2027-03-27');
      expect(await bookedFor()).toBe('2027-03-27T19:00:00.000Z');
      await save('2027-03-28');
      expect(await bookedFor()).toBe('2027-03-28T18:00:00.000Z');
      expect(place.events.length).toBe(1);
    } finally {
      clock.adopt(REAL_SETTING);
    }
  });

  it('take over an event that somebody made over there, and say what it has otherwise', async () => {
    const params = { showId, destinationId };
    const make = (title: string, days: number | null) =>
      place.make({ title, starts_at: days === null ? null : new Date(slotOf(days)).toISOString() });
    make('Far', 8);
    const near = make('Made by hand', 3);
    make('Without a slot', null);
    const { events } = await house.as.host.get(findRemoteEvents, { params });
    expect(events.map(({ title }) => title)).toEqual(['Made by hand', 'Far', 'Without a slot']);
    const body = { eventRef: near };
    const adopted = await house.as.host.get(adoptEvent, { params, body });
    expect(adopted).toEqual(
      jasmine.objectContaining({ state: 'booked', bookedSlotMs: slotOf(3), differs: ['title'] }),
    );
    const again = await house.as.host.get(findRemoteEvents, { params });
    expect(again.events.map(({ title }) => title)).not.toContain('Made by hand');
    expect((await house.as.host.refused(adoptEvent, { params, body })).code).toBe('not_ready');
    // Sent with the next press, to the same event.
    expect((await book()).done).toBeTrue();
    expect(place.events.length).toBe(3);
    expect(place.events.find(({ id }) => id === near)!.title).toBe('Rye and patience');
  });

  it('are cancelled, and made anew', async () => {
    await book();
    await house.as.producer.get(cancelBookings, { params: params(), body: { destinationIds: null } });
    expect(place.events).toEqual([]);
    expect(await listing()).toEqual(
      jasmine.objectContaining({ state: 'draft', bookedSlotMs: null, pageUrl: null }),
    );
    expect((await book()).done).toBeTrue();
  });

  it('that are too early are made by themselves when their window opens, once', async () => {
    await move(12);
    const early = await book();
    expect(early.sentence).toContain('booked by itself');
    const due = (await listing()).bookingDueMs!;
    expect(due).toBe(slotOf(12) - 9 * DAY);
    const jobs = new LaunchJobs(house.server.app);
    await jobs.run();
    jobs.stop();
    expect(place.events).withContext('not before its time').toEqual([]);
    const { clock } = house.server.app;
    clock.adopt({ machineAtMs: Date.now(), atMs: due, rate: 1 });
    try {
      // Two servers look at the same moment; one of them was killed in the middle of it before.
      const both = [new LaunchJobs(house.server.app), new LaunchJobs(house.server.app)];
      await Promise.all(both.map((one) => one.run()));
      both.forEach((one) => one.stop());
      await until('it is booked', async () => (await listing()).state === 'booked');
      expect(place.events.length).toBe(1);
      expect((await listing()).bookingDueMs).toBeNull();
    } finally {
      clock.adopt(REAL_SETTING);
    }
  });

  it('that are too late are refused, and can be made without a slot', async () => {
    await move(19 / (24 * 60));
    const late = await book();
    expect(late.sentence).toContain('It is too late to book this slot at Harbour.');
    expect(place.events).toEqual([]);
    expect((await book(true)).done).toBeTrue();
    expect(place.events[0]!.starts_at).toBeNull();
  });

  it('are not tried with a text that the place would refuse', async () => {
    await set({ title: 'x'.repeat(97) });
    expect((await book()).sentence).toBe('The title is 1 too long for Harbour. Nothing was booked there.');
    expect(place.heard.some((text) => text === 'POST /v1/events')).toBeFalse();
  });

  it('tell in the place’s words what it refused', async () => {
    place.titleMax = 5;
    expect((await book()).sentence).toBe('Harbour said no, so nothing was booked there: title: at most 5.');
  });

  it('show what the place ignored, and push it again', async () => {
    await set({ settings: { captions: 'automatic' } });
    await book();
    place.events[0]!.settings = { captions: 'off' };
    await house.as.producer.get(readBackListings, { params: params(), body: { destinationIds: null } });
    expect((await listing()).differs).toEqual(['captions']);
    await book();
    expect(place.events[0]!.settings).toEqual({ captions: 'automatic' });
    expect((await listing()).differs).toEqual([]);
  });

  it('that vanished or were thrown away over there are noticed', async () => {
    await book();
    place.events[0]!.state = 'lapsed';
    const look = () =>
      house.as.producer.get(readBackListings, { params: params(), body: { destinationIds: null } });
    await look();
    expect(await listing()).toEqual(
      jasmine.objectContaining({
        state: 'lapsed',
        problem: 'Harbour threw the event away: nothing had arrived in time.',
      }),
    );
    expect((await book(true)).done).toBeTrue();
    expect(place.events.length).toBe(2);
    place.events.length = 0;
    await look();
    expect((await listing()).problem).toBe('The event was deleted at Harbour, and not by us.');
  });

  it('at an account that was taken back say so, and forget it once it is let in again', async () => {
    const state = async () =>
      (await house.as.producer.get(listAccounts)).accounts.find(({ id }) => id === accountId)!.state;
    place.mood = 'refused';
    expect((await book()).sentence).toContain('A producer has to connect it again.');
    expect(await state()).toBe('lost');
    place.mood = 'well';
    await book();
    expect(await state()).toBe('good');
  });

  it('are for producers and hosts', async () => {
    const body = { destinationIds: null, immediate: false };
    expect((await house.as.moderator.ask(bookListings, { params: params(), body })).status).toBe(403);
  });

  it('that are open already have changes sent to them, and keep their slot', async () => {
    await book();
    await changeListing(house.server.app.db, showId, destinationId, { listingState: 'open' });
    await set({ title: 'Rye, and now salt' });
    expect((await book()).done).toBeTrue();
    expect(place.events.map(({ title, starts_at }) => [title, Date.parse(starts_at!)])).toEqual([
      ['Rye, and now salt', slotOf(3)],
    ]);
    expect((await listing()).state).toBe('open');
  });

  it('that are under way when the feed is started leave the listing open', async () => {
    place.answerAfterMs = 150;
    const booking = book();
    await until('the place is being asked', () => place.heard.includes('POST /v1/events'));
    await changeListing(house.server.app.db, showId, destinationId, { listingState: 'open' });
    await booking;
    expect((await listing()).state).toBe('open');
  });

  it('leave alone on air what the place settles before', async () => {
    await set({ settings: { latency: 'short', captions: 'automatic' } });
    await book();
    await changeListing(house.server.app.db, showId, destinationId, { listingState: 'open' });
    await set({ settings: { latency: 'shortest', captions: 'off' } });
    expect((await book()).done).toBeTrue();
    expect(place.events[0]!.settings).toEqual({ latency: 'short', captions: 'off' });
  });

  it('are not cancelled once a feed goes there, nor made for a show that is over', async () => {
    await book();
    await changeListing(house.server.app.db, showId, destinationId, { listingState: 'open' });
    const { outcomes } = await house.as.producer.get(cancelBookings, {
      params: params(),
      body: { destinationIds: null },
    });
    expect(outcomes[0]!.sentence).toBe('Its feed has begun. It is ended at the desk.');
    expect(place.events.length).toBe(1);
    await changeListing(house.server.app.db, showId, destinationId, { listingState: 'closed' });
    await setProgrammeTimes(house.server.app.db, showId, { startedAt: 1, endedAt: 2 });
    expect((await book()).sentence).toBe('The show is over. Nothing was booked.');
  });

  it('keep their destination on the board until they are cancelled', async () => {
    await book();
    const take = () =>
      house.as.producer.ask(setShowDestinations, { params: params(), body: { destinationIds: [] } });
    expect(JSON.stringify((await take()).body)).toContain(
      'It is booked at Harbour. Cancel the booking first.',
    );
    await house.as.producer.get(cancelBookings, { params: params(), body: { destinationIds: null } });
    expect((await take()).status).toBe(200);
  });

  it('know which other shows go to the same place at the same time', async () => {
    const other = async (days: number, title: string) => {
      const id = crypto.randomUUID();
      await house.as.producer.get(createShow, { body: { id, text: { ...inDays(days), title } } });
      await sendTo(house, id, [destinationId]);
    };
    await other(3, 'Oats at the same time');
    await other(5, 'Oats later');
    const { clashes } = await house.as.moderator.get(readClashes, { params: params() });
    expect(clashes).toEqual([{ destinationId, titles: ['Oats at the same time'] }]);
    // The board computes the readiness of all shows from the same.
    const { shows, destinations } = await house.as.moderator.get(readPlannedListings);
    const ours = shows.find((one) => one.showId === showId)!;
    expect(ours.clashes).toEqual(clashes);
    expect(ours.listings.map((one) => one.destinationId)).toEqual([destinationId]);
    expect(destinations.map(({ id }) => id)).toContain(destinationId);
    const ahead = (await house.as.moderator.get(listShows)).shows.filter(
      ({ endedAtMs, archivedAtMs }) => endedAtMs === null && archivedAtMs === null,
    );
    expect(new Set(shows.map((one) => one.showId))).toEqual(new Set(ahead.map(({ id }) => id)));
  });
});
