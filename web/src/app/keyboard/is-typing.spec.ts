import { typingIn } from './is-typing';

describe('a key that is pressed', () => {
  const pressedIn = (html: string) => {
    const place = document.createElement('div');
    place.innerHTML = html;
    document.body.append(place);
    let typing = null as ReturnType<typeof typingIn>;
    place.addEventListener('keydown', (event) => (typing = typingIn(event)));
    place.firstElementChild!.dispatchEvent(new KeyboardEvent('keydown', { key: 'p', bubbles: true }));
    place.remove();
    return typing;
  };

  const cases: [string, ReturnType<typeof typingIn>][] = [
    ['<input>', 'text'],
    ['<input type="number">', 'text'],
    ['<textarea></textarea>', 'text'],
    ['<p contenteditable>x</p>', 'text'],
    ['<select></select>', 'choice'],
    ['<input type="checkbox">', null],
    ['<input type="range">', 'choice'],
    ['<button>x</button>', null],
    ['<a href="#">x</a>', null],
    ['<p>x</p>', null],
  ];
  for (const [html, where] of cases) {
    it(`in ${html} goes into ${where ?? 'nothing'}`, () => expect(pressedIn(html)).toBe(where));
  }
});
