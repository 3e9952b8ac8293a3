import {
  closeChat,
  moderate,
  noteViewer,
  readChat,
  readViewer,
  setOnProgramme,
  type ChatMessage,
} from '@juncta/contract/chat';
import type { ChatAct } from '@juncta/core/chat';
import { startFeed } from '@juncta/contract/feeds';
import { createShow } from '@juncta/contract/shows';
import { sendTo } from '../../testing/destination';
import { showText } from '../../testing/house';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

describe('a viewer', () => {
  const at = withShowAtPlace({ started: true });
  const readOf = (showId: string) => at.house.as.moderator.get(readChat, { params: { showId } });
  const arrived = async (text: string, showId = at.showId): Promise<ChatMessage> => {
    const find = async () => (await readOf(showId)).messages.find((one) => one.text === text);
    await until(`${text} is there`, async () => (await find()) !== undefined);
    return (await find())!;
  };
  const act = (messageId: string, what: ChatAct) => ({
    params: { showId: at.showId, messageId },
    body: { act: what },
  });
  const put = (messageId: string) => ({
    params: { showId: at.showId },
    body: { messageId, seconds: 10 },
  });

  it('is known by badges, by the age of the account, and by a first message', async () => {
    const author = { id: 'hedda', name: 'Hedda', owner: false, badges: ['regular', ' '], account_days: 3 };
    at.place.tell({ text: 'good evening', author });
    at.place.tell({ text: 'and a question', author });
    at.place.tell({ text: 'nonsense about me', author: { ...author, account_days: -4 } });
    const first = await arrived('good evening');
    expect(first.author).toEqual(
      jasmine.objectContaining({ badges: ['regular'], accountDays: 3, otherShows: 0 }),
    );
    expect([first.first, (await arrived('and a question')).first]).toEqual([true, false]);
    expect((await arrived('nonsense about me')).author.accountDays).toBeNull();
  });

  it('who comes again is known by the shows before, and by what was noted', async () => {
    at.place.write('here for the first time', 'Hedda');
    const { id: messageId } = await arrived('here for the first time');
    const params = { showId: at.showId, messageId };
    const body = { note: 'Asks well. Has a mill of her own.' };
    const { note } = await at.house.as.moderator.get(noteViewer, { params, body });
    expect([note.authorId, note.by]).toEqual(['Hedda', at.house.members.moderator.name]);
    // Another show at the same destination, to which she comes as well.
    const showId = crypto.randomUUID();
    await at.house.as.producer.get(createShow, {
      body: { id: showId, text: showText({ title: 'The next' }) },
    });
    await sendTo(at.house, showId, [at.destinationId]);
    at.relay.change(showId, { state: 'source' });
    await at.house.as.host.get(startFeed, { params: { showId, destinationId: at.destinationId } });
    at.place.write('back again', 'Hedda');
    at.place.write('who is new', 'Orla');
    const again = await arrived('back again', showId);
    expect([again.first, again.author.otherShows]).toEqual([true, 1]);
    expect((await arrived('who is new', showId)).author.otherShows).toBe(0);
    expect((await readOf(showId)).notes).toEqual([note]);
    const card = await at.house.as.host.get(readViewer, { params: { showId, messageId: again.id } });
    expect(card.shows.map(({ showId: id, messages }) => [id, messages])).toEqual([[at.showId, 1]]);
    expect([card.note, card.hidden]).toEqual([note, 0]);
    await at.house.as.moderator.get(noteViewer, {
      params: { showId, messageId: again.id },
      body: { note: '' },
    });
    expect((await readOf(showId)).notes).toEqual([]);
    await at.house.as.host.get(closeChat, { params: { showId } });
  });

  it('may write to the house alone: that is on no programme, in no line of questions, and answered there', async () => {
    const asked = at.place.tell({ text: 'I paid twice', kind: 'private' });
    const { id, kind } = await arrived('I paid twice');
    expect(kind).toBe('private');
    const as = at.house.as.moderator;
    for (const refusal of [
      await as.refused(setOnProgramme, put(id)),
      await as.refused(moderate, act(id, 'line_up')),
    ])
      expect(refusal.sentence).toContain('to the house alone');
    expect(asked.kind).toBe('private');
  });

  it('is told of by the place, which no rule judges, and can be thanked on the programme', async () => {
    at.place.tell({ text: 'bought a bag: https://shop.example', kind: 'sale' });
    const { id, kind, standing } = await arrived('bought a bag: https://shop.example');
    expect([kind, standing]).toEqual(['sale', 'shown']);
    const { onProgramme } = await at.house.as.moderator.get(setOnProgramme, put(id));
    expect(onProgramme!.messageId).toBe(id);
  });

  it('may change what they wrote: it is judged anew, and what a person decided stays', async () => {
    const one = at.place.write('Nice crust');
    const two = at.place.write('Nice crumb');
    const [{ id }, kept] = [await arrived('Nice crust'), await arrived('Nice crumb')];
    await at.house.as.moderator.get(moderate, act(kept.id, 'set_aside'));
    await at.house.as.moderator.get(moderate, act(kept.id, 'let_through'));
    const edited_at = new Date().toISOString();
    at.place.tell({ ...one, text: 'Nice crust, see https://elsewhere.example', edited_at });
    at.place.tell({ ...two, text: 'Nice crumb, see https://elsewhere.example', edited_at });
    const changed = await arrived('Nice crust, see https://elsewhere.example');
    expect([changed.id, changed.standing, changed.by, changed.editedAtMs]).toEqual([
      id,
      'aside',
      'links',
      Date.parse(edited_at),
    ]);
    expect((await arrived('Nice crumb, see https://elsewhere.example')).standing).toBe('shown');
    expect((await readOf(at.showId)).messages.length).toBe(2);
  });

  it('may take it back: it leaves the programme and the questions, and the team still knows it', async () => {
    const written = at.place.write('A slip of the tongue');
    const { id } = await arrived('A slip of the tongue');
    await at.house.as.moderator.get(moderate, act(id, 'line_up'));
    await at.house.as.moderator.get(setOnProgramme, put(id));
    at.place.tell({ ...written, text: '', deleted: true });
    await until('it is taken back', async () => (await arrived('A slip of the tongue')).takenBack);
    expect((await arrived('A slip of the tongue')).question).toBe('none');
    expect((await readOf(at.showId)).onProgramme).toBeNull();
    const refusal = await at.house.as.moderator.refused(setOnProgramme, put(id));
    expect(refusal.sentence).toContain('taken it back');
    // Told once more, nothing changes; and what was gone before we came is known to be.
    at.place.tell({ ...written, text: '', deleted: true });
    at.place.tell({ text: '', deleted: true });
    at.place.write('And on');
    await arrived('And on');
    const { messages } = await readOf(at.showId);
    expect(messages.filter(({ takenBack }) => takenBack).map(({ text }) => text)).toEqual([
      'A slip of the tongue',
      '',
    ]);
  });

  it('can be put before the host alone, who says when it is seen', async () => {
    at.place.write('Your sleeve is in the dough');
    const { id } = await arrived('Your sleeve is in the dough');
    const { messages } = await at.house.as.moderator.get(moderate, act(id, 'tell_host'));
    expect(messages.map(({ forHost }) => forHost)).toEqual(['told']);
    await at.house.as.host.get(moderate, act(id, 'host_seen'));
    expect((await arrived('Your sleeve is in the dough')).forHost).toBe('seen');
  });
});
