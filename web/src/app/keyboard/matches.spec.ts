import { isCharacterKey, isShortcut, type PressedKey } from './matches';

describe('a shortcut', () => {
  const none = { shiftKey: false, ctrlKey: false, altKey: false, metaKey: false };
  const cases: [string, string, Partial<PressedKey>, boolean][] = [
    ['x', 'the letter', { key: 'x', code: 'KeyX' }, true],
    ['x', 'with Caps Lock', { key: 'X', code: 'KeyX' }, true],
    ['x', 'with Shift and Caps Lock', { key: 'x', code: 'KeyX', shiftKey: true }, false],
    ['x', 'on a Cyrillic keyboard', { key: 'ч', code: 'KeyX' }, true],
    ['x', 'on a Greek keyboard', { key: 'χ', code: 'KeyX' }, true],
    ['x', 'where a Latin keyboard has it elsewhere', { key: 'x', code: 'KeyB' }, true],
    ['x', 'at its place, where another letter stands', { key: 'q', code: 'KeyX' }, false],
    ['x', 'with Ctrl, which cuts', { key: 'x', code: 'KeyX', ctrlKey: true }, false],
    ['x', 'with the system’s key', { key: 'x', code: 'KeyX', metaKey: true }, false],
    ['Alt+X', 'with Alt', { key: 'x', code: 'KeyX', altKey: true }, true],
    ['Alt+X', 'with Alt, where that writes a sign', { key: '≈', code: 'KeyX', altKey: true }, true],
    ['Alt+X', 'without Alt', { key: 'x', code: 'KeyX' }, false],
    ['1', 'the digit', { key: '1', code: 'Digit1' }, true],
    ['1', 'on a French keyboard', { key: '&', code: 'Digit1' }, true],
    ['1', 'on the number pad', { key: '1', code: 'Numpad1' }, true],
    ['Shift+1', 'with Shift', { key: '!', code: 'Digit1', shiftKey: true }, true],
    ['Shift+1', 'without', { key: '1', code: 'Digit1' }, false],
    ['Alt+Shift+1', 'with both', { key: '⁄', code: 'Digit1', shiftKey: true, altKey: true }, true],
    ['Alt+Shift+1', 'with Shift alone', { key: '!', code: 'Digit1', shiftKey: true }, false],
    ['Shift+1', 'with Alt as well', { key: '!', code: 'Digit1', shiftKey: true, altKey: true }, false],
    ['Shift+E', 'with Shift', { key: 'E', code: 'KeyE', shiftKey: true }, true],
    ['?', 'with its Shift', { key: '?', code: 'Slash', shiftKey: true }, true],
    ['?', 'on a German keyboard', { key: '?', code: 'Minus', shiftKey: true }, true],
    ['ArrowUp', 'the key', { key: 'ArrowUp', code: 'ArrowUp' }, true],
    ['F6', 'with Shift', { key: 'F6', code: 'F6', shiftKey: true }, false],
    ['Shift+F6', 'with Shift', { key: 'F6', code: 'F6', shiftKey: true }, true],
  ];
  for (const [name, what, pressed, wanted] of cases) {
    it(`${name} is ${wanted ? '' : 'not '}meant ${what}`, () =>
      expect(isShortcut(name, { ...none, key: '', code: '', ...pressed })).toBe(wanted));
  }
});

describe('a character key', () => {
  for (const name of ['x', '7', '?', 'Shift+0', 'Shift+E'])
    it(`is ${name}`, () => expect(isCharacterKey(name)).toBeTrue());
  for (const name of ['Alt+X', 'Alt+Shift+1', 'F6', 'Shift+F6', 'Escape', 'ArrowUp'])
    it(`is not ${name}`, () => expect(isCharacterKey(name)).toBeFalse());
});
