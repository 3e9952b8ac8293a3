import { closeChat, readChat, setOnProgramme, writeChat } from '@juncta/contract/chat';
import { readFigures, saveListing } from '@juncta/contract/listings';
import { endShow, publishFeed, readRelay, startFeed, stopFeed } from '@juncta/contract/relay';
import { createShow } from '@juncta/contract/shows';
import { addHarbour, sendTo } from '../testing/destination';
import { FakeEventPlace } from '../testing/fake-event-place';
import { FakeRelay } from '../testing/fake-relay';
import { openHouse, showText, type House } from '../testing/house';
import { until } from '../testing/until';

describe('a listing and its chat', () => {
  let house: House;
  let relay: FakeRelay;
  let place: FakeEventPlace;
  let showId: string;
  let destinationId: string;

  beforeAll(async () => {
    relay = await new FakeRelay().open();
    house = await openHouse({
      relay: { url: relay.url, piecesPort: 4711, publicUrl: null, secret: relay.secret },
    });
  });
  afterAll(async () => {
    await house.close();
    await relay.close();
  });
  beforeEach(async () => {
    place = await new FakeEventPlace().open();
    showId = crypto.randomUUID();
    await house.as.producer.get(createShow, { body: { id: showId, text: showText() } });
    destinationId = await addHarbour(house, place.url);
    await sendTo(house, showId, [destinationId]);
    relay.change(showId, { state: 'source' });
  });
  afterEach(async () => {
    await house.as.host.get(closeChat, { params: { showId } });
    await place.close();
  });

  const params = () => ({ showId, destinationId });
  const chat = () => house.as.moderator.get(readChat, { params: { showId } });
  const texts = async () => (await chat()).messages.map(({ text }) => text);
  const write = (text: string, replyTo: string | null = null, id = crypto.randomUUID()) =>
    house.as.moderator.ask(writeChat, { params: { showId }, body: { id, text, replyTo } });
  const start = () => house.as.host.get(startFeed, { params: params() });

  it('is made at its place once, with the title of the plan or one of its own', async () => {
    await start();
    expect(place.events.map(({ title }) => title)).toEqual(['Rye and patience']);
    expect(relay.heard.join(' ')).toContain('"key":"key-ev1"');
    await house.as.host.get(stopFeed, { params: params() });
    await house.as.producer.get(saveListing, { params: params(), body: { title: 'Rye, live' } });
    const [listing] = (await house.as.host.get(readRelay, { params: { showId } })).listings;
    expect(listing!.pageUrl).toBe(`${place.url}/watch/ev1`);
    expect(listing!.title).toBe('Rye, live');
    expect(JSON.stringify(listing)).not.toContain('key-ev1');
  });

  it('is not started with a title that its place would cut', async () => {
    await house.as.producer.get(saveListing, { params: params(), body: { title: 'x'.repeat(97) } });
    const refusal = await house.as.host.refused(startFeed, { params: params() });
    expect(refusal.sentence).toContain('The title is 1 too long for Harbour');
    expect(place.events).toEqual([]);
  });

  it('is not started where the place is down or takes its authorisation back, and says so', async () => {
    place.mood = 'down';
    expect((await house.as.host.refused(startFeed, { params: params() })).sentence).toContain(
      'Harbour does not answer just now, so the feed was not started.',
    );
    place.mood = 'refused';
    expect((await house.as.host.refused(startFeed, { params: params() })).sentence).toContain(
      'A producer has to connect it again.',
    );
  });

  it('is published by a key, and ended again and again until the place has heard it', async () => {
    await start();
    await house.as.host.get(publishFeed, { params: params() });
    expect(place.events[0]!.state).toBe('public');
    place.mood = 'down';
    await house.as.host.get(endShow, { params: { showId } });
    await until('it is being ended', async () => {
      const { listings } = await house.as.host.get(readRelay, { params: { showId } });
      return listings[0]!.state === 'ending';
    });
    place.mood = 'well';
    await until('the place has heard it', () => place.events[0]!.state === 'ended');
    await until('it is closed', async () => {
      const { listings } = await house.as.host.get(readRelay, { params: { showId } });
      return listings[0]!.state === 'closed';
    });
  });

  it('brings every message once and in the order of writing, over outages', async () => {
    await start();
    place.write('second', 'Ottoline', Date.now() - 1000);
    place.write('first', 'Benedikt', Date.now() - 2000);
    place.write('<b>third</b> \u202eevil', 'Ottoline', Date.now() - 500);
    await until('all are there', async () => (await texts()).length === 3);
    expect(await texts()).toEqual(['first', 'second', '<b>third</b> evil']);
    place.mood = 'down';
    await until('the line is lost', async () => (await chat()).lines[0]?.state === 'lost');
    place.write('meanwhile');
    place.mood = 'well';
    await until('it is made again', async () => (await texts()).includes('meanwhile'));
    expect((await texts()).length).toBe(4);
    const { figures } = await house.as.producer.get(readFigures, { params: { showId } });
    expect(figures[0]!.messages).toBe(4);
  });

  it('is left alone where the place refuses, with a sentence that says what to do', async () => {
    await start();
    await until('it is open', async () => (await chat()).lines[0]?.state === 'open');
    place.mood = 'refused';
    await until('it is refused', async () => (await chat()).lines[0]?.state === 'refused');
    expect((await chat()).lines[0]!.sentence).toContain('A producer has to look at it.');
    const asked = () => place.heard.filter((text) => text.includes('/chat')).length;
    const before = asked();
    await new Promise((later) => setTimeout(later, 1500));
    expect(asked()).toBe(before);
  });

  it('is answered where something was asked, once for each id, and by name', async () => {
    await start();
    const { id: placeId } = place.write('How warm is the oven?');
    await until('it is there', async () => (await texts()).length === 1);
    const [asked] = (await chat()).messages;
    const id = crypto.randomUUID();
    for (let twice = 0; twice < 2; twice++) {
      const reply = await write('As hot as it gets', asked!.id, id);
      expect(reply.body).toEqual({ outcomes: [{ destinationId, sent: true, sentence: null }] });
    }
    const ours = place.events[0]!.messages.filter(({ author }) => author.owner);
    expect(ours.map(({ text, reply_to }) => [text, reply_to])).toEqual([['As hot as it gets', placeId]]);
    await until('it came back', async () => (await texts()).length === 2);
    const answer = (await chat()).messages.find(({ author }) => author.owner)!;
    expect([answer.replyTo, answer.sentBy]).toEqual([asked!.id, 'The moderator']);
  });

  it('says which place did not take an answer, and why', async () => {
    await start();
    const long = await write('x'.repeat(241));
    expect(long.body).toEqual({
      outcomes: [
        {
          destinationId,
          sent: false,
          sentence: 'Harbour takes at most 240; this is 1 over. Nothing was written there.',
        },
      ],
    });
    place.mood = 'down';
    const id = crypto.randomUUID();
    const away = await write('Welcome', null, id);
    expect(JSON.stringify(away.body)).toContain('Harbour does not answer just now');
    place.mood = 'well';
    expect(JSON.stringify((await write('Welcome', null, id)).body)).toContain('"sent":true');
  });

  it('takes no writing before it is open or after it was closed', async () => {
    expect((await write('Is anybody there?')).status).toBe(409);
    await start();
    await house.as.host.get(closeChat, { params: { showId } });
    expect((await write('Good night')).status).toBe(409);
    expect((await chat()).lines).toEqual([]);
  });

  it('lends a message to the programme, of this show only', async () => {
    await start();
    place.write('On the programme, please');
    await until('it is there', async () => (await texts()).length === 1);
    const messageId = (await chat()).messages[0]!.id;
    const put = (id: string | null, seconds = 10) =>
      house.as.moderator.ask(setOnProgramme, { params: { showId }, body: { messageId: id, seconds } });
    await put(messageId);
    const { onProgramme } = await chat();
    expect(onProgramme).toEqual(
      jasmine.objectContaining({ messageId, author: 'Ottoline', text: 'On the programme, please' }),
    );
    expect(onProgramme!.remainingMs).toBeLessThanOrEqual(10_000);
    house.securityClock.advance(10_001);
    expect((await chat()).onProgramme)
      .withContext('it leaves by itself')
      .toBeNull();
    expect((await put(crypto.randomUUID())).status).toBe(404);
    expect((await put(messageId, 61)).status).toBe(400);
  });

  it('is offered as files to members alone, with every name and text quoted', async () => {
    await start();
    place.write('She said "rise", twice', '=Ottoline');
    await until('it is there', async () => (await texts()).length === 1);
    const file = (format: string, cookie = house.as.moderator.cookieHeader) =>
      fetch(`${house.url}/api/shows/${showId}/chat.${format}`, { headers: { Cookie: cookie } });
    const csv = await file('csv');
    expect(csv.headers.get('content-type')).toContain('text/csv');
    expect(await csv.text()).toContain(`"She said ""rise"", twice"`);
    expect(await (await file('vtt')).text()).toMatch(/^WEBVTT/);
    expect((await file('csv', '')).status).toBe(401);
    expect((await file('exe')).status).toBe(404);
  });
});
