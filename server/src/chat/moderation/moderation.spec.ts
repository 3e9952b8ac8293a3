import {
  moderate,
  readChat,
  readChatLog,
  readChatRules,
  saveChatRules,
  setOnProgramme,
  tryChatRules,
  type ChatMessage,
} from '@juncta/contract/chat';
import type { ChatAct } from '@juncta/core/chat';
import { REAL_SETTING, setTo } from '@juncta/core/clock';
import { changeListing } from '../../listings/store';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

describe('moderation', () => {
  const at = withShowAtPlace({ started: true });

  const params = () => ({ showId: at.showId });
  const messages = async () => (await at.house.as.moderator.get(readChat, { params: params() })).messages;
  const arrived = async (text: string): Promise<ChatMessage> => {
    const find = async () => (await messages()).find((one) => one.text === text);
    await until(`${text} is there`, async () => (await find()) !== undefined);
    return (await find())!;
  };
  const act = (messageId: string, what: ChatAct) =>
    at.house.as.moderator.get(moderate, { params: { showId: at.showId, messageId }, body: { act: what } });
  const put = (messageId: string) =>
    at.house.as.moderator.ask(setOnProgramme, { params: params(), body: { messageId, seconds: 10 } });

  it('logs what people and rules did by one clock: the one that messages go by, whatever a rehearsal shows', async () => {
    const { clock, securityClock } = at.house.server.app;
    clock.adopt(setTo(REAL_SETTING, Date.now(), Date.now() + 5 * 24 * 3_600_000));
    const message = await arrived(at.place.write('How long does it rest?').text);
    await act(message.id, 'set_aside');
    const { log } = await at.house.as.host.get(readChatLog, { params: params() });
    expect(log.map(({ act: what, atMs }) => [what, atMs])).toEqual([['set_aside', securityClock.now()]]);
    clock.adopt(REAL_SETTING);
  });

  it('hides what a rule has something against, sets aside what a person has to see, and notes both', async () => {
    const { house } = await at.house.as.moderator.get(readChatRules, { params: params() });
    const words = house.rules.map((rule) =>
      rule.kind === 'words' ? { ...rule, action: 'hide' as const, list: ['flourcoin'] } : rule,
    );
    const body = { of: 'show' as const, rules: words, version: null };
    await at.house.as.moderator.get(saveChatRules, { params: params(), body });
    at.place.write('get f l 0 u r c o i n now');
    at.place.write('look at https://elsewhere.example');
    at.place.write('What a crust');
    expect(await arrived('get f l 0 u r c o i n now')).toEqual(
      jasmine.objectContaining({ standing: 'hidden', by: 'words' }),
    );
    expect(await arrived('look at https://elsewhere.example')).toEqual(
      jasmine.objectContaining({ standing: 'aside', by: 'links' }),
    );
    expect((await arrived('What a crust')).standing).toBe('shown');
    const { log } = await at.house.as.host.get(readChatLog, { params: params() });
    expect(log.map((one) => [one.act, one.by]).sort()).toEqual([
      ['rule_aside', 'links'],
      ['rule_hide', 'words'],
    ]);
    const tried = await at.house.as.moderator.get(tryChatRules, { params: params(), body: { rules: words } });
    expect(tried.messages).toBe(3);
    expect(tried.caught.map(({ kind }) => kind).sort()).toEqual(['links', 'words']);
  });

  it('keeps in the house what is set aside, and lets it through again', async () => {
    at.place.write('About the salt');
    const { id } = await arrived('About the salt');
    const { messages: changed } = await act(id, 'set_aside');
    expect(changed.map(({ standing, by }) => [standing, by])).toEqual([['aside', 'The moderator']]);
    expect((await put(id)).status).toBe(409);
    expect(at.place.hidden.size).toBe(0);
    await act(id, 'let_through');
    expect((await put(id)).status).toBe(200);
  });

  it('hides at the place too, takes off the programme what it hides, and can take that back', async () => {
    const { id: placeId } = at.place.write('Something spiteful');
    const { id } = await arrived('Something spiteful');
    await put(id);
    const { messages: changed, sentence } = await act(id, 'hide');
    expect(changed.map((one) => [one.standing, one.hiddenThere])).toEqual([['hidden', true]]);
    expect(sentence).toBeNull();
    expect([...at.place.hidden]).toEqual([placeId]);
    const { onProgramme } = await at.house.as.host.get(readChat, { params: params() });
    expect(onProgramme).toBeNull();
    await act(id, 'let_through');
    expect(at.place.hidden.size).toBe(0);
  });

  it('holds for ourselves when the place does not do it, and says so', async () => {
    at.place.write('While the place is away');
    const { id } = await arrived('While the place is away');
    at.place.mood = 'down';
    const { messages: changed, sentence } = await act(id, 'hide');
    expect(changed.map((one) => [one.standing, one.hiddenThere])).toEqual([['hidden', false]]);
    expect(sentence).toContain('Done here.');
  });

  it('mutes a writer for what was and what will be written, and nobody else', async () => {
    at.place.write('first of all', 'Grumbler');
    at.place.write('hello', 'Ottoline');
    const { id } = await arrived('first of all');
    await act(id, 'mute');
    at.place.write('and another thing', 'Grumbler');
    expect(await arrived('and another thing')).toEqual(
      jasmine.objectContaining({ standing: 'hidden', by: 'The moderator' }),
    );
    expect((await arrived('hello')).standing).toBe('shown');
    await act(id, 'unmute');
    expect((await messages()).every(({ standing }) => standing === 'shown')).toBeTrue();
  });

  it('counts once what a place brings again', async () => {
    for (const text of ['one of three', 'two of three', 'three of three']) at.place.write(text, 'Hedda');
    await arrived('three of three');
    const change = (values: object) =>
      changeListing(at.house.server.app.db, at.showId, at.destinationId, values);
    const lineIsOpen = async () =>
      (await at.house.as.moderator.get(readChat, { params: params() })).lines.some(
        ({ state }) => state === 'open',
      );
    await change({ chatOpen: false });
    await until('the line is closed', async () => !(await lineIsOpen()));
    await change({ chatOpen: true, chatCursor: null });
    await until('everything is brought again', lineIsOpen);
    at.place.write('and a fourth', 'Hedda');
    expect((await arrived('and a fourth')).standing).toBe('shown');
    at.place.write('a fifth', 'Hedda');
    expect((await arrived('a fifth')).standing).toBe('shown');
    expect((await messages()).length).toBe(5);
  });

  it('lines up questions, which are answered or taken out again', async () => {
    at.place.write('How long does it prove?');
    const { id } = await arrived('How long does it prove?');
    for (const [what, wanted] of [
      ['line_up', 'lined_up'],
      ['answered', 'answered'],
      ['unline', 'none'],
    ] as const)
      expect((await act(id, what)).messages[0]!.question).toBe(wanted);
    await act(id, 'set_aside');
    const asQuestion = { params: { showId: at.showId, messageId: id }, body: { act: 'line_up' as const } };
    expect((await at.house.as.moderator.refused(moderate, asQuestion)).code).toBe('not_ready');
  });

  it('knows no message of another show', async () => {
    const other = {
      params: { showId: at.showId, messageId: crypto.randomUUID() },
      body: { act: 'hide' as const },
    };
    expect((await at.house.as.moderator.refused(moderate, other)).code).toBe('not_found');
  });

  it('is taken by one at a time, let go of by itself, and by whatever is done', async () => {
    at.place.write('Whose is this?');
    const { id } = await arrived('Whose is this?');
    const taker = async () => (await messages()).find((one) => one.id === id)!.takenBy?.name ?? null;
    const { moderator, producer } = at.house.members;
    await act(id, 'take');
    expect(await taker()).toBe(moderator.name);
    const asProducer = (what: ChatAct) =>
      at.house.as.producer.get(moderate, {
        params: { showId: at.showId, messageId: id },
        body: { act: what },
      });
    // Whoever was first keeps it, and only they let go of it.
    await asProducer('take');
    await asProducer('release');
    expect(await taker()).toBe(moderator.name);
    await act(id, 'release');
    expect(await taker()).toBeNull();
    await asProducer('take');
    expect(await taker()).toBe(producer.name);
    await act(id, 'line_up');
    expect(await taker()).toBeNull();
    await act(id, 'take');
    at.house.securityClock.advance(4 * 60_000);
    await until('it is anybody’s again', async () => (await taker()) === null);
    const { log } = await at.house.as.host.get(readChatLog, { params: params() });
    expect(log.map(({ act: what }) => what)).toEqual(['line_up']);
  });

  it('stays on the programme until it is taken off, where that is wanted', async () => {
    at.place.write('How warm has the water to be?');
    const { id } = await arrived('How warm has the water to be?');
    const put = (messageId: string | null) =>
      at.house.as.moderator.get(setOnProgramme, { params: params(), body: { messageId, seconds: null } });
    expect((await put(id)).onProgramme).toEqual(
      jasmine.objectContaining({ messageId: id, remainingMs: null }),
    );
    const read = async () =>
      (await at.house.as.moderator.get(readChat, { params: params() })).onProgramme?.messageId ?? null;
    expect(await read()).toBe(id);
    await act(id, 'hide');
    expect(await read())
      .withContext('unless it is hidden')
      .toBeNull();
    expect((await put(null)).onProgramme).toBeNull();
  });

  it('stands on the programme as somebody shortened it, and stays as it was written', async () => {
    at.place.write('I wonder, and my neighbour does too, how warm the water has to be');
    const { id, text } = await arrived('I wonder, and my neighbour does too, how warm the water has to be');
    const body = { messageId: id, seconds: 10, text: 'How warm has the water to be?' };
    const { onProgramme } = await at.house.as.moderator.get(setOnProgramme, { params: params(), body });
    expect(onProgramme!.text).toBe('How warm has the water to be?');
    expect((await messages())[0]!.text).toBe(text);
    const long = { ...body, text: 'x'.repeat(281) };
    const refusal = await at.house.as.moderator.refused(setOnProgramme, { params: params(), body: long });
    expect(refusal.code).toBe('bad_input');
  });
});
