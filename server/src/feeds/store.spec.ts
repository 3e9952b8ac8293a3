import type { FeedReport, ProgrammeReport } from '@juncta/contract/relay';
import { openHouse, type House } from '../testing/house';
import { PlannedShow } from '../testing/planned-show';
import { addHarbour } from '../testing/destination';
import { keepFeeds, wantedFeeds, wantFeed, wantNoFeeds } from './store';

describe('feeds that are wanted', () => {
  let house: House;
  let at: PlannedShow;
  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house.close());
  beforeEach(async () => (at = await PlannedShow.plan(house)));
  afterEach(() => at.place.close());

  const report = (change: Partial<FeedReport>): ProgrammeReport => {
    const { destinationId } = at;
    const feed = { destinationId, reason: null, placeSays: null, ...change } as FeedReport;
    return { showId: at.showId, feeds: [feed] } as unknown as ProgrammeReport;
  };
  const want = () => wantFeed(house.server.app.db, at.showId, at.destinationId, true);
  const keep = (change: Partial<FeedReport>) =>
    house.server.app.db.transaction((tx) => keepFeeds(tx, report(change), Date.now()));
  const isWanted = async () =>
    (await wantedFeeds(house.server.app.db)).some(({ showId }) => showId === at.showId);

  it('are so until they end or fail', async () => {
    await want();
    await keep({ state: 'sending', sinceMs: 1000 });
    expect(await isWanted()).toBeTrue();
    await keep({ state: 'failed', sinceMs: 2000 });
    expect(await isWanted()).toBeFalse();
  });

  it('stay so when a report of their last end comes after they were started again', async () => {
    await want();
    await keep({ state: 'ended', sinceMs: 1000 });
    await want();
    await keep({ state: 'ended', sinceMs: 1000 });
    expect(await isWanted())
      .withContext('said before it was started')
      .toBeTrue();
    await keep({ state: 'ended', sinceMs: 3000 });
    expect(await isWanted())
      .withContext('ended once more')
      .toBeFalse();
  });

  it('are wanted no more while reports of them are kept, however both fall together', async () => {
    const { db } = house.server.app;
    const ids = await Promise.all(
      Array.from({ length: 8 }, () => addHarbour(house, at.place.url, at.accountId)),
    );
    for (const id of ids) await wantFeed(db, at.showId, id, true);
    const feeds = ids.map((destinationId) => ({ destinationId, state: 'sending', sinceMs: 1, reason: null }));
    const kept = (order: readonly object[]) =>
      db.transaction((tx) =>
        keepFeeds(tx, { showId: at.showId, feeds: order } as unknown as ProgrammeReport, Date.now()),
      );
    for (let round = 0; round < 20; round++) {
      const both = [
        wantNoFeeds(db, at.showId),
        kept(feeds),
        kept(feeds.toReversed()),
        wantNoFeeds(db, at.showId),
      ];
      await expectAsync(Promise.all(both)).toBeResolved();
    }
    expect(await isWanted()).toBeFalse();
  });
});
