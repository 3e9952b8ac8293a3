import type { ChatMessage } from '@juncta/contract/chat';
import { NO_GRAPHICS, type Notices } from '@juncta/core/stage';
import { message } from '../../testing/chat';
import { NoticesInPicture } from './notices-in-picture';

describe('followers and sales on the composed programme', () => {
  let setting: Notices;
  let shown: (string | null)[];
  let notices: NoticesInPicture;
  let pass: (ms: number) => void;
  beforeEach(() => {
    let nowMs = 0;
    spyOn(performance, 'now').and.callFake(() => nowMs);
    pass = (ms) => {
      nowMs += ms;
      notices.update();
    };
    setting = { ...NO_GRAPHICS.notices, isOn: true, staysS: 4 };
    shown = [];
    notices = new NoticesInPicture({
      notices: () => setting,
      placeOf: () => 'Emberplay',
      show: (notice) => shown.push(notice && `${notice.heading} | ${notice.text} | ${notice.forMs}`),
    });
  });
  const follows = (id: string, values: Partial<ChatMessage> = {}) => {
    const { author } = message(id);
    return message(id, { kind: 'follow', author: { ...author, name: id }, text: 'follows', ...values });
  };

  it('are said as they come, not what came before', () => {
    notices.read([follows('Before')]);
    notices.add([follows('Wren')]);
    expect(shown).toEqual(['Wren · Emberplay | follows | 4000']);
    pass(3999);
    expect(shown.length).toBe(1);
    pass(1);
    expect(shown).toEqual(['Wren · Emberplay | follows | 4000', null]);
  });

  it('are thanked in the words of the house, many at once together', () => {
    setting = { ...setting, thanks: 'Good to have you' };
    notices.read([]);
    notices.add(['Wren', 'Ottoline', 'Pascoe', 'Mattias'].map((name) => follows(name)));
    expect(shown).toEqual(['Wren, Ottoline and 2 more | Good to have you | 4000']);
    notices.add([follows('Rosalba', { kind: 'sale', text: 'bought Rye' })]);
    pass(4000);
    expect(shown.at(-1)).toBe('Rosalba · Emberplay | bought Rye · Good to have you | 4000');
  });

  it('leave at once when somebody hides them, and when they are not wanted any longer', () => {
    notices.read([]);
    notices.add([follows('Wren')]);
    notices.add([follows('Wren', { standing: 'hidden' })]);
    expect(shown.at(-1)).toBeNull();
    notices.add([follows('Ottoline')]);
    setting = { ...setting, isOn: false };
    pass(1);
    expect(shown.at(-1)).toBeNull();
    setting = { ...setting, isOn: true };
    pass(1);
    expect(shown.at(-1)).toBeNull();
  });

  it('are read again without being said again', () => {
    notices.read([]);
    notices.add([follows('Wren')]);
    pass(4000);
    notices.read([follows('Wren'), follows('Ottoline')]);
    expect(shown).toEqual([
      'Wren · Emberplay | follows | 4000',
      null,
      'Ottoline · Emberplay | follows | 4000',
    ]);
  });
});
