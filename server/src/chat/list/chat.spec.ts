import { closeChat, readChat, setOnProgramme, writeChat } from '@juncta/contract/chat';
import { readListings, readFigures, saveListing } from '@juncta/contract/listings';
import { publishFeed, startFeed, stopFeed } from '@juncta/contract/feeds';
import { endShow } from '@juncta/contract/programme';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

describe('a listing and its chat', () => {
  const at = withShowAtPlace({ started: false });

  const params = () => ({ showId: at.showId, destinationId: at.destinationId });
  const chat = () => at.house.as.moderator.get(readChat, { params: { showId: at.showId } });
  const texts = async () => (await chat()).messages.map(({ text }) => text);
  const write = (text: string, replyTo: string | null = null, id = crypto.randomUUID()) =>
    at.house.as.moderator.ask(writeChat, { params: { showId: at.showId }, body: { id, text, replyTo } });
  const start = () => at.house.as.host.get(startFeed, { params: params() });

  it('is made at its place once, with the title of the plan or one of its own', async () => {
    await start();
    expect(at.place.events.map(({ title }) => title)).toEqual(['Rye and patience']);
    expect(at.relay.heard.join(' ')).toContain('"key":"key-ev1"');
    await at.house.as.host.get(stopFeed, { params: params() });
    await at.house.as.producer.get(saveListing, { params: params(), body: { title: 'Rye, live' } });
    const [listing] = (await at.house.as.host.get(readListings, { params: { showId: at.showId } })).listings;
    expect(listing!.pageUrl).toBe(`${at.place.url}/watch/ev1`);
    expect(listing!.title).toBe('Rye, live');
    expect(JSON.stringify(listing)).not.toContain('key-ev1');
  });

  it('is not started with a title that its place would cut', async () => {
    await at.house.as.producer.get(saveListing, { params: params(), body: { title: 'x'.repeat(97) } });
    const refusal = await at.house.as.host.refused(startFeed, { params: params() });
    expect(refusal.sentence).toContain('The title is 1 too long for Harbour');
    expect(at.place.events).toEqual([]);
  });

  it('is not started where the place is down or takes its authorisation back, and says so', async () => {
    at.place.mood = 'down';
    expect((await at.house.as.host.refused(startFeed, { params: params() })).sentence).toContain(
      'Harbour does not answer just now, so the feed was not started.',
    );
    at.place.mood = 'refused';
    expect((await at.house.as.host.refused(startFeed, { params: params() })).sentence).toContain(
      'A producer has to connect it again.',
    );
  });

  it('is published by a key, and ended again and again until the place has heard it', async () => {
    await start();
    await at.house.as.host.get(publishFeed, { params: params() });
    expect(at.place.events[0]!.state).toBe('public');
    at.place.mood = 'down';
    await at.house.as.host.get(endShow, { params: { showId: at.showId } });
    await until('it is being ended', async () => {
      const { listings } = await at.house.as.host.get(readListings, { params: { showId: at.showId } });
      return listings[0]!.state === 'ending';
    });
    at.place.mood = 'well';
    await until('the place has heard it', () => at.place.events[0]!.state === 'ended');
    await until('it is closed', async () => {
      const { listings } = await at.house.as.host.get(readListings, { params: { showId: at.showId } });
      return listings[0]!.state === 'closed';
    });
  });

  it('brings every message once and in the order of writing, over outages', async () => {
    await start();
    at.place.write('second', 'Ottoline', Date.now() - 1000);
    at.place.write('first', 'Benedikt', Date.now() - 2000);
    at.place.write('<b>third</b> \u202eevil', 'Ottoline', Date.now() - 500);
    await until('all are there', async () => (await texts()).length === 3);
    expect(await texts()).toEqual(['first', 'second', '<b>third</b> evil']);
    at.place.mood = 'down';
    await until('the line is lost', async () => (await chat()).lines[0]?.state === 'lost');
    at.place.write('meanwhile');
    at.place.mood = 'well';
    await until('it is made again', async () => (await texts()).includes('meanwhile'));
    expect((await texts()).length).toBe(4);
    const { figures } = await at.house.as.producer.get(readFigures, { params: { showId: at.showId } });
    expect(figures[0]!.messages).toBe(4);
  });

  it('is left alone where the place refuses, with a sentence that says what to do', async () => {
    await start();
    await until('it is open', async () => (await chat()).lines[0]?.state === 'open');
    at.place.mood = 'refused';
    await until('it is refused', async () => (await chat()).lines[0]?.state === 'refused');
    expect((await chat()).lines[0]!.sentence).toContain('A producer has to look at it.');
    const asked = () => at.place.heard.filter((text) => text.includes('/chat')).length;
    const before = asked();
    await new Promise((later) => setTimeout(later, 1500));
    expect(asked()).toBe(before);
  });

  it('is answered where something was asked, once for each id, and by name', async () => {
    await start();
    const { id: placeId } = at.place.write('How warm is the oven?');
    await until('it is there', async () => (await texts()).length === 1);
    const [asked] = (await chat()).messages;
    const id = crypto.randomUUID();
    for (let twice = 0; twice < 2; twice++) {
      const reply = await write('As hot as it gets', asked!.id, id);
      expect(reply.body).toEqual({
        outcomes: [{ destinationId: at.destinationId, sent: true, sentence: null }],
      });
    }
    const ours = at.place.events[0]!.messages.filter(({ author }) => author.owner);
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
          destinationId: at.destinationId,
          sent: false,
          sentence: 'Harbour takes at most 240; this is 1 over. Nothing was written there.',
        },
      ],
    });
    at.place.mood = 'down';
    const id = crypto.randomUUID();
    const away = await write('Welcome', null, id);
    expect(JSON.stringify(away.body)).toContain('Harbour does not answer just now');
    at.place.mood = 'well';
    expect(JSON.stringify((await write('Welcome', null, id)).body)).toContain('"sent":true');
  });

  it('takes no writing before it is open or after it was closed', async () => {
    expect((await write('Is anybody there?')).status).toBe(409);
    await start();
    await at.house.as.host.get(closeChat, { params: { showId: at.showId } });
    expect((await write('Good night')).status).toBe(409);
    expect((await chat()).lines).toEqual([]);
  });

  it('lends a message to the programme, of this show only', async () => {
    await start();
    at.place.write('On the programme, please');
    await until('it is there', async () => (await texts()).length === 1);
    const messageId = (await chat()).messages[0]!.id;
    const put = (id: string | null, seconds = 10) =>
      at.house.as.moderator.ask(setOnProgramme, {
        params: { showId: at.showId },
        body: { messageId: id, seconds },
      });
    await put(messageId);
    const { onProgramme } = await chat();
    expect(onProgramme).toEqual(
      jasmine.objectContaining({ messageId, author: 'Ottoline', text: 'On the programme, please' }),
    );
    expect(onProgramme!.remainingMs).toBeLessThanOrEqual(10_000);
    at.house.securityClock.advance(10_001);
    expect((await chat()).onProgramme)
      .withContext('it leaves by itself')
      .toBeNull();
    expect((await put(crypto.randomUUID())).status).toBe(404);
    expect((await put(messageId, 61)).status).toBe(400);
    // With the show it ends as well: the next picture begins without it.
    await put(messageId, 60);
    await at.house.as.host.get(endShow, { params: { showId: at.showId } });
    expect((await chat()).onProgramme).toBeNull();
  });

  it('is offered as files to members alone, with every name and text quoted', async () => {
    await start();
    at.place.write('She said "rise", twice', '=Ottoline');
    await until('it is there', async () => (await texts()).length === 1);
    const file = (format: string, cookie = at.house.as.moderator.cookieHeader) =>
      fetch(`${at.house.url}/api/shows/${at.showId}/chat.${format}`, { headers: { Cookie: cookie } });
    const csv = await file('csv');
    expect(csv.headers.get('content-type')).toContain('text/csv');
    expect(await csv.text()).toContain(`"She said ""rise"", twice"`);
    expect(await (await file('vtt')).text()).toMatch(/^WEBVTT/);
    expect((await file('csv', '')).status).toBe(401);
    expect((await file('exe')).status).toBe(404);
  });
});
