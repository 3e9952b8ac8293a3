import { moderate, readChat, readChatFigures, writeChat } from '@juncta/contract/chat';
import type { ChatAct } from '@juncta/core/chat';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

describe('figures of the messages', () => {
  const at = withShowAtPlace({ started: true });
  const params = () => ({ showId: at.showId });
  const figures = () => at.house.as.moderator.get(readChatFigures, { params: params() });

  it('are nothing before anybody wrote', async () => {
    expect(await figures()).toEqual({
      minutes: [],
      reactionMinutes: [],
      messages: 0,
      writers: 0,
      returning: 0,
      followers: 0,
      sales: 0,
      reactions: 0,
      questions: 0,
      askers: 0,
      answered: 0,
      notShown: 0,
      responseP50S: null,
    });
  });

  it('tell when viewers wrote, how many they were, and how they were answered', async () => {
    // Viewers there are some seconds behind: what is written now is of the third minute.
    at.relay.change(at.showId, { showTimeMs: 3 * 60_000 });
    const now = Date.now();
    at.house.securityClock.nowMs = now;
    at.place.write('How warm is the water?', 'Ilse', now - 4000);
    at.place.write('And the salt?', 'Ilse', now - 3000);
    at.place.write('Nonsense', 'Grumbler', now - 2000);
    const all = async () => (await at.house.as.moderator.get(readChat, { params: params() })).messages;
    await until('all came', async () => (await all()).length === 3);
    const idOf = async (text: string) => (await all()).find((one) => one.text.startsWith(text))!.id;
    const act = async (text: string, what: ChatAct) =>
      at.house.as.moderator.get(moderate, {
        params: { showId: at.showId, messageId: await idOf(text) },
        body: { act: what },
      });
    await act('How', 'line_up');
    await act('And', 'line_up');
    await act('And', 'answered');
    await act('Nonsense', 'set_aside');
    const body = { id: crypto.randomUUID(), text: 'Hand warm.', replyTo: await idOf('How') };
    await at.house.as.moderator.get(writeChat, { params: params(), body });
    const told = await figures();
    expect(told).toEqual(
      jasmine.objectContaining({
        messages: 3,
        writers: 2,
        questions: 2,
        askers: 1,
        answered: 1,
        notShown: 1,
      }),
    );
    expect(told.responseP50S!).toBeGreaterThan(3.5);
    expect(told.responseP50S!).toBeLessThan(120);
    expect(told.minutes).toEqual([{ destinationId: at.destinationId, minute: 2, messages: 3 }]);
  });
});
