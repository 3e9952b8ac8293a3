/** Kinds of inputs that take no text: a letter pressed there means a shortcut. */
const NOT_TEXT = ['button', 'checkbox', 'color', 'file', 'image', 'radio', 'range', 'reset', 'submit'];

/**
 * Whether a key goes into a field, so that it must not be taken for a shortcut.
 *
 * `text`: it is written there; `choice`: a list goes to the entry that begins with it; null: neither.
 */
export function typingIn(event: KeyboardEvent): 'text' | 'choice' | null {
  const target = event.composedPath()[0];
  if (!(target instanceof HTMLElement)) return null;
  if (target instanceof HTMLSelectElement) return 'choice';
  if (target instanceof HTMLInputElement) return NOT_TEXT.includes(target.type) ? null : 'text';
  return target.isContentEditable || target instanceof HTMLTextAreaElement ? 'text' : null;
}
