import { closeChat } from '@juncta/contract/chat';
import { startFeed } from '@juncta/contract/feeds';
import { createShow } from '@juncta/contract/shows';
import { addHarbour, sendTo } from './destination';
import { FakeEventPlace } from './fake-event-place';
import { FakeRelay } from './fake-relay';
import { openHouse, showText, type House } from './house';

/** A house with a relay for all specs of a part; for each a place of its own and a show that goes there, with a picture. */
export interface ShowAtPlace {
  readonly house: House;
  readonly relay: FakeRelay;
  readonly place: FakeEventPlace;
  readonly showId: string;
  readonly destinationId: string;
}

/**
 * Sets up before, and clears up after, whatever is around the call. What it gives is filled by then: read it within
 * specs only.
 *
 * @param started its feed is started, so that its chat is open
 */
export function withShowAtPlace({ started }: { started: boolean }): ShowAtPlace {
  const at = {} as { -readonly [K in keyof ShowAtPlace]: ShowAtPlace[K] };
  beforeAll(async () => {
    at.relay = await new FakeRelay().open();
    at.house = await openHouse({ relay: at.relay.reached });
  });
  afterAll(async () => {
    await at.house.close();
    await at.relay.close();
  });
  beforeEach(async () => {
    const { house, relay } = at;
    at.place = await new FakeEventPlace().open();
    at.showId = crypto.randomUUID();
    await house.as.producer.get(createShow, { body: { id: at.showId, text: showText() } });
    at.destinationId = await addHarbour(house, at.place.url);
    await sendTo(house, at.showId, [at.destinationId]);
    relay.change(at.showId, { state: 'source' });
    if (!started) return;
    const params = { showId: at.showId, destinationId: at.destinationId };
    await house.as.host.get(startFeed, { params });
  });
  afterEach(async () => {
    await at.house.as.host.get(closeChat, { params: { showId: at.showId } });
    await at.place.close();
  });
  return at;
}
