import {
  addPlacement,
  beginConnecting,
  disconnectAccount,
  listAccounts,
  listDestinations,
  readPlacements,
} from '@juncta/contract/destinations';
import { createShow } from '@juncta/contract/shows';
import { wantFeed } from '../feeds/store';
import { sendTo } from '../testing/destination';
import { FakeEventPlace } from '../testing/fake-event-place';
import { openHouse, showText, type House } from '../testing/house';

const MINUTE = 60_000;

describe('accounts', () => {
  let house: House;
  let place: FakeEventPlace;

  beforeEach(async () => {
    place = await new FakeEventPlace().open();
    house = await openHouse({ demoPlaces: { kitefield: { url: place.url, grant: '' } } });
  });
  afterEach(async () => {
    await house.close();
    await place.close();
  });

  const begin = async (accountId: string | null = null) =>
    new URL((await house.as.producer.get(beginConnecting, { body: { kind: 'kitefield', accountId } })).url);
  /** The browser comes back from the place; gives what it is led to. */
  const comeBack = async (query: Record<string, string>, who = house.as.producer) => {
    const url = `${house.url}/api/accounts/callback?${new URLSearchParams(query).toString()}`;
    const response = await fetch(url, { redirect: 'manual', headers: { Cookie: who.cookieHeader } });
    return response.headers.get('location') ?? String(response.status);
  };
  /** As its owner lets us in. */
  const allow = (asked: URL, code = crypto.randomUUID()) => {
    place.codes.set(code, asked.searchParams.get('code_challenge')!);
    return { state: asked.searchParams.get('state')!, code };
  };
  const connect = async () => {
    const location = await comeBack(allow(await begin()));
    return new URL(location, house.url).searchParams.get('account')!;
  };
  const list = async () => (await house.as.moderator.get(listAccounts)).accounts;
  const addChannel = async (accountId: string) => {
    const id = crypto.randomUUID();
    const body = { id, placementId: 'channel', name: 'Our channel', code: 'oc', pattern: 'plain' as const };
    await house.as.producer.get(addPlacement, { params: { accountId }, body });
    return id;
  };

  it('are asked for on the place’s own page, with a challenge that shows nothing', async () => {
    const asked = await begin();
    expect(asked.origin).toBe(new URL(place.url).origin);
    expect(Object.fromEntries(asked.searchParams)).toEqual(
      jasmine.objectContaining({
        response_type: 'code',
        client_id: 'juncta',
        scope: 'events chat',
        code_challenge_method: 'S256',
        redirect_uri: `${house.url}/api/accounts/callback`,
      }),
    );
  });

  it('are kept once their owner lets us in, and their token is nowhere to be seen', async () => {
    const id = await connect();
    expect(await list()).toEqual([
      jasmine.objectContaining({
        id,
        place: 'Kitefield',
        name: 'The school',
        scopes: ['events'],
        state: 'good',
      }),
    ]);
    expect(JSON.stringify(await list()) + house.logged.join('')).not.toContain('lasting');
    // The same account once more is the same.
    expect(await connect()).toBe(id);
    expect((await list()).length).toBe(1);
  });

  const refusals: [string, (asked: URL) => Promise<string>, string][] = [
    [
      'when their owner says no',
      (asked) => comeBack({ state: asked.searchParams.get('state')!, error: 'access_denied' }),
      'refused',
    ],
    ['for a state that nobody began', () => comeBack({ state: 'made up', code: 'x' }), 'over'],
    [
      'after a quarter of an hour',
      (asked) => {
        house.securityClock.advance(15 * MINUTE);
        return comeBack(allow(asked));
      },
      'over',
    ],
    [
      'for a code that was made for somebody else',
      (asked) => comeBack({ state: asked.searchParams.get('state')!, code: 'stolen' }),
      'failed',
    ],
    [
      'when the place is down',
      (asked) => {
        place.mood = 'down';
        return comeBack(allow(asked));
      },
      'failed',
    ],
  ];
  for (const [what, act, outcome] of refusals) {
    it(`are not kept ${what}`, async () => {
      expect(await act(await begin())).toBe(`/destinations?connecting=${outcome}`);
      expect(await list()).toEqual([]);
    });
  }

  it('are connected by whoever began, and once', async () => {
    const asked = await begin();
    const back = allow(asked);
    for (const who of [house.as.host, house.as.moderator, house.stranger()])
      expect(await comeBack(back, who)).toMatch(/^40[13]$/);
    expect(await comeBack(back)).toMatch(/account=/);
    expect(await comeBack(back)).toBe('/destinations?connecting=over');
  });

  it('connected again as another are left as they were', async () => {
    const id = await connect();
    const asked = await begin(id);
    place.account = 'bench';
    expect(await comeBack(allow(asked))).toBe('/destinations?connecting=other_account');
    expect((await list()).map((one) => one.id)).toEqual([id]);
  });

  it('have placements that become destinations, unless something is missing', async () => {
    const accountId = await connect();
    const how = 'The circle has not let us in.';
    place.placements.push({ id: 'circle', kind: 'circle', name: 'Neighbours', missing: { how } });
    const id = await addChannel(accountId);
    const { placements } = await house.as.producer.get(readPlacements, { params: { accountId } });
    expect(placements.map((one) => [one.name, one.missing, one.destinationId])).toEqual([
      ['The school', null, id],
      ['Neighbours', how, null],
    ]);
    const body = {
      id: crypto.randomUUID(),
      placementId: 'circle',
      name: 'Neighbours',
      code: 'NE',
      pattern: 'plain' as const,
    };
    const refusal = await house.as.producer.refused(addPlacement, { params: { accountId }, body });
    expect(refusal.sentence).toBe(how);
  });

  it('are forgotten once somebody is sure, and never while a show is sent there', async () => {
    const accountId = await connect();
    const destinationId = await addChannel(accountId);
    const showId = crypto.randomUUID();
    await house.as.producer.get(createShow, { body: { id: showId, text: showText() } });
    await sendTo(house, showId, [destinationId]);
    const disconnect = (sure: boolean) =>
      house.as.producer.ask(disconnectAccount, { params: { accountId }, body: { sure } });
    expect((await disconnect(false)).body).toEqual({
      done: false,
      shows: [{ id: showId, title: 'Rye and patience' }],
    });
    await wantFeed(house.server.app.db, showId, destinationId, true);
    expect((await disconnect(true)).status).toBe(409);
    await wantFeed(house.server.app.db, showId, destinationId, false);
    expect((await disconnect(true)).status).toBe(200);
    expect(await list()).toEqual([]);
    expect((await house.as.producer.get(listDestinations)).destinations).toEqual([]);
  });
});
