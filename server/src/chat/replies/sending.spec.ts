import { readChat, writeChat } from '@juncta/contract/chat';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

describe('what is written to viewers', () => {
  const at = withShowAtPlace({ started: true });
  const write = (id: string, text: string) =>
    at.house.as.moderator.ask(writeChat, {
      params: { showId: at.showId },
      body: { id, text, replyTo: null },
    });
  const ours = () =>
    at.place.events[0]!.messages.filter(({ author }) => author.owner).map(({ text }) => text);
  const sent = { outcomes: [jasmine.objectContaining({ sent: true })] };
  /** As a server leaves it that died while it sent. */
  const claimedLongAgo = (id: string) =>
    at.house.server.app.connection.pool.query(
      `insert into chat_sent (id, show_id, destination_id, state, claimed_at)
       values ($1, $2, $3, 'in_flight', now() - interval '20 seconds')`,
      [id, at.showId, at.destinationId],
    );

  it('goes out once, however often it is sent at the same time', async () => {
    at.place.answerAfterMs = 150;
    const id = crypto.randomUUID();
    const replies = await Promise.all([write(id, 'Welcome'), write(id, 'Welcome'), write(id, 'Welcome')]);
    for (const { body } of replies) expect(body).toEqual(jasmine.objectContaining(sent));
    expect(ours()).toEqual(['Welcome']);
  });

  it('is looked for at the place after a crash, and is not sent again when it is there', async () => {
    const id = crypto.randomUUID();
    at.place.tell({
      text: 'We begin in five minutes',
      author: { id: 'house', name: 'The house', owner: true },
    });
    await claimedLongAgo(id);
    expect((await write(id, 'We begin in five minutes')).body).toEqual(jasmine.objectContaining(sent));
    expect(ours()).toEqual(['We begin in five minutes']);
    await until('it is told whose it was', async () =>
      (await at.house.as.host.get(readChat, { params: { showId: at.showId } })).messages.some(
        ({ sentBy }) => sentBy === 'The moderator',
      ),
    );
  });

  it('is sent after a crash when it is not there', async () => {
    const id = crypto.randomUUID();
    // The same words, written by somebody else, are not ours.
    at.place.write('We begin in five minutes');
    await claimedLongAgo(id);
    const replies = await Promise.all([1, 2].map(() => write(id, 'We begin in five minutes')));
    for (const { body } of replies) expect(body).toEqual(jasmine.objectContaining(sent));
    expect(ours()).toEqual(['We begin in five minutes']);
  });

  it('is not sent again when the place took it and its answer was lost', async () => {
    const id = crypto.randomUUID();
    at.place.losesAnswers = 1;
    const lost = await write(id, 'Back in a minute');
    expect(JSON.stringify(lost.body)).toContain('nobody knows yet whether it was written there');
    expect((await write(id, 'Back in a minute')).body).toEqual(jasmine.objectContaining(sent));
    expect(ours()).toEqual(['Back in a minute']);
  });

  it('is sent when it is written once more after a clear no', async () => {
    const id = crypto.randomUUID();
    at.place.mood = 'refused';
    expect(JSON.stringify((await write(id, 'Hello')).body)).toContain('nothing was written there');
    at.place.mood = 'well';
    expect((await write(id, 'Hello')).body).toEqual(jasmine.objectContaining(sent));
    expect(ours()).toEqual(['Hello']);
  });

  it('may say the same twice, on purpose', async () => {
    for (const id of [crypto.randomUUID(), crypto.randomUUID()]) await write(id, 'Thank you');
    expect(ours()).toEqual(['Thank you', 'Thank you']);
  });
});
