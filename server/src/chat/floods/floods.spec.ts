import {
  answerFlood,
  moderate,
  readChat,
  readChatLog,
  readPlaceChats,
  setOnProgramme,
  writePlaceChat,
  type ChatFlood,
} from '@juncta/contract/chat';
import { eq } from 'drizzle-orm';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';
import { chatFlood } from '../schema';

const COPIED = 'come over to the real channel and leave this boring baking show';

describe('a flood', () => {
  const at = withShowAtPlace({ started: true });
  const params = () => ({ showId: at.showId });
  const chat = () => at.house.as.moderator.get(readChat, { params: params() });
  const standing = async (text: string) =>
    (await chat()).messages.filter((one) => one.text.includes(text)).map((one) => one.standing);
  const answer = (floodId: string, what: 'aside' | 'let_be') =>
    at.house.as.moderator.get(answerFlood, { params: { ...params(), floodId }, body: { answer: what } });

  /** Twelve say the same, between two who do not. */
  async function flooded(): Promise<ChatFlood> {
    at.place.write('What a lovely crust that is, thank you');
    for (let i = 0; i < 12; i++) at.place.write(`${COPIED}${'!'.repeat(i % 3)}`, `user ${i}`);
    at.place.write('Does this hold for rye as well as for wheat?');
    await until('it is noticed', async () => (await chat()).floods[0]?.messages === 12);
    await until('all came', async () => (await chat()).messages.length === 14);
    return (await chat()).floods[0]!;
  }

  it('is noticed with what it says, how many they are and where', async () => {
    const flood = await flooded();
    expect(flood).toEqual(
      jasmine.objectContaining({ writers: 12, answer: 'open', endedMs: null, answeredBy: null }),
    );
    expect(flood.samples[0]).toContain('come over to the real channel');
    expect(flood.samples.join()).not.toContain('crust');
    expect(flood.destinationIds).toEqual([at.destinationId]);
  });

  it('is set aside in one step with what still comes of it, and taken back in one', async () => {
    const { id } = await flooded();
    const { flood } = await answer(id, 'aside');
    expect([flood.answer, flood.answeredBy]).toEqual(['aside', at.house.members.moderator.name]);
    expect(new Set(await standing('real channel'))).toEqual(new Set(['aside']));
    expect([...(await standing('crust')), ...(await standing('rye'))]).toEqual(['shown', 'shown']);
    at.place.write(`hey, ${COPIED}`, 'another one');
    at.place.write('And how long does it rest then?', 'somebody');
    await until('they came', async () => (await chat()).messages.length === 16);
    expect(await standing('hey,')).toEqual(['aside']);
    expect(await standing('rest then')).toEqual(['shown']);
    expect((await chat()).floods[0]!.messages).toBe(13);

    await answer(id, 'let_be');
    expect(new Set(await standing('real channel'))).toEqual(new Set(['shown']));
    at.place.write(`now ${COPIED}`, 'one more');
    await until('it came', async () => (await standing('now come')).length === 1);
    expect(await standing('now come')).toEqual(['shown']);
    const { log } = await at.house.as.host.get(readChatLog, { params: params() });
    const answers = log.map(({ act }) => act).filter((act) => act.startsWith('flood'));
    expect(answers).toEqual(['flood_let_be', 'flood_aside']);
  });

  it('takes its message off the programme, and leaves alone what a person dealt with', async () => {
    const { id } = await flooded();
    const [first, second] = (await chat()).messages.filter(
      ({ text, standing }) => text.includes('real channel') && standing === 'shown',
    );
    const body = { messageId: first!.id, seconds: 30 };
    await at.house.as.moderator.get(setOnProgramme, { params: params(), body });
    const act = { params: { ...params(), messageId: second!.id }, body: { act: 'hide' as const } };
    await at.house.as.moderator.get(moderate, act);
    await answer(id, 'aside');
    expect((await chat()).onProgramme).toBeNull();
    await answer(id, 'let_be');
    const stands = (await chat()).messages.find((one) => one.id === second!.id)!.standing;
    expect(stands).toBe('hidden');
  });

  it('is over some time after its last message', async () => {
    const { id } = await flooded();
    // The last of it was longer ago.
    const { db } = at.house.server.app;
    await db
      .update(chatFlood)
      .set({ lastAt: Date.now() - 60_000 })
      .where(eq(chatFlood.id, id));
    at.house.securityClock.nowMs = Date.now();
    await until('it is over', async () => (await chat()).floods[0]?.endedMs !== null);
    expect((await chat()).floods[0]!.messages).toBe(12);
  });

  it('of another show is not found here, and only those who may write answer one', async () => {
    const { id } = await flooded();
    const other = {
      params: { showId: crypto.randomUUID(), floodId: id },
      body: { answer: 'aside' as const },
    };
    expect((await at.house.as.moderator.refused(answerFlood, other)).code).toBe('not_found');
    const stranger = await at.house.stranger().refused(answerFlood, {
      params: { ...params(), floodId: id },
      body: { answer: 'aside' },
    });
    expect(stranger.code).toBe('signed_out');
  });

  it('is no flood when many write at once in their own words', async () => {
    [
      'Does rye rise at all without any wheat in it?',
      'My oven only goes to two hundred, is that enough',
      'I take barley for this, and it works rather well',
      'How warm is the water that you pour in there',
      'Wie lange soll der Teig denn nun ruhen, bitte?',
      '¿Se puede hacer lo mismo con harina de maíz?',
      'The crust of mine always comes out pale and soft',
      'Which of the two stones do you use for spelt',
      'We baked this last week with the whole class',
      'Could you hold that loaf a bit closer to us',
    ].forEach((text, i) => at.place.write(text, `viewer ${i}`));
    await until('all came', async () => (await chat()).messages.length === 10);
    expect((await chat()).floods).toEqual([]);
  });
});

describe('who may write at a place', () => {
  const at = withShowAtPlace({ started: true });
  const places = async () =>
    (await at.house.as.moderator.get(readPlaceChats, { params: { showId: at.showId } })).places;
  const write = (slowSeconds: number) => ({
    params: { showId: at.showId, destinationId: at.destinationId },
    body: { rules: { slowSeconds, followersOnly: null, accountDays: null } },
  });

  it('is read from there, set there, and read back', async () => {
    at.place.slowS = 5;
    expect((await places()).map(({ rules }) => rules)).toEqual([
      { slowSeconds: 5, followersOnly: null, accountDays: null },
    ]);
    const { place } = await at.house.as.moderator.get(writePlaceChat, write(30));
    expect([at.place.slowS, place.rules?.slowSeconds, place.sentence]).toEqual([30, 30, null]);
  });

  it('is not asked for more than the place takes, and a place that is down says so', async () => {
    const refusal = await at.house.as.moderator.refused(writePlaceChat, write(301));
    expect(refusal.sentence).toContain('at most 300 s between messages');
    at.place.mood = 'down';
    const [place] = await places();
    expect(place!.rules).toBeNull();
    expect(place!.sentence).toContain('Harbour');
  });

  it('is not a banned writer, who is muted here as well', async () => {
    at.place.write('nonsense', 'troll');
    const find = async () =>
      (await at.house.as.moderator.get(readChat, { params: { showId: at.showId } })).messages[0];
    await until('it came', async () => (await find()) !== undefined);
    const { id } = (await find())!;
    const act = (what: 'ban' | 'unban') =>
      at.house.as.moderator.get(moderate, {
        params: { showId: at.showId, messageId: id },
        body: { act: what },
      });
    expect((await act('ban')).sentence).toBeNull();
    expect([...at.place.banned]).toEqual(['troll']);
    expect((await find())!.standing).toBe('hidden');
    expect((await act('unban')).sentence).toBeNull();
    expect([...at.place.banned]).toEqual([]);
    expect((await find())!.standing).toBe('shown');
    at.place.mood = 'down';
    const { sentence } = await act('ban');
    expect(sentence).toContain('Done here.');
    expect(sentence).toContain('this writer can still write there');
  });
});
