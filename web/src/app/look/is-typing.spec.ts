import { isTyping } from './is-typing';

describe('isTyping', () => {
  const pressedIn = (html: string): boolean => {
    const place = document.createElement('div');
    place.innerHTML = html;
    document.body.append(place);
    let typing = false;
    place.addEventListener('keydown', (event) => (typing = isTyping(event)));
    place.firstElementChild!.dispatchEvent(new KeyboardEvent('keydown', { key: 'p', bubbles: true }));
    place.remove();
    return typing;
  };

  for (const field of ['<input>', '<textarea></textarea>', '<select></select>', '<p contenteditable>x</p>']) {
    it(`is true in ${field}`, () => expect(pressedIn(field)).toBeTrue());
  }
  for (const other of ['<button>x</button>', '<a href="#">x</a>', '<p>x</p>']) {
    it(`is false on ${other}`, () => expect(pressedIn(other)).toBeFalse());
  }
});
