import { addDestination, setShowDestinations } from '@juncta/contract/destinations';
import { causeFault, endDrill, readDrill, runScript, startDrill } from '@juncta/contract/drill';
import { startFeed } from '@juncta/contract/feeds';
import { createShow } from '@juncta/contract/shows';
import { FakeRelay } from '../testing/fake-relay';
import { openHouse, showText, type House } from '../testing/house';

describe('a drill', () => {
  let house: House;
  let relay: FakeRelay;
  let showId: string;
  let destinationId: string;
  beforeAll(async () => {
    relay = await new FakeRelay().open();
    house = await openHouse({
      relay: relay.reached,
    });
  });
  afterAll(async () => {
    await house.close();
    await relay.close();
  });
  beforeEach(async () => {
    relay.drill = null;
    relay.heard.length = 0;
    [showId, destinationId] = [crypto.randomUUID(), crypto.randomUUID()];
    await house.as.producer.get(createShow, { body: { id: showId, text: showText() } });
    const address = 'rtmp://tower.example/live';
    const custom = {
      name: 'Tower',
      code: 'TO',
      pattern: 'plain' as const,
      address,
      key: 'sesame',
      pageUrl: '',
    };
    await house.as.producer.get(addDestination, { body: { id: destinationId, ...custom } });
    await goTo([destinationId]);
    relay.change(showId, { state: 'source' });
  });

  const params = () => ({ showId });
  const goTo = (destinationIds: string[]) =>
    house.as.producer.get(setShowDestinations, { params: params(), body: { destinationIds } });
  const refused = async () => (await house.as.producer.refused(startDrill, { params: params() })).sentence;
  const cause = (body: {
    kind: 'drop' | 'stall' | 'uplink_cut' | 'database_dies';
    seconds: number;
    at?: string;
  }) => ({
    params: params(),
    body: { kind: body.kind, seconds: body.seconds, destinationId: body.at ?? null },
  });

  it('is played with the rules of the show’s places, and without a key', async () => {
    const { drill } = await house.as.host.get(startDrill, { params: params() });
    expect(drill!.endedAtMs).toBeNull();
    const told = relay.heard.find((line) => line.includes('drill'))!;
    expect(told).toContain('"patienceS":0,"then":"unknown"');
    expect(told).not.toContain('sesame');
    expect((await house.as.moderator.get(readDrill, { params: params() })).drill).toEqual(drill);
  });

  it('needs a picture, somewhere to go, and a show that does not run', async () => {
    relay.change(showId, { state: 'waiting' });
    expect(await refused()).toContain('no picture');
    relay.change(showId, { state: 'source' });
    await goTo([]);
    expect(await refused()).toContain('goes nowhere');
    await goTo([destinationId]);
    await house.as.host.get(startFeed, { params: { showId, destinationId } });
    expect(await refused()).toContain('The show runs');
  });

  it('keeps the show from being started while it goes on', async () => {
    await house.as.host.get(startDrill, { params: params() });
    const refusal = await house.as.host.refused(startFeed, { params: { showId, destinationId } });
    expect(refusal.sentence).toContain('A drill goes on');
    await house.as.host.get(endDrill, { params: params() });
    await house.as.host.get(startFeed, { params: { showId, destinationId } });
  });

  it('takes faults that can be, once each, and names what is wrong with others', async () => {
    expect((await house.as.host.refused(causeFault, cause({ kind: 'uplink_cut', seconds: 8 }))).code).toBe(
      'not_ready',
    );
    await house.as.host.get(startDrill, { params: params() });
    await house.as.host.get(causeFault, cause({ kind: 'stall', seconds: 8, at: destinationId }));
    expect(relay.heard.filter((line) => line.includes('stall')).length).toBe(1);
    for (const [request, field] of [
      [cause({ kind: 'drop', seconds: 0 }), 'destinationId'],
      [cause({ kind: 'uplink_cut', seconds: 0 }), 'seconds'],
    ] as const) {
      const refusal = await house.as.host.refused(causeFault, request);
      expect(refusal.fields!.map((one) => one.field)).toEqual([field]);
    }
    const noSupervisor = await house.as.host.refused(
      causeFault,
      cause({ kind: 'database_dies', seconds: 0 }),
    );
    expect(noSupervisor.sentence).toContain('start command');
  });

  it('is for those who run shows', async () => {
    for (const door of [startDrill, endDrill, runScript])
      expect((await house.as.moderator.refused(door, { params: params() })).code).toBe('forbidden');
  });
});
