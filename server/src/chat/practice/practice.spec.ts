import {
  answerFlood,
  endPractice,
  moderate,
  noteViewer,
  practicePath,
  readChat,
  readChatFigures,
  setOnProgramme,
  writeChat,
  type ChatMessage,
  type Practice,
} from '@juncta/contract/chat';
import type { ChatAct, Standing } from '@juncta/core/chat';
import type { ErrorBody } from '@juncta/contract/errors';
import { startFeed } from '@juncta/contract/feeds';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';
import { ChatIngest } from '../ingest/chat-ingest';
import { Practices } from './practice';
import { addPractice } from './practice-store';

interface Line {
  readonly atS: number;
  readonly text: string;
  readonly author?: string;
  readonly standing?: Standing;
  readonly question?: 'none' | 'answered';
  readonly owner?: boolean;
}
const fileOf = (lines: readonly Line[]): Buffer =>
  Buffer.from(
    lines
      .map(({ atS, author = 'Ilse', ...line }) =>
        JSON.stringify({ author, writtenAtMs: 1_790_000_000_000 + atS * 1000, ...line }),
      )
      .join('\n'),
  );

describe('a practice with the messages of another evening', () => {
  const at = withShowAtPlace({ started: false });
  const params = () => ({ showId: at.showId });
  const chat = (showId = at.showId) => at.house.as.moderator.get(readChat, { params: { showId } });
  const put = async (path: string, file: Buffer, by = at.house.as.moderator) => {
    const answer = await by.send('PUT', path, file, 'application/jsonl');
    return { status: answer.status, body: (await answer.json()) as Practice & ErrorBody };
  };
  const begin = (lines: readonly Line[], speed: 1 | 2 | 4 | 8 = 8, by = at.house.as.moderator) =>
    put(practicePath(at.showId, speed), fileOf(lines), by);
  const end = async () => (await at.house.as.moderator.get(endPractice, { params: params() })).outcome;
  const arrived = async (text: string): Promise<ChatMessage> => {
    const find = async () => (await chat()).messages.find((one) => one.text === text);
    await until(`${text} is there`, async () => (await find()) !== undefined);
    return (await find())!;
  };
  const act = ({ id: messageId }: ChatMessage, what: ChatAct) =>
    at.house.as.moderator.get(moderate, {
      params: { ...params(), messageId },
      body: { act: what },
    });

  it('gives each once, in order, as coming from the show’s own destinations, and says how far it is', async () => {
    const begun = await begin([
      { atS: 4, text: 'third' },
      { atS: 0, text: 'first' },
      { atS: 1, text: 'what the house said', owner: true },
      { atS: 2, text: 'second', author: 'Orla' },
    ]);
    expect(begun.status).toBe(200);
    expect(begun.body).toEqual(
      jasmine.objectContaining({ by: at.house.members.moderator.name, speed: 8, messages: 3 }),
    );
    await arrived('first');
    await until('it says how far it is', async () => (await chat()).practice?.given === 1);
    at.house.securityClock.advance(250);
    await arrived('second');
    expect((await chat()).messages.length).toBe(2);
    at.house.securityClock.advance(250);
    await arrived('third');
    await until('it says that it is through', async () => (await chat()).practice?.given === 3);
    const { messages } = await chat();
    expect(messages.map(({ text }) => text)).toEqual(['first', 'second', 'third']);
    for (const { practice, destinationId, showTimeMs } of messages)
      expect([practice, destinationId, showTimeMs]).toEqual([true, at.destinationId, null]);
    await end();
  });

  it('has the rules, the floods and the moderators at them, and asks no place for anything', async () => {
    const copied = 'come over to the other mill and leave this boring baking show behind';
    await begin([
      { atS: 0, text: 'SHOUTING ALL THE TIME WITHOUT ANY END AT ALL' },
      { atS: 0, text: 'is this heard' },
      ...Array.from({ length: 14 }, (_, i) => ({
        atS: 1 + i / 10,
        text: copied,
        author: `user ${i}`,
      })),
    ]);
    at.house.securityClock.advance(1000);
    const asked = at.place.heard.length;
    const heard = await arrived('is this heard');
    await until('the flood is noticed', async () => (await chat()).floods.length > 0);
    const [flood] = (await chat()).floods;
    await at.house.as.moderator.get(answerFlood, {
      params: { ...params(), floodId: flood!.id },
      body: { answer: 'aside' },
    });
    const isCopy = ({ text }: ChatMessage) => text === copied;
    await until('all of it is aside', async () => {
      const copies = (await chat()).messages.filter(isCopy);
      return copies.length === 14 && copies.every(({ standing }) => standing === 'aside');
    });
    const { sentence } = await act(heard, 'hide');
    expect(sentence).toContain('Practised: done here.');
    expect((await arrived('is this heard')).standing).toBe('hidden');
    await act(heard, 'let_through');
    await act(heard, 'ban');
    const { outcomes } = await at.house.as.moderator.get(writeChat, {
      params: params(),
      body: { id: crypto.randomUUID(), text: 'We hear you', replyTo: heard.id },
    });
    expect(outcomes).toEqual([{ destinationId: at.destinationId, sent: true, sentence: null }]);
    const answer = await arrived('We hear you');
    expect([answer.practice, answer.replyTo, answer.sentBy]).toEqual([
      true,
      heard.id,
      at.house.members.moderator.name,
    ]);
    expect(at.place.heard.slice(asked)).toEqual([]);
    await end();
  });

  it('says in the end what was done beside what was done that evening, and leaves nothing', async () => {
    await begin([
      { atS: 0, text: 'hidden then and now', standing: 'hidden' },
      { atS: 0, text: 'aside then', standing: 'aside', author: 'Orla' },
      { atS: 0, text: 'asked then and now', question: 'answered' },
      { atS: 0, text: 'neither' },
    ]);
    const hidden = await arrived('hidden then and now');
    await act(hidden, 'hide');
    await act(await arrived('neither'), 'set_aside');
    const asked = await arrived('asked then and now');
    await act(asked, 'line_up');
    await at.house.as.moderator.get(noteViewer, {
      params: { ...params(), messageId: asked.id },
      body: { note: 'Knows her flour' },
    });
    await act(await arrived('aside then'), 'tell_host');
    await at.house.as.host.get(setOnProgramme, {
      params: params(),
      body: { messageId: asked.id, seconds: 30 },
    });
    // No first messages are counted, no figures, no file, while it is on.
    expect(hidden.first).toBe(false);
    const figures = () => at.house.as.producer.get(readChatFigures, { params: params() });
    expect((await figures()).messages).toBe(0);
    const saved = await at.house.as.host.send('GET', `/api/shows/${at.showId}/chat.jsonl`);
    expect(await saved.text()).toBe('');
    expect(await end()).toEqual({
      given: 4,
      notShownThen: 2,
      notShownBoth: 1,
      notShownNow: 2,
      askedThen: 1,
      askedBoth: 1,
      askedNow: 1,
    });
    const left = await chat();
    expect([left.messages, left.practice, left.onProgramme, left.notes]).toEqual([[], null, null, []]);
    const { status } = await at.house.as.moderator.ask(endPractice, { params: params() });
    expect(status).toBe(404);
  });

  it('ends by itself when the first chat opens', async () => {
    await begin([
      { atS: 0, text: 'practised' },
      { atS: 60, text: 'never given' },
    ]);
    await arrived('practised');
    await at.house.as.host.get(startFeed, {
      params: { ...params(), destinationId: at.destinationId },
    });
    await until('it is over', async () => (await chat()).practice === null);
    expect((await chat()).messages).toEqual([]);
    at.place.write('in earnest', 'Ilse');
    expect((await arrived('in earnest')).practice).toBe(false);
    const refused = await begin([{ atS: 0, text: 'while it is open' }]);
    expect([refused.status, refused.body.sentence]).toEqual([409, jasmine.stringContaining('is open')]);
  });

  it('goes on where it was after the server was away', async () => {
    const { app } = at.house.server;
    const lines = [0, 1000, 2000].map((atMs) => ({
      atMs,
      destinationId: at.destinationId,
      author: 'Ilse',
      text: `line ${atMs}`,
      kind: 'message' as const,
      accountDays: null,
      notShown: false,
      asked: false,
    }));
    // An hour ago, as the server before left it.
    const startedAt = at.house.securityClock.now() - 3_600_000;
    await addPractice(app.db, { showId: at.showId, by: 'Ingrid', startedAt, speed: 1, lines, given: 2 });
    const practices = new Practices(app, new ChatIngest(app));
    practices.start();
    await until('it was taken up', () => practices.isOn(at.showId));
    expect((await chat()).messages).toEqual([]);
    at.house.securityClock.advance(1000);
    await arrived('line 2000');
    expect((await chat()).messages.length).toBe(1);
    practices.stop();
    await end();
  });

  it('is one at a time, by who may write, with a file that has something in it', async () => {
    const one = [{ atS: 0, text: 'one' }];
    await begin(one, 1);
    const second = await begin(one, 1, at.house.as.host);
    expect(second.body.sentence).toContain(`${at.house.members.moderator.name} practises here already`);
    await end();
    // Nobody who is not signed in, and nobody by a page that is not ours.
    for (const [headers, status] of [
      [{}, 401],
      [{ Cookie: at.house.as.moderator.cookieHeader }, 403],
    ] as const) {
      const sent = { method: 'PUT', headers, body: new Uint8Array(fileOf(one)) };
      expect((await fetch(at.house.url + practicePath(at.showId, 1), sent)).status).toBe(status);
    }
    for (const [file, status] of [
      ['', 400],
      ['not a file of messages', 400],
      [JSON.stringify({ text: 'nobody wrote it' }), 400],
      [' '.repeat(9 * 1024 * 1024), 413],
    ] as const) {
      const path = practicePath(at.showId, 1);
      expect((await put(path, Buffer.from(file))).status)
        .withContext(file.slice(0, 20))
        .toBe(status);
    }
    for (const path of [
      `/api/shows/${at.showId}/chat/practice/3`,
      `/api/shows/none/chat/practice/1`,
      `/api/shows/${crypto.randomUUID()}/chat/practice/1`,
    ]) {
      expect((await put(path, fileOf(one))).status)
        .withContext(path)
        .toBe(404);
    }
    expect((await chat()).practice).toBeNull();
  });
});
