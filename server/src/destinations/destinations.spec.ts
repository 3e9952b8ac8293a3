import {
  addDestination,
  listDestinations,
  removeDestination,
  revealKey,
  setShowDestinations,
} from '@juncta/contract/destinations';
import { createShow } from '@juncta/contract/shows';
import { eq, sql } from 'drizzle-orm';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { openHouse, showText, type House } from '../testing/house';
import { PlaceAway, PlaceRefused, placeAsker } from './ask-place';
import { targetOf } from './at-place';
import { connectorOf } from './connectors';
import { hideAddressSecrets } from './hide-secrets';
import { destination } from './schema';

describe('destinations', () => {
  let house: House;
  beforeAll(async () => {
    house = await openHouse();
  });
  afterAll(() => house.close());

  const target = (change = {}) => ({
    id: crypto.randomUUID(),
    name: 'Our own tower',
    code: 'ot',
    pattern: 'dotted' as const,
    address: 'rtmps://tower.example/live',
    key: 'sesame-open',
    pageUrl: '',
    ...change,
  });

  it('are added by address and key, which nobody sees again', async () => {
    const body = target();
    const added = await house.as.producer.get(addDestination, { body });
    expect(added).toEqual(
      jasmine.objectContaining({
        code: 'OT',
        address: 'rtmps://tower.example/live',
        pageUrl: null,
        canBeSeen: false,
      }),
    );
    const again = await house.as.producer.get(addDestination, { body });
    expect(again.id).toBe(added.id);
    const { destinations } = await house.as.moderator.get(listDestinations);
    expect(destinations.filter(({ id }) => id === body.id).length).toBe(1);
    expect(JSON.stringify(destinations)).not.toContain('sesame');
    const rows = await house.server.app.db.execute(sql`select * from destination`);
    expect(JSON.stringify(rows.rows)).not.toContain('sesame');
    expect(house.logged.join('')).not.toContain('sesame');
  });

  it('are read from what people paste: the whole in one field', async () => {
    const body = target({ address: ' rtmp://tower.example/live/sesame-2/ ', key: '' });
    expect((await house.as.producer.get(addDestination, { body })).address).toBe('rtmp://tower.example/live');
  });

  it('lock what follows the question mark of an address with the key, also what lies open from before', async () => {
    const { db, secrets } = house.server.app;
    const body = target({ address: 'rtmp://tower.example/live?token=sesame-3', key: 'sesame-4' });
    expect((await house.as.producer.get(addDestination, { body })).address).toBe('rtmp://tower.example/live');
    const open = eq(destination.id, body.id);
    await db
      .update(destination)
      .set({
        address: 'rtmp://tower.example/live?token=sesame-5',
        secret: secrets.lock('sesame-6', body.id),
      })
      .where(open);
    await hideAddressSecrets(house.server.app);
    await hideAddressSecrets(house.server.app);
    const { destinations } = await house.as.moderator.get(listDestinations);
    expect(destinations.find(({ id }) => id === body.id)!.address).toBe('rtmp://tower.example/live');
    const [row] = await db.select().from(destination).where(open);
    expect(JSON.stringify(row)).not.toContain('sesame');
    expect(house.logged.join('')).not.toContain('sesame');
    const { key } = await house.as.producer.get(revealKey, { params: { destinationId: body.id } });
    expect(key).toBe('rtmp://tower.example/live?token=sesame-5/sesame-6');
    const ingest = await connectorOf('custom_rtmp').open(
      await targetOf(house.server.app, row!),
      { title: '', description: '', startsAtMs: null, settings: {}, reference: '', eventRef: null },
      house.server.app.ask,
    );
    expect(ingest.ingest).toEqual({ address: 'rtmp://tower.example/live?token=sesame-5', key: 'sesame-6' });
  });

  it('are read from an address of SRT, whose stream id and passphrase are its key', async () => {
    const body = target({
      address: 'srt://tower.example:9000?streamid=hall&passphrase=sesame-sesame',
      key: '',
    });
    expect((await house.as.producer.get(addDestination, { body })).address).toBe('srt://tower.example:9000');
    const { key } = await house.as.producer.get(revealKey, { params: { destinationId: body.id } });
    expect(key).toBe('streamid=hall&passphrase=sesame-sesame');
    expect(house.logged.join('')).not.toContain('sesame');
  });

  for (const [change, field] of [
    [{ address: 'srt://tower.example:9000?mode=listener' }, 'address'],
    [{ address: 'https://tower.example/live' }, 'address'],
    [{ address: 'rtmp://tower.example/live', key: '' }, 'key'],
    [{ key: 'two words' }, 'key'],
    [{ pageUrl: 'javascript:alert(1)' }, 'pageUrl'],
    [{ code: 'TOO' }, 'code'],
    [{ name: ' ' }, 'name'],
  ] as const) {
    it(`are refused with ${JSON.stringify(change)}, naming the field`, async () => {
      const refusal = await house.as.producer.refused(addDestination, { body: target(change) });
      expect(refusal.code).toBe('bad_input');
      expect(refusal.fields!.map((one) => one.field)).toContain(field);
      expect(refusal.fields![0]!.sentence.length).toBeGreaterThan(10);
    });
  }

  it('belong to shows in an order, and forget their key when they are removed', async () => {
    const [first, second] = [target(), target({ name: 'A second' })];
    for (const body of [first, second]) await house.as.producer.get(addDestination, { body });
    const show = await house.as.producer.get(createShow, {
      body: { id: crypto.randomUUID(), text: showText() },
    });
    const params = { showId: show.id };
    await house.as.host.get(setShowDestinations, { params, body: { destinationIds: [second.id, first.id] } });
    const refusal = await house.as.host.refused(setShowDestinations, {
      params,
      body: { destinationIds: [crypto.randomUUID()] },
    });
    expect(refusal.code).toBe('not_found');
    await house.as.producer.get(removeDestination, { params: { destinationId: first.id } });
    const rows = await house.server.app.db.execute(
      sql`select secret from destination where id = ${first.id}`,
    );
    expect(rows.rows[0]).toEqual({ secret: null });
  });
});

describe('asking a place', () => {
  let server: Server;
  let url: string;
  let asked = 0;
  const answers: Record<string, { status: number; body: string }> = {
    '/ok': { status: 200, body: '{"fine":true}' },
    '/no': { status: 403, body: '{"message":"scope missing"}' },
    '/ill': { status: 503, body: '{}' },
    '/html': { status: 200, body: '<html>' },
    '/long': { status: 200, body: JSON.stringify('x'.repeat(2_000_000)) },
  };
  beforeAll(async () => {
    server = createServer((req, res) => {
      asked += 1;
      const { status, body } = answers[req.url!]!;
      res.writeHead(status).end(body);
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => server.close());
  beforeEach(() => (asked = 0));
  const ask = placeAsker(true, () => 0);

  it('gives its answer', async () => {
    expect(await ask(`${url}/ok`)).toEqual({ fine: true });
  });

  it('tells a no from not being there, and repeats only reads', async () => {
    await expectAsync(ask(`${url}/no`)).toBeRejectedWithError(PlaceRefused, /scope missing/);
    expect(asked).toBe(1);
    await expectAsync(ask(`${url}/ill`)).toBeRejectedWithError(PlaceAway);
    expect(asked).toBe(3);
    await expectAsync(ask(`${url}/ill`, { method: 'POST', body: {} })).toBeRejectedWithError(PlaceAway);
    expect(asked).toBe(4);
  });

  for (const what of ['/html', '/long']) {
    it(`does not take ${what} for an answer`, () =>
      expectAsync(ask(url + what)).toBeRejectedWithError(PlaceAway));
  }

  it('goes nowhere inside the machine’s own network unless the house allows it', async () => {
    const outside = placeAsker(false, () => 0);
    for (const address of [
      url,
      url.replace('127.0.0.1', 'localhost'),
      'http://[::1]:1/',
      'http://169.254.169.254/',
    ]) {
      await expectAsync(outside(address)).withContext(address).toBeRejected();
    }
    expect(asked).toBe(0);
  });
});
