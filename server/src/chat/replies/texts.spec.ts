import {
  readChat,
  readHouseTexts,
  readTimedTexts,
  saveHouseTexts,
  saveTimedTexts,
  type TimedText,
} from '@juncta/contract/chat';
import { collectGarbage } from '../../testing/collect-garbage';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

describe('the house’s texts', () => {
  const at = withShowAtPlace({ started: true });
  const params = () => ({ showId: at.showId });
  const timed = async () => (await at.house.as.moderator.get(readTimedTexts, { params: params() })).timed;
  const save = (list: readonly Pick<TimedText, 'id' | 'text' | 'when'>[]) =>
    at.house.as.moderator.get(saveTimedTexts, { params: params(), body: { timed: [...list] } });
  const there = () => at.place.events.at(-1)!.messages.map(({ text }) => text);
  const atShowTime = (seconds: number, text: string) => ({
    id: crypto.randomUUID(),
    text,
    when: { kind: 'show' as const, seconds },
  });

  it('are kept in their order, and read by all', async () => {
    const texts = ['Welcome to {title}', 'The recipe is on our page'].map((text) => ({
      id: crypto.randomUUID(),
      text,
    }));
    const { version } = await at.house.as.moderator.get(readHouseTexts);
    const saved = await at.house.as.moderator.get(saveHouseTexts, { body: { texts, version } });
    expect(saved.texts).toEqual(texts);
    // Whoever read them before that is told, and shown how they are now.
    const late = { body: { texts: [], version } };
    const refusal = await at.house.as.host.refused(saveHouseTexts, late);
    expect(refusal.code).toBe('changed_meanwhile');
    expect(refusal.current).toEqual(saved);
    const read = await at.house.as.host.get(readHouseTexts);
    expect(read).toEqual(saved);
    await at.house.as.host.get(saveHouseTexts, { body: { texts: [texts[1]!], version: read.version } });
    expect((await at.house.as.host.get(readHouseTexts)).texts.map(({ text }) => text)).toEqual([
      'The recipe is on our page',
    ]);
  });

  it('are written by themselves at their show time, filled in, and once', async () => {
    const [now, later] = [atShowTime(20, 'You are watching {title}'), atShowTime(3600, 'Later')];
    await save([later, now]);
    at.relay.change(at.showId, { showTimeMs: 21_000 });
    await until('it is written', () => there().length === 1);
    expect(there()).toEqual(['You are watching Rye and patience']);
    await until('that is known', async () => (await timed()).some(({ state }) => state === 'sent'));
    expect((await timed()).map(({ state }) => state)).toEqual(['sent', 'waiting']);
    const { messages } = await at.house.as.moderator.get(readChat, { params: params() });
    expect(messages.map(({ sentBy }) => sentBy)).toEqual([at.house.members.moderator.name]);
    // What was written stays, whatever is saved afterwards.
    await save([{ ...now, text: 'Something else' }]);
    expect((await timed()).map(({ text, state }) => [text, state])).toEqual([[now.text, 'sent']]);
    expect(there().length).toBe(1);
  });

  it('are tried again where the place did not take them', async () => {
    at.place.refusesTexts = 2;
    await save([atShowTime(0, 'Hello')]);
    at.relay.change(at.showId, { showTimeMs: 1000 });
    // Looking for it there ends in time, whatever memory is let go meanwhile.
    const letGo = setInterval(collectGarbage, 800);
    try {
      await until('it is written', async () => (await timed())[0]?.state === 'sent', 100_000);
    } finally {
      clearInterval(letGo);
    }
    expect(at.place.refusesTexts).toBe(0);
    expect(there()).toEqual(['Hello']);
  });

  it('are given up after a few tries, and say why', async () => {
    await save([atShowTime(0, 'x'.repeat(300))]);
    at.relay.change(at.showId, { showTimeMs: 1000 });
    await until('it is given up', async () => (await timed())[0]?.state === 'partly');
    expect((await timed())[0]!.sentence).toContain('takes at most 240');
    expect(there()).toEqual([]);
  });
});
