/** Kinds of inputs that take no text: a letter pressed there means a shortcut. */
const NOT_TEXT = ['button', 'checkbox', 'color', 'file', 'image', 'radio', 'reset', 'submit'];

/**
 * Whether a key goes into a field, so that it must not be taken for a shortcut.
 *
 * `text`: it is written there; `choice`: it chooses in a list or moves a slider; null: neither.
 */
export function typingIn(event: KeyboardEvent): 'text' | 'choice' | null {
  const target = event.composedPath()[0];
  if (!(target instanceof HTMLElement)) return null;
  if (target instanceof HTMLSelectElement) return 'choice';
  // Its arrows move it.
  if (target instanceof HTMLInputElement && target.type === 'range') return 'choice';
  if (target instanceof HTMLInputElement) return NOT_TEXT.includes(target.type) ? null : 'text';
  return target.isContentEditable || target instanceof HTMLTextAreaElement ? 'text' : null;
}
