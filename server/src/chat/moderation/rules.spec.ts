import { readChat, readChatRules, saveChatRules, type RulesOfShow } from '@juncta/contract/chat';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

describe('the rules for messages', () => {
  const at = withShowAtPlace({ started: true });
  const params = () => ({ showId: at.showId });
  const read = () => at.house.as.moderator.get(readChatRules, { params: params() });
  const standingOf = async (text: string) => {
    const find = async () =>
      (await at.house.as.moderator.get(readChat, { params: params() })).messages.find(
        (one) => one.text === text,
      );
    await until(`${text} is there`, async () => (await find()) !== undefined);
    return (await find())!.standing;
  };
  const hiding = ({ rules }: RulesOfShow['house'], where: string[] = []) =>
    rules.map((rule) =>
      rule.kind === 'words'
        ? { ...rule, action: 'hide' as const, list: ['flourcoin'], where }
        : { ...rule, list: [...rule.list], where: [...rule.where] },
    );

  it('are the house’s, until a show has its own, and again when it has none any more', async () => {
    const { house, show } = await read();
    expect(show).toBeNull();
    const own = { of: 'show' as const, rules: hiding(house), version: null };
    const saved = await at.house.as.moderator.get(saveChatRules, { params: params(), body: own });
    expect(saved.house).toEqual(house);
    at.place.write('flourcoin one');
    expect(await standingOf('flourcoin one')).toBe('hidden');
    const none = { of: 'show' as const, rules: null, version: saved.show!.version };
    expect(
      (await at.house.as.moderator.get(saveChatRules, { params: params(), body: none })).show,
    ).toBeNull();
    at.place.write('flourcoin two');
    expect(await standingOf('flourcoin two')).toBe('shown');
  });

  it('hold at some destinations only, when they say so', async () => {
    const { house } = await read();
    const elsewhere = { of: 'show' as const, rules: hiding(house, [crypto.randomUUID()]), version: null };
    const saved = await at.house.as.moderator.get(saveChatRules, { params: params(), body: elsewhere });
    at.place.write('flourcoin elsewhere');
    expect(await standingOf('flourcoin elsewhere')).toBe('shown');
    const here = { ...elsewhere, rules: hiding(house, [at.destinationId]), version: saved.show!.version };
    await at.house.as.moderator.get(saveChatRules, { params: params(), body: here });
    at.place.write('flourcoin here');
    expect(await standingOf('flourcoin here')).toBe('hidden');
  });

  it('are not overwritten by whoever has not seen how they are now', async () => {
    const { house } = await read();
    const mine = { of: 'house' as const, rules: hiding(house), version: house.version };
    const saved = await at.house.as.moderator.get(saveChatRules, { params: params(), body: mine });
    expect(saved.house.version).not.toBe(house.version);
    const late = { of: 'house' as const, rules: null, version: house.version };
    const refusal = await at.house.as.host.refused(saveChatRules, { params: params(), body: late });
    expect(refusal.code).toBe('changed_meanwhile');
    expect(refusal.current).toEqual(saved);
    // Two at the same moment: one of them is told.
    const both = await Promise.all(
      ['a', 'b'].map((word) =>
        at.house.as.moderator.ask(saveChatRules, {
          params: params(),
          body: {
            ...mine,
            version: saved.house.version,
            rules: mine.rules.map((rule) => (rule.kind === 'words' ? { ...rule, list: [word] } : rule)),
          },
        }),
      ),
    );
    expect(both.map(({ status }) => status).sort()).toEqual([200, 409]);
    const now = await read();
    const back = { of: 'house' as const, rules: null, version: now.house.version };
    expect((await at.house.as.moderator.get(saveChatRules, { params: params(), body: back })).house).toEqual(
      house,
    );
  });

  it('are refused with a place that is none', async () => {
    const { house } = await read();
    const rules = house.rules.map((rule) => ({ ...rule, list: [...rule.list], where: ['nowhere'] }));
    const body = { of: 'show' as const, rules, version: null };
    const refusal = await at.house.as.moderator.refused(saveChatRules, { params: params(), body });
    expect(refusal.code).toBe('bad_input');
  });
});
