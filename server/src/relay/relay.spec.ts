import { streamOf } from '@juncta/contract/events';
import { addDestination, removeDestination, setShowDestinations } from '@juncta/contract/destinations';
import { readFeedHistory, startFeed, stopFeed } from '@juncta/contract/feeds';
import {
  readIncident,
  setDelay,
  setPictureFormat,
  compose,
  coverProgramme,
  endShow,
  putBackShow,
  readProgramme,
} from '@juncta/contract/programme';
import { createShow, listShows } from '@juncta/contract/shows';
import { readListings } from '@juncta/contract/listings';
import { eq } from 'drizzle-orm';
import { createHmac } from 'node:crypto';
import { setProgrammeTimes } from '../shows/store';
import { eventsAfter } from '../events/store';
import { FakeRelay } from '../testing/fake-relay';
import { until } from '../testing/until';
import { openHouse, showText, type House } from '../testing/house';
import { programme } from '../programme/schema';

const METRICS_TOKEN = 'a token for whoever reads figures';

describe('the relay’s link', () => {
  let house: House;
  let relay: FakeRelay;
  let showId: string;
  let destinationId: string;

  beforeAll(async () => {
    relay = await new FakeRelay().open();
    house = await openHouse({
      metricsToken: METRICS_TOKEN,
      relay: relay.reached,
    });
  });
  afterAll(async () => {
    await house.close();
    await relay.close();
  });
  beforeEach(async () => {
    relay.broken = false;
    relay.heard.length = 0;
    [showId, destinationId] = [crypto.randomUUID(), crypto.randomUUID()];
    await house.as.producer.get(createShow, { body: { id: showId, text: showText() } });
    const body = {
      id: destinationId,
      name: 'Tower',
      code: 'TO',
      pattern: 'plain' as const,
      address: 'rtmp://tower.example/live',
      key: 'sesame',
      pageUrl: '',
    };
    await house.as.producer.get(addDestination, { body });
    await house.as.producer.get(setShowDestinations, {
      params: { showId },
      body: { destinationIds: [destinationId] },
    });
  });

  const params = () => ({ showId, destinationId });
  const take = (who: 'producer' | 'host', deskId: string, takeOver = false) =>
    house.as[who].ask(compose, { params: { showId }, body: { deskId, takeOver } });
  const shown = async () => (await house.as.host.get(listShows)).shows.find(({ id }) => id === showId)!;

  it('keeps what it hears of every show, whatever is told of one that does not exist', async () => {
    const phantom = crypto.randomUUID();
    // Reported first, so that it would be in the way.
    relay.reports.delete(showId);
    relay.change(phantom, { state: 'covered' });
    relay.change(showId, { state: 'source' });
    const told = async () =>
      (await eventsAfter(house.server.app.db, streamOf('programme', showId), 0)).some(
        (event) =>
          event.type === 'programme.changed' &&
          event.payload.programme.showId === showId &&
          event.payload.programme.state === 'source',
      );
    await until('the real one is told of', told);
    expect(
      (await house.as.host.ask(coverProgramme, { params: { showId: phantom }, body: { on: true } })).status,
    ).toBe(404);
    expect(relay.heard.some((one) => one.includes('cover'))).toBeFalse();
    relay.reports.delete(phantom);
  });

  it('gives a desk a ticket that the relay can check, and its address', async () => {
    const deskId = crypto.randomUUID();
    const { ticket, uplinkUrl } = await house.as.host.get(compose, {
      params: { showId },
      body: { deskId, takeOver: false },
    });
    expect(uplinkUrl).toBe('ws://127.0.0.1:4711/uplink');
    const [payload, signature] = ticket.split('.') as [string, string];
    expect(signature).toBe(createHmac('sha256', relay.secret).update(payload).digest('base64url'));
    const read = JSON.parse(Buffer.from(payload, 'base64url').toString()) as {
      epoch: number;
      expiresAtMs: number;
    };
    expect(read).toEqual(jasmine.objectContaining({ showId, deskId, epoch: 1 }));
    expect(read.expiresAtMs).toBeGreaterThan(Date.now());
    expect(relay.heard).toContain('PUT lease {"epoch":1,"isRevoked":false}');
    const policy = (await fetch(`${house.url}/`)).headers.get('content-security-policy')!;
    expect(policy).toContain("connect-src 'self' ws://127.0.0.1:4711");
  });

  it('lets one desk compose at a time, and another take over when it says so', async () => {
    const [first, second] = [crypto.randomUUID(), crypto.randomUUID()];
    await take('host', first);
    relay.change(showId, { deskId: first, state: 'source' });
    expect((await take('host', first)).status)
      .withContext('a reload')
      .toBe(200);
    const refused = await take('producer', second);
    expect(refused.status).toBe(409);
    expect(refused.body).toEqual(
      jasmine.objectContaining({
        code: 'composed_elsewhere',
        sentence: 'The host composes this show at another desk.',
      }),
    );
    expect((await take('producer', second, true)).status).toBe(200);
    expect(relay.heard).toContain('PUT lease {"epoch":2,"isRevoked":false}');
    const view = await house.as.moderator.get(readProgramme, { params: { showId } });
    expect(view.composing).toEqual(jasmine.objectContaining({ deskId: second, memberName: 'The producer' }));
  });

  it('takes over without asking from a desk that is gone', async () => {
    await take('host', crypto.randomUUID());
    expect((await take('producer', crypto.randomUUID())).status).toBe(200);
  });

  it('starts no feed before there is a picture', async () => {
    const refusal = await house.as.host.refused(startFeed, { params: params() });
    expect(refusal.code).toBe('not_ready');
    expect((await shown()).startedAtMs).toBeNull();
  });

  it('starts the show with its first feed, keeps the key from everybody, and ends both', async () => {
    relay.change(showId, { state: 'source' });
    const report = await house.as.host.get(startFeed, { params: params() });
    expect(report.feeds[0]).toEqual(jasmine.objectContaining({ destinationId, state: 'sending' }));
    expect(JSON.stringify(report)).not.toContain('sesame');
    expect(relay.heard.find((text) => text.startsWith('POST feeds start'))).toContain('"key":"sesame"');
    expect(house.logged.join('')).not.toContain('sesame');
    const { startedAtMs } = await shown();
    expect(startedAtMs).not.toBeNull();
    // Once more is the same show and the same run.
    await house.as.host.get(startFeed, { params: params() });
    const runs = relay.heard.filter((text) => text.startsWith('PUT run'));
    expect(new Set(runs).size).toBe(1);
    expect((await shown()).startedAtMs).toBe(startedAtMs);
    expect((await house.as.producer.refused(removeDestination, { params: { destinationId } })).code).toBe(
      'not_ready',
    );
    expect(
      (
        await house.as.producer.refused(setShowDestinations, {
          params: { showId },
          body: { destinationIds: [] },
        })
      ).code,
    ).toBe('not_ready');

    await house.as.host.get(stopFeed, { params: params() });
    expect((await shown()).endedAtMs).toBeNull();
    await house.as.host.get(endShow, { params: { showId } });
    expect((await shown()).endedAtMs).not.toBeNull();
    const again = await house.as.host.get(endShow, { params: { showId } });
    expect(again.runId).toBeNull();
  });

  it('is planned again when it was put back after a start by mistake, and not while it is on air', async () => {
    relay.change(showId, { state: 'source' });
    await house.as.host.get(startFeed, { params: params() });
    const onAir = await house.as.host.refused(putBackShow, { params: { showId } });
    expect(onAir.sentence).toContain('End it before');
    await house.as.host.get(endShow, { params: { showId } });
    expect((await house.as.moderator.refused(putBackShow, { params: { showId } })).code).toBe('forbidden');
    const planned = await house.as.host.get(putBackShow, { params: { showId } });
    expect([planned.startedAtMs, planned.endedAtMs]).toEqual([null, null]);
    expect(await house.as.host.get(putBackShow, { params: { showId } })).toEqual(planned);
    // One of last week is history.
    const weekAgo = house.server.app.clock.now() - 7 * 86_400_000;
    await setProgrammeTimes(house.server.app.db, showId, { startedAt: weekAgo, endedAt: weekAgo + 1 });
    const history = await house.as.host.refused(putBackShow, { params: { showId } });
    expect(history.sentence).toContain('more than a day ago');
    await setProgrammeTimes(house.server.app.db, showId, { startedAt: null, endedAt: null });
    const { listings } = await house.as.host.get(readListings, { params: { showId } });
    expect(listings.map(({ state, pageUrl }) => [state, pageUrl])).toEqual([['draft', null]]);
    // On its day it starts like any other.
    await house.as.host.get(startFeed, { params: params() });
    expect((await shown()).startedAtMs).not.toBeNull();
  });

  it('keeps what became of each feed, with its figures, and tells it in order of time', async () => {
    const feed = {
      destinationId,
      sinceMs: 1_700_000_000_000,
      attempt: 0,
      reason: null,
      placeSays: null,
      bitrateKbps: 4200,
      onAirMs: null,
      leftOutFrames: 0,
      still: null,
    } as const;
    const at = (n: number) => feed.sinceMs + n * 1000;
    const history = () => house.as.moderator.get(readFeedHistory, { params: params() });
    const states = async () => (await history()).log.map(({ state, reason }) => [state, reason]);
    relay.change(showId, { feeds: [{ ...feed, state: 'dialling' }] });
    await until('it is noted', async () => (await states()).length === 1);
    relay.change(showId, { feeds: [{ ...feed, state: 'sending', sinceMs: at(1) }] });
    await until('it is noted', async () => (await states()).length === 2);
    await house.server.relay!.sample();
    // Figures alone are no news.
    relay.change(showId, { feeds: [{ ...feed, state: 'sending', sinceMs: at(1), bitrateKbps: 4300 }] });
    relay.change(showId, {
      feeds: [{ ...feed, state: 'recovering', sinceMs: at(5), reason: 'lost_connection', placeSays: 'gone' }],
    });
    await until('it is noted', async () => (await states()).length === 3);
    expect(await states()).toEqual([
      ['dialling', null],
      ['sending', null],
      ['recovering', 'lost_connection'],
    ]);
    const { log, samples } = await history();
    expect(log.map(({ atMs }) => atMs)).toEqual([at(0), at(1), at(5)]);
    expect(log[2]!.placeSays).toBe('gone');
    expect(samples).toEqual([jasmine.objectContaining({ kbps: 4200, leftOutFrames: 0, viewers: null })]);
  });

  it('holds the programme back as long as was settled before the show', async () => {
    const delayed = await house.as.host.get(setDelay, { params: { showId }, body: { delayS: 20 } });
    expect(delayed.delayS).toBe(20);
    expect(relay.heard).toContain('PUT delay {"delayMs":20000}');
    expect((await house.as.moderator.get(readProgramme, { params: { showId } })).programme?.delayMs).toBe(
      20_000,
    );
    const bad = await house.as.host.refused(setDelay, { params: { showId }, body: { delayS: 61 } });
    expect(bad.code).toBe('bad_input');
    // A relay that has forgotten it is told again by whoever composes.
    await relay.restart();
    await take('host', crypto.randomUUID());
    expect(relay.heard).toContain('PUT delay {"delayMs":20000}');
    relay.change(showId, { state: 'source' });
    await house.as.host.get(startFeed, { params: params() });
    const late = await house.as.host.refused(setDelay, { params: { showId }, body: { delayS: 0 } });
    expect(late.code).toBe('not_ready');
  });

  it('has the size and rate that were settled before the first feed', async () => {
    const set = (pictureFormat: string) => ({ params: { showId }, body: { pictureFormat } }) as never;
    expect((await house.as.host.get(setPictureFormat, set('1080p30'))).pictureFormat).toBe('1080p30');
    expect((await house.as.host.refused(setPictureFormat, set('999p1'))).code).toBe('bad_input');
    expect((await house.as.moderator.refused(setPictureFormat, set('720p30'))).code).toBe('forbidden');
    relay.change(showId, { state: 'source' });
    await house.as.host.get(startFeed, { params: params() });
    const late = await house.as.host.refused(setPictureFormat, set('720p30'));
    expect([late.code, late.sentence]).toEqual([
      'not_ready',
      'The size of the picture is settled before the first feed. End the show to change it.',
    ]);
  });

  it('tells whoever has the token its figures, and nobody else', async () => {
    const metrics = (token: string) =>
      fetch(`${house.url}/metrics`, { headers: { Authorization: `Bearer ${token}` } });
    await until('the relay is heard', () => house.server.relay!.isUp);
    expect((await metrics('wrong')).status).toBe(401);
    expect((await house.as.producer.send('GET', '/metrics')).status).toBe(401);
    relay.change(showId, { state: 'source' });
    await house.as.host.get(startFeed, { params: params() });
    const text = await (await metrics(METRICS_TOKEN)).text();
    expect(text).toContain(
      `juncta_feed_state{show="${showId}",destination="${destinationId}",state="sending"} 1`,
    );
    expect(text).toContain(
      `juncta_feed_state{show="${showId}",destination="${destinationId}",state="on_air"} 0`,
    );
    expect(text).toContain('juncta_relay_up 1');
    expect(text).toMatch(/juncta_http_request_seconds_count\{method="POST",status="200"\} [1-9]/);
    expect(text).not.toContain('sesame');
  });

  it('gathers what is known of a bad night, without secrets', async () => {
    relay.change(showId, { state: 'source' });
    await house.as.host.get(startFeed, { params: params() });
    const incident = await house.as.host.get(readIncident, { params: { showId } });
    expect(incident.feeds.map(({ log }) => log.at(-1)?.state)).toEqual(['sending']);
    expect(incident.programme?.state).toBe('source');
    expect(incident.log.length).toBeGreaterThan(3);
    expect(JSON.stringify(incident)).not.toContain('sesame');
    expect((await house.as.moderator.refused(readIncident, { params: { showId } })).code).toBe('forbidden');
  });

  it('covers and shows again', async () => {
    relay.change(showId, { state: 'source' });
    const params = { showId };
    expect((await house.as.host.get(coverProgramme, { params, body: { on: true } })).state).toBe('covered');
    expect((await house.as.host.get(coverProgramme, { params, body: { on: false } })).state).toBe('source');
  });

  it('says that the relay is away, and changes nothing', async () => {
    relay.broken = true;
    const refusal = await house.as.host.refused(startFeed, { params: params() });
    expect([refusal.code, refusal.retryAfterS]).toEqual(['relay_away', 3]);
    expect((await shown()).startedAtMs).toBeNull();
    expect((await house.as.host.get(readProgramme, { params: { showId } })).programme).toBeNull();
  });

  it('tells a relay that was started anew what goes on, and does not revive what was over', async () => {
    relay.change(showId, { state: 'source' });
    const other = crypto.randomUUID();
    const body = {
      id: other,
      name: 'Second',
      code: 'SE',
      pattern: 'plain' as const,
      address: 'rtmp://b.example/live',
      key: 'k',
      pageUrl: '',
    };
    await house.as.producer.get(addDestination, { body });
    await house.as.producer.get(setShowDestinations, {
      params: { showId },
      body: { destinationIds: [destinationId, other] },
    });
    await house.as.host.get(startFeed, { params: params() });
    await house.as.host.get(startFeed, { params: { showId, destinationId: other } });
    await house.as.host.get(stopFeed, { params: { showId, destinationId: other } });
    const { runId } = relay.of(showId);
    await relay.restart();
    await until('the feed was started again', () => relay.of(showId).feeds.length > 0);
    expect(relay.of(showId).runId).toBe(runId);
    expect(relay.of(showId).feeds.map((feed) => feed.destinationId)).toEqual([destinationId]);
    await house.as.host.get(endShow, { params: { showId } });
  });

  it('keeps what the relay reports by itself, and tells everybody', async () => {
    const { db } = house.server.app;
    const { seq } = await house.as.host.get(readProgramme, { params: { showId } });
    // Those of this show: what other shows leave behind is told meanwhile too.
    const told = async () =>
      (await eventsAfter(db, streamOf('programme', showId), seq)).flatMap((event) =>
        event.type === 'programme.changed' && event.payload.programme.showId === showId
          ? event.payload.programme.state
          : [],
      );
    relay.change(showId, { state: 'slate' });
    await until('it was written', async () => (await told()).length === 1);
    relay.change(showId, { state: 'slate', incomingKbps: 77 });
    relay.change(showId, { state: 'source' });
    await until('the next state was written', async () => (await told()).includes('source'));
    expect(await told())
      .withContext('figures are no events')
      .toEqual(['slate', 'source']);
  });

  it('tells each state that it reports, also when an old report comes while a new one is being kept', async () => {
    const link = house.server.relay!;
    relay.change(showId, { state: 'source' });
    await until(
      'it is kept',
      async () =>
        (await house.as.host.get(readProgramme, { params: { showId } })).programme?.state === 'source',
    );
    // What a guest's sign says is made of this.
    const { listening } = link as unknown as { listening: { changed(showId: string): void } };
    const signs: (string | undefined)[] = [];
    spyOn(listening, 'changed').and.callFake((id) => {
      if (id === showId) signs.push(link.reportOf(showId)?.state);
    });
    let release!: () => void;
    const held = new Promise<void>((done) => (release = done));
    let locked!: () => void;
    const locking = new Promise<void>((done) => (locked = done));
    const holding = house.server.app.db.transaction(async (tx) => {
      await tx.select().from(programme).where(eq(programme.showId, showId)).for('update');
      locked();
      await held;
    });
    await locking;
    const keeping = link.keep({ ...relay.of(showId), state: 'covered' });
    relay.change(showId, { incomingKbps: 78 });
    await until('the old report was heard', () =>
      Promise.resolve(link.reportOf(showId)?.incomingKbps === 78),
    );
    release();
    await Promise.all([holding, keeping]);
    relay.change(showId, { state: 'covered' });
    await until('the new one was heard', () => Promise.resolve(link.reportOf(showId)?.state === 'covered'));
    expect(signs.at(-1)).toBe('covered');
  });
});
