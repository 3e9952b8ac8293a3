import {
  addDestination,
  listDestinations,
  setEncoderLimit,
  setShowDestinations,
} from '@juncta/contract/destinations';
import { feedStillPath, startFeed } from '@juncta/contract/feeds';
import { setPictureFormat } from '@juncta/contract/programme';
import type { FeedReport, FeedRequest, RenditionReport } from '@juncta/contract/relay';
import { readEncodingMachine } from '@juncta/contract/renditions';
import { createShow } from '@juncta/contract/shows';
import { SLOW_MACHINE } from '@juncta/core/renditions';
import { FakeRelay } from '../testing/fake-relay';
import { inputReport } from '../testing/input-report';
import { openHouse, showText, type House } from '../testing/house';
import { PlannedShow } from '../testing/planned-show';
import { until } from '../testing/until';

const STRICT = { shape: 'landscape' as const, maxHeight: 720, maxFramesPerS: 30, maxKbps: 2500 };
/** 2,500 kbit/s without what RTMP adds, and without audio. */
const RENDITION = { shape: 'landscape' as const, height: 720, rateHz: 30, videoKbps: 2220, keyframeS: 2 };

describe('what each place of a show gets', () => {
  let house: House;
  let relay: FakeRelay;
  let showId: string;
  let wide: string;
  let strict: string;

  beforeAll(async () => {
    relay = await new FakeRelay().open();
    house = await openHouse({ relay: relay.reached });
  });
  afterAll(async () => {
    await house.close();
    await relay.close();
  });
  beforeEach(async () => {
    await allow(2);
    relay.heard.length = 0;
    showId = crypto.randomUUID();
    await house.as.producer.get(createShow, { body: { id: showId, text: showText() } });
    [wide, strict] = [
      await add('Wide', { ...STRICT, maxHeight: 1080, maxKbps: 9000 }),
      await add('Strict', STRICT),
    ];
    await house.as.producer.get(setShowDestinations, {
      params: { showId },
      body: { destinationIds: [wide, strict] },
    });
    await house.as.host.get(setPictureFormat, { params: { showId }, body: { pictureFormat: '1080p30' } });
    relay.change(showId, { state: 'source' });
  });

  // One machine encodes for all shows: what one spec has is not to be in the way of the next.
  afterEach(() => relay.change(showId, { feeds: [], renditions: [] }));

  const machine = async () => (await house.as.moderator.get(readEncodingMachine)).machine;
  /** What may be encoded on the relay's machine, from its next report on. */
  const allow = async (cores: number) => {
    relay.machine = { cores, cost: SLOW_MACHINE, isMeasured: true };
    relay.change(crypto.randomUUID(), {});
    await until('the server has heard of it', async () => (await machine())?.cores === cores);
  };
  const add = async (name: string, limit: typeof STRICT | null) => {
    const id = crypto.randomUUID();
    const address = `rtmp://${name.toLowerCase()}.example/live`;
    const body = {
      id,
      name,
      code: name.slice(0, 2),
      pattern: 'plain' as const,
      address,
      key: id,
      pageUrl: '',
    };
    await house.as.producer.get(addDestination, { body });
    await house.as.producer.get(setEncoderLimit, { params: { destinationId: id }, body: { limit } });
    return id;
  };
  const start = (destinationId: string) =>
    house.as.host.ask(startFeed, { params: { showId, destinationId } });
  /** The orders that the relay got. */
  const ordered = () =>
    relay.heard
      .filter((text) => text.startsWith('POST feeds start'))
      .map((text) => JSON.parse(text.slice('POST feeds start'.length)) as FeedRequest);
  /** Feeds of other tests’ shows are taken up again, too. */
  const orderedTo = (id: string) => ordered().filter(({ key }) => key === id);
  const onAir = (destinationId: string): FeedReport => ({
    ...{ destinationId, state: 'on_air', sinceMs: Date.now(), attempt: 0, reason: null, placeSays: null },
    ...{ bitrateKbps: null, onAirMs: 0, leftOutFrames: 0, still: null },
  });
  const encoded = (destinationId: string, change: Partial<RenditionReport> = {}): RenditionReport => ({
    ...RENDITION,
    destinationIds: [destinationId],
    state: 'running',
    cores: 0.9,
    ...change,
  });

  it('is the programme where a place takes it, and a rendition where it does not', async () => {
    await start(wide);
    await start(strict);
    expect(ordered().map(({ rendition }) => rendition)).toEqual([undefined, { ...RENDITION, oneIn: 1 }]);
  });

  it('can be looked at by whoever may open the desk', async () => {
    await start(wide);
    const still = feedStillPath(showId, wide);
    const seen = await house.as.moderator.send('GET', still);
    expect([seen.status, seen.headers.get('content-type'), await seen.text()]).toEqual([
      200,
      'image/jpeg',
      'jpeg',
    ]);
    expect((await house.stranger().send('GET', still)).status).toBe(401);
    const elsewhere = feedStillPath(showId, crypto.randomUUID());
    expect((await house.as.host.send('GET', elsewhere)).status).toBe(404);
  });

  it('is nothing where this machine has no room: said in a sentence, and nothing is begun there', async () => {
    await allow(0);
    const { status, body } = await start(strict);
    expect(status).toBe(409);
    expect((body as { sentence: string }).sentence).toContain('Strict takes 720 lines at most');
    expect(ordered()).toEqual([]);
    expect((await start(wide)).status).toBe(200);
  });

  it('leaves to other shows what they have, and shares what runs', async () => {
    await allow(1);
    const [other, theirs] = [crypto.randomUUID(), crypto.randomUUID()];
    relay.change(other, { feeds: [onAir(theirs)], renditions: [encoded(theirs)] });
    await until(
      'the server has heard of it',
      () => house.server.app.relay!.reportOf(other)?.renditions.length === 1,
    );
    expect((await start(strict)).status).toBe(409);
    // The same at this show costs nothing more.
    const twin = await add('Twin', STRICT);
    relay.change(showId, { feeds: [onAir(twin)], renditions: [encoded(twin)] });
    await until(
      'the server has heard of it',
      () => house.server.app.relay!.reportOf(showId)?.renditions.length === 1,
    );
    expect((await start(strict)).status).toBe(200);
    expect(ordered().at(-1)!.rendition).toEqual({ ...RENDITION, oneIn: 1 });
    relay.change(other, { feeds: [], renditions: [] });
  });

  it('leaves to outside pictures what it takes to make them fit, while they are the programme', async () => {
    await allow(1.5);
    const inputId = crypto.randomUUID();
    const input = inputReport(inputId, { cores: 1.4, carriage: { video: true, audio: false } });
    const cores = (wanted: number) =>
      until(`${wanted} cores are left`, async () => Math.abs((await machine())!.cores - wanted) < 0.01);
    const other = crypto.randomUUID();
    relay.change(other, { inputs: [input] });
    await cores(1.5);
    relay.change(other, { inputs: [{ ...input, state: 'as_programme' }] });
    await cores(0.1);
    expect((await start(strict)).status).toBe(409);
    relay.change(other, { inputs: [] });
    await cores(1.5);
    expect((await start(strict)).status).toBe(200);
  });

  it('is the same again after the relay has died', async () => {
    await start(strict);
    await relay.restart();
    relay.change(showId, { state: 'source' });
    await until('the feed is taken up again', () => orderedTo(strict).length > 0);
    expect(orderedTo(strict)[0]!.rendition).toEqual({ ...RENDITION, oneIn: 1 });
  });

  it('holds up no other feed that is taken up again, where there is no room any more', async () => {
    await start(strict);
    await start(wide);
    relay.machine = { ...relay.machine, cores: 0 };
    await relay.restart();
    await until('the other is', () => orderedTo(wide).length > 0);
    expect(orderedTo(strict)).toEqual([]);
  });

  it('follows what a person says of a target, and what other places say of themselves', async () => {
    const rulesOf = async (id: string) =>
      (await house.as.moderator.get(listDestinations)).destinations.find((one) => one.id === id)!;
    expect((await rulesOf(strict)).rules.capabilities.encoder).toEqual(jasmine.objectContaining(STRICT));
    expect((await rulesOf(strict)).encoderLimit).toEqual(STRICT);
    const params = { destinationId: strict };
    await house.as.producer.get(setEncoderLimit, { params, body: { limit: null } });
    expect((await rulesOf(strict)).rules.capabilities.encoder.maxKbps).toBe(4500);
    expect((await house.as.moderator.ask(setEncoderLimit, { params, body: { limit: STRICT } })).status).toBe(
      403,
    );
    const wrong = { limit: { ...STRICT, maxKbps: 3 } };
    expect((await house.as.producer.ask(setEncoderLimit, { params, body: wrong })).status).toBe(400);
    const at = await PlannedShow.plan(house);
    const refusal = await house.as.producer.refused(setEncoderLimit, {
      params: { destinationId: at.destinationId },
      body: { limit: STRICT },
    });
    expect(refusal.sentence).toContain('says itself what it takes');
    await at.place.close();
  });
});
