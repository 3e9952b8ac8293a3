import { readChat, readChatFigures } from '@juncta/contract/chat';
import { startFeed } from '@juncta/contract/feeds';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

describe('what viewers press', () => {
  const at = withShowAtPlace({ started: false });
  const params = () => ({ showId: at.showId });
  const read = async () => (await at.house.as.moderator.get(readChat, { params: params() })).reactions;

  it('is counted from when the show came, by the minute they were watching, and told', async () => {
    at.place.reactions = { heart: 900 };
    at.relay.change(at.showId, { showTimeMs: 3 * 60_000 });
    const destination = { showId: at.showId, destinationId: at.destinationId };
    await at.house.as.host.get(startFeed, { params: destination });
    at.place.write('so that we know that it was read');
    const isRead = async () =>
      (await at.house.as.moderator.get(readChat, { params: params() })).messages.length === 1;
    await until('the chat is read', isRead);
    expect(await read()).toEqual({ counts: {}, lastMinute: 0 });
    at.place.reactions = { heart: 903, clap: 2, sourdough: 1 };
    await until('they are counted', async () => (await read()).lastMinute === 6);
    expect((await read()).counts).toEqual({ heart: 3, clap: 2, other: 1 });
    const figures = await at.house.as.moderator.get(readChatFigures, { params: params() });
    expect([figures.reactions, figures.reactionMinutes]).toEqual([6, [{ minute: 2, reactions: 6 }]]);
    at.house.securityClock.advance(61_000);
    expect(await read()).toEqual({ counts: { heart: 3, clap: 2, other: 1 }, lastMinute: 0 });
  });
});
