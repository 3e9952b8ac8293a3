/** What of a key event tells which shortcut is meant. */
export type PressedKey = Pick<KeyboardEvent, 'key' | 'code' | 'shiftKey' | 'ctrlKey' | 'altKey' | 'metaKey'>;

const LATIN_LETTER = /^[a-z]$/i;

/**
 * Whether a key event is the shortcut of this name: `x`, `7`, `Shift+E`, `Alt+X`, `?`, `ArrowUp`, `F6`, `Escape`.
 *
 * A letter is the one that stands on the key, with Caps Lock or without; where the keyboard writes another script it is the
 * key at its place on a Latin one. A digit is the key at its place, since with Shift, and on some keyboards without, it
 * writes something else. Modifiers have to be the named ones and no others; those of a character like `?` are its own.
 */
export function isShortcut(name: string, pressed: PressedKey): boolean {
  const parts = name.length === 1 ? [name] : name.split('+');
  const key = parts.pop()!;
  const wants = (modifier: string) => parts.includes(modifier);
  const isCharacter = key.length === 1 && !/^[a-z0-9]$/i.test(key);
  if (pressed.ctrlKey !== wants('Ctrl') || pressed.altKey !== wants('Alt') || pressed.metaKey) return false;
  if (isCharacter) return pressed.key === key;
  if (pressed.shiftKey !== wants('Shift')) return false;
  if (LATIN_LETTER.test(key)) {
    const letter = key.toLowerCase();
    // With Alt some keyboards write signs: then it is the key's place that counts.
    return LATIN_LETTER.test(pressed.key)
      ? pressed.key.toLowerCase() === letter
      : pressed.code === `Key${letter.toUpperCase()}`;
  }
  if (/^\d$/.test(key)) return pressed.code === `Digit${key}` || pressed.code === `Numpad${key}`;
  return pressed.key === key;
}

/** Whether a shortcut of this name writes something where one types: a letter, digit or sign, with Shift or without. */
export function isCharacterKey(name: string): boolean {
  return name.length === 1 || /^Shift\+.$/.test(name);
}
