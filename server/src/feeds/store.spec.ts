import type { FeedReport, ProgrammeReport } from '@juncta/contract/relay';
import { openHouse, type House } from '../testing/house';
import { PlannedShow } from '../testing/planned-show';
import { keepFeeds, wantedFeeds, wantFeed } from './store';

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
  const keep = (change: Partial<FeedReport>) => keepFeeds(house.server.app.db, report(change), Date.now());
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
});
