import { DestroyRef, DOCUMENT, inject, Injectable, signal } from '@angular/core';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { typingIn } from './is-typing';
import { isCharacterKey, isShortcut } from './matches';

export interface Shortcut {
  /** As in `isShortcut`. Several do the same. */
  readonly keys: readonly string[];
  readonly act: () => void;
  /** False: just now it does nothing, and the key is anybody's. Asked when it is pressed. */
  readonly isOn?: () => boolean;
  /** It is done again and again while the key is held. */
  readonly repeats?: boolean;
  /**
   * `page`: not behind a dialog, and not while somebody types. `always`: even then, for what cannot wait; a letter alone
   * still goes into a field that takes text, and a chord does not.
   */
  readonly reach?: 'page' | 'always';
}

/** Where this browser keeps whether characters alone do something. */
const STORED = 'juncta.character-keys';

/**
 * The one place where keys of the keyboard become what they do. It listens before anything on the page does, so that no
 * dialog and no field can take the panic key away.
 */
@Injectable({ providedIn: 'root' })
export class Keyboard {
  private readonly modals = inject(NgbModal);
  private readonly shortcuts = new Set<Shortcut>();
  private readonly characters = signal(isOnHere());
  /** Whether characters alone do something, or only chords and keys that write nothing (WCAG 2.2, 2.1.4). */
  readonly characterKeys = this.characters.asReadonly();

  constructor() {
    const document = inject(DOCUMENT);
    const listen = (event: KeyboardEvent) => this.press(event);
    document.addEventListener('keydown', listen, { capture: true });
    inject(DestroyRef).onDestroy(() => document.removeEventListener('keydown', listen, { capture: true }));
  }

  /** Gives what takes them away again. */
  add(...shortcuts: readonly Shortcut[]): () => void {
    for (const shortcut of shortcuts) this.shortcuts.add(shortcut);
    return () => {
      for (const shortcut of shortcuts) this.shortcuts.delete(shortcut);
    };
  }

  setCharacterKeys(on: boolean): void {
    this.characters.set(on);
    try {
      localStorage.setItem(STORED, on ? 'on' : 'off');
    } catch {
      // Full or forbidden: it holds as long as this page.
    }
  }

  private press(event: KeyboardEvent): void {
    // An input method puts a character together: no key of it is meant for us.
    if (event.isComposing) return;
    const typing = typingIn(event);
    const isBehind = this.modals.hasOpenModals();
    for (const { keys, act, isOn, repeats = false, reach = 'page' } of [...this.shortcuts]) {
      const key = keys.find((one) => isShortcut(one, event));
      if (key === undefined || (event.repeat && !repeats)) continue;
      if (reach === 'page' && (isBehind || typing !== null)) continue;
      if (reach === 'always' && typing === 'text' && !key.includes('+')) continue;
      if (isCharacterKey(key) && !this.characters()) continue;
      if (isOn && !isOn()) continue;
      event.preventDefault();
      act();
    }
  }
}

function isOnHere(): boolean {
  try {
    return localStorage.getItem(STORED) !== 'off';
  } catch {
    return true;
  }
}
