import { ChatRoom } from './chat-room';

describe('the chat of a place', () => {
  const ilse = { id: 'ilse', name: 'Ilse', owner: false };

  it('tells a change after everything that was told before, and each message once, as it is now', () => {
    const room = new ChatRoom();
    const first = room.write(ilse, 'one');
    const second = room.write(ilse, 'two');
    room.change(first.id, 'one and a half');
    const told = room.after(null);
    expect(told.map(({ text }) => text)).toEqual(['two', 'one and a half']);
    expect(told[1]).toEqual(jasmine.objectContaining({ id: first.id, deleted: false }));
    expect(told[1]!.edited_at).not.toBeNull();
    expect(room.after(second.seq).map(({ id }) => id)).toEqual([first.id]);
    expect(room.after(told[1]!.seq)).toEqual([]);
    // In the order of writing it stands where it stood.
    expect(room.all().map(({ text }) => text)).toEqual(['one and a half', 'two']);
  });

  it('gives so many at a time without leaving one out', () => {
    const room = new ChatRoom();
    for (let i = 0; i < 7; i++) room.write(ilse, `m${i}`);
    room.change(room.after(null)[2]!.id, 'm2 again');
    const got: string[] = [];
    for (let seq: string | null = null; ;) {
      const some = room.after(seq, 2);
      if (some.length === 0) break;
      got.push(...some.map(({ text }) => text));
      seq = some.at(-1)!.seq;
    }
    expect(got).toEqual(['m0', 'm1', 'm3', 'm4', 'm5', 'm6', 'm2 again']);
  });

  it('has no text any more of what was taken back, and shows nobody what is private or hidden', () => {
    const room = new ChatRoom();
    const kept = room.write(ilse, 'stays');
    const back = room.write(ilse, 'a slip');
    const hidden = room.write(ilse, 'rude');
    const asked = room.write(ilse, 'my order number is 7', null, 'private');
    const answer = room.write({ id: 'owner', name: 'House', owner: true }, 'thank you', asked.id);
    room.change(back.id, null);
    room.hide(hidden.id, true);
    expect(answer.kind).toBe('private');
    expect(room.seen.map(({ id }) => id)).toEqual([kept.id]);
    expect(room.all().find(({ id }) => id === back.id)).toEqual(
      jasmine.objectContaining({ text: '', deleted: true }),
    );
    expect(room.change('7', 'no')).toBeNull();
    expect(room.hide('7', true)).toBeNull();
  });
});
