import { readChat } from '@juncta/contract/chat';
import { putMark } from '@juncta/contract/marks';
import { startFeed } from '@juncta/contract/feeds';
import { readListings } from '@juncta/contract/listings';
import { changeListing } from '../../listings/store';
import { addHarbour, sendTo } from '../../testing/destination';
import { FakeEventPlace } from '../../testing/fake-event-place';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

describe('how far behind viewers are', () => {
  const at = withShowAtPlace({ started: true });
  let other: FakeEventPlace;
  beforeEach(async () => {
    other = await new FakeEventPlace().open();
  });
  afterEach(() => other.close());

  it('is learned from what they write about marked moments, beside a place where it is measured', async () => {
    const showParams = { showId: at.showId };
    const otherId = await addHarbour(at.house, other.url);
    await sendTo(at.house, at.showId, [at.destinationId, otherId]);
    await at.house.as.host.get(startFeed, { params: { ...showParams, destinationId: otherId } });
    const { db } = at.house.server.app;
    const measured = { viewerDelayMs: 6000, viewerDelayFrom: 'measured' as const };
    await changeListing(db, at.showId, at.destinationId, measured);
    const startMs = Date.now();
    at.house.securityClock.nowMs = startMs;
    const clock = at.house.securityClock;
    const gone: number[] = [];
    for (let i = 0; i < 4; i++) {
      at.relay.change(at.showId, { showTimeMs: 1000 * (i + 1) });
      const params = { ...showParams, markId: crypto.randomUUID() };
      const put = () => at.house.as.moderator.get(putMark, { params, body: { words: '' } });
      await until('it is marked', async () => (await put().catch(() => null)) !== null);
      gone.push(clock.now());
      clock.advance(100_000);
    }
    let n = 0;
    for (const atMs of gone) {
      for (const writingMs of [2500, 3500, 5000]) {
        at.place.write(`here ${n}`, `viewer ${n}`, atMs + 6000 + writingMs);
        other.write(`there ${n}`, `viewer ${++n}`, atMs + 19_000 + writingMs);
      }
    }
    const read = () => at.house.as.host.get(readListings, { params: showParams });
    const messages = async () => (await at.house.as.host.get(readChat, { params: showParams })).messages;
    await until('all is here', async () => (await messages()).length === 24);
    clock.advance(20_000);
    const delayOf = async () =>
      (await read()).listings.find(({ destinationId }) => destinationId === otherId)!;
    await until('it is learned', async () => (await delayOf()).delayFrom === 'learned');
    expect((await delayOf()).delayS).toBe(19);
  });
});
