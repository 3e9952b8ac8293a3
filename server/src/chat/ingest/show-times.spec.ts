import { readChat, type ChatMessage } from '@juncta/contract/chat';
import { changeListing } from '../../listings/store';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

/** The house rule for the place of these specs, in what it is set to. */
const RULE_MS = 21_000;

describe('moments of the show that were known by the rule', () => {
  const at = withShowAtPlace({ started: true });
  const read = async () =>
    (await at.house.as.moderator.get(readChat, { params: { showId: at.showId } })).messages;
  const arrived = async (text: string): Promise<ChatMessage> => {
    const find = async () => (await read()).find((one) => one.text === text);
    await until(`${text} is there`, async () => (await find()) !== undefined);
    return (await find())!;
  };
  const running = async (showTimeMs: number) => {
    at.relay.change(at.showId, { state: 'source', showTimeMs });
    const { app } = at.house.server;
    await until('the show runs', () => app.relay?.reportOf(at.showId)?.showTimeMs === showTimeMs);
  };
  const measured = (viewerDelayMs: number) =>
    changeListing(at.house.server.app.db, at.showId, at.destinationId, {
      viewerDelayMs,
      viewerDelayFrom: 'measured',
    });
  const said = async (text: string) => {
    at.place.write(text, 'Ilse', at.house.securityClock.now());
    return arrived(text);
  };
  const rightedTo = async (text: string, showTimeMs: number | null) => {
    await until(`${text} is put right`, async () => !(await arrived(text)).showTimeAbout);
    expect((await arrived(text)).showTimeMs).toBe(showTimeMs);
  };

  it('are put right once somebody knows how far behind its viewers are', async () => {
    await running(60_000);
    const about = await said('by the rule');
    expect([about.showTimeMs, about.showTimeAbout]).toEqual([60_000 - RULE_MS, true]);
    await measured(14_000);
    await rightedTo('by the rule', 46_000);
    const known = await said('measured');
    expect([known.showTimeMs, known.showTimeAbout]).toEqual([46_000, false]);
    // What is known is not moved when the delay itself changes.
    await measured(4000);
    await until('it is known', async () => (await said(crypto.randomUUID())).showTimeMs === 56_000);
    expect((await arrived('by the rule')).showTimeMs).toBe(46_000);
    expect((await arrived('measured')).showTimeMs).toBe(46_000);
  });

  it('are none when the picture had not reached anybody there', async () => {
    await running(23_000);
    await said('early');
    await measured(26_000);
    await rightedTo('early', null);
  });
});
