import {
  closeChat,
  moderate,
  readChat,
  readChatLog,
  readChatRules,
  saveChatRules,
  setOnProgramme,
  tryChatRules,
  type ChatAct,
  type ChatMessage,
} from '@juncta/contract/chat';
import { startFeed } from '@juncta/contract/relay';
import { createShow } from '@juncta/contract/shows';
import { changeListing } from '../listings/store';
import { addHarbour, sendTo } from '../testing/destination';
import { FakeEventPlace } from '../testing/fake-event-place';
import { FakeRelay } from '../testing/fake-relay';
import { openHouse, showText, type House } from '../testing/house';
import { until } from '../testing/until';

describe('moderation', () => {
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
    await house.as.host.get(startFeed, { params: { showId, destinationId } });
  });
  afterEach(async () => {
    await house.as.host.get(closeChat, { params: { showId } });
    await place.close();
  });

  const params = () => ({ showId });
  const messages = async () => (await house.as.moderator.get(readChat, { params: params() })).messages;
  const arrived = async (text: string): Promise<ChatMessage> => {
    const find = async () => (await messages()).find((one) => one.text === text);
    await until(`${text} is there`, async () => (await find()) !== undefined);
    return (await find())!;
  };
  const act = (messageId: string, what: ChatAct) =>
    house.as.moderator.get(moderate, { params: { showId, messageId }, body: { act: what } });
  const put = (messageId: string) =>
    house.as.moderator.ask(setOnProgramme, { params: params(), body: { messageId, seconds: 10 } });

  it('hides what a rule has something against, sets aside what a person has to see, and notes both', async () => {
    const { rules } = await house.as.moderator.get(readChatRules);
    const words = rules.map((rule) => (rule.kind === 'words' ? { ...rule, list: ['flourcoin'] } : rule));
    await house.as.moderator.get(saveChatRules, { body: { rules: words } });
    place.write('get f l 0 u r c o i n now');
    place.write('look at https://elsewhere.example');
    place.write('What a crust');
    expect(await arrived('get f l 0 u r c o i n now')).toEqual(
      jasmine.objectContaining({ standing: 'hidden', by: 'words' }),
    );
    expect(await arrived('look at https://elsewhere.example')).toEqual(
      jasmine.objectContaining({ standing: 'aside', by: 'links' }),
    );
    expect((await arrived('What a crust')).standing).toBe('shown');
    const { log } = await house.as.host.get(readChatLog, { params: params() });
    expect(log.map((one) => [one.act, one.by]).sort()).toEqual([
      ['rule_aside', 'links'],
      ['rule_hide', 'words'],
    ]);
    const tried = await house.as.moderator.get(tryChatRules, { params: params(), body: { rules: words } });
    expect(tried.messages).toBe(3);
    expect(tried.caught.map(({ kind }) => kind).sort()).toEqual(['links', 'words']);
    await house.as.moderator.get(saveChatRules, { body: { rules } });
  });

  it('keeps in the house what is set aside, and lets it through again', async () => {
    place.write('About the salt');
    const { id } = await arrived('About the salt');
    const { messages: changed } = await act(id, 'set_aside');
    expect(changed.map(({ standing, by }) => [standing, by])).toEqual([['aside', 'The moderator']]);
    expect((await put(id)).status).toBe(409);
    expect(place.hidden.size).toBe(0);
    await act(id, 'let_through');
    expect((await put(id)).status).toBe(200);
  });

  it('hides at the place too, takes off the programme what it hides, and can take that back', async () => {
    const { id: placeId } = place.write('Something spiteful');
    const { id } = await arrived('Something spiteful');
    await put(id);
    const { messages: changed, sentence } = await act(id, 'hide');
    expect(changed.map((one) => [one.standing, one.hiddenThere])).toEqual([['hidden', true]]);
    expect(sentence).toBeNull();
    expect([...place.hidden]).toEqual([placeId]);
    const { onProgramme } = await house.as.host.get(readChat, { params: params() });
    expect(onProgramme).toBeNull();
    await act(id, 'let_through');
    expect(place.hidden.size).toBe(0);
  });

  it('holds for ourselves when the place does not do it, and says so', async () => {
    place.write('While the place is away');
    const { id } = await arrived('While the place is away');
    place.mood = 'down';
    const { messages: changed, sentence } = await act(id, 'hide');
    expect(changed.map((one) => [one.standing, one.hiddenThere])).toEqual([['hidden', false]]);
    expect(sentence).toContain('Done here.');
  });

  it('mutes a writer for what was and what will be written, and nobody else', async () => {
    place.write('first of all', 'Grumbler');
    place.write('hello', 'Ottoline');
    const { id } = await arrived('first of all');
    await act(id, 'mute');
    place.write('and another thing', 'Grumbler');
    expect(await arrived('and another thing')).toEqual(
      jasmine.objectContaining({ standing: 'hidden', by: 'The moderator' }),
    );
    expect((await arrived('hello')).standing).toBe('shown');
    await act(id, 'unmute');
    expect((await messages()).every(({ standing }) => standing === 'shown')).toBeTrue();
  });

  it('counts once what a place brings again', async () => {
    for (const text of ['one of three', 'two of three', 'three of three']) place.write(text, 'Hedda');
    await arrived('three of three');
    const change = (values: object) => changeListing(house.server.app.db, showId, destinationId, values);
    const lineIsOpen = async () =>
      (await house.as.moderator.get(readChat, { params: params() })).lines.some(
        ({ state }) => state === 'open',
      );
    await change({ chatOpen: false });
    await until('the line is closed', async () => !(await lineIsOpen()));
    await change({ chatOpen: true, chatCursor: null });
    await until('everything is brought again', lineIsOpen);
    place.write('and a fourth', 'Hedda');
    expect((await arrived('and a fourth')).standing).toBe('shown');
    place.write('a fifth', 'Hedda');
    expect((await arrived('a fifth')).standing).toBe('shown');
    expect((await messages()).length).toBe(5);
  });

  it('lines up questions, which are answered or taken out again', async () => {
    place.write('How long does it prove?');
    const { id } = await arrived('How long does it prove?');
    for (const [what, wanted] of [
      ['line_up', 'lined_up'],
      ['answered', 'answered'],
      ['unline', 'none'],
    ] as const)
      expect((await act(id, what)).messages[0]!.question).toBe(wanted);
    await act(id, 'set_aside');
    const asQuestion = { params: { showId, messageId: id }, body: { act: 'line_up' as const } };
    expect((await house.as.moderator.refused(moderate, asQuestion)).code).toBe('not_ready');
  });

  it('knows no message of another show', async () => {
    const other = { params: { showId, messageId: crypto.randomUUID() }, body: { act: 'hide' as const } };
    expect((await house.as.moderator.refused(moderate, other)).code).toBe('not_found');
  });
});
