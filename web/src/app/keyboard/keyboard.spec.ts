import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Keyboard, type Shortcut } from './keyboard';

describe('the keyboard', () => {
  let done: string[];
  let isBehindDialog: boolean;
  let end: () => void;
  let host: HTMLElement;

  beforeEach(() => {
    done = [];
    isBehindDialog = false;
    host = document.createElement('div');
    host.innerHTML =
      '<button>b</button><input><select><option>x</option></select><input type="checkbox"><div class="dialog"><button>d</button></div>';
    // As a dialog does that keeps its keys to itself.
    host.querySelector('.dialog')!.addEventListener('keydown', (event) => event.stopPropagation());
    document.body.append(host);
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: NgbModal, useValue: { hasOpenModals: () => isBehindDialog } },
      ],
    });
    const shortcut = (name: string, keys: string[], more: Partial<Shortcut> = {}): Shortcut => ({
      keys,
      act: () => done.push(name),
      ...more,
    });
    end = TestBed.inject(Keyboard).add(
      shortcut('cover', ['x', 'Alt+X'], { reach: 'always' }),
      shortcut('start all', ['Shift+0']),
      shortcut('next', ['ArrowDown'], { repeats: true }),
      shortcut('off', ['o'], { isOn: () => false }),
    );
  });
  afterEach(() => {
    host.remove();
    localStorage.removeItem('juncta.character-keys');
  });

  const press = (selector: string, init: KeyboardEventInit): KeyboardEvent => {
    const event = new KeyboardEvent('keydown', { bubbles: true, cancelable: true, composed: true, ...init });
    host.querySelector(selector)!.dispatchEvent(event);
    return event;
  };
  const x = { key: 'x', code: 'KeyX' };
  const startAll = { key: ')', code: 'Digit0', shiftKey: true };

  it('covers with a dialog open, in a list and on a box, and once for each press', () => {
    isBehindDialog = true;
    expect(press('.dialog button', x).defaultPrevented).toBeTrue();
    press('select', x);
    press('[type=checkbox]', { ...x, key: 'X' });
    press('button', { ...x, repeat: true });
    expect(done).toEqual(['cover', 'cover', 'cover']);
  });

  it('does nothing at a character once that is switched off, in this browser, and covers by the chord', () => {
    const keyboard = TestBed.inject(Keyboard);
    keyboard.setCharacterKeys(false);
    press('button', x);
    press('button', startAll);
    press('button', { ...x, altKey: true });
    press('button', { key: 'ArrowDown', code: 'ArrowDown' });
    expect(done).toEqual(['cover', 'next']);
    expect(localStorage.getItem('juncta.character-keys')).toBe('off');
    keyboard.setCharacterKeys(true);
    press('button', startAll);
    expect(done).toEqual(['cover', 'next', 'start all']);
  });

  it('leaves a letter to whoever types, and covers by the chord', () => {
    expect(press('input', x).defaultPrevented).toBeFalse();
    press('input', { ...x, altKey: true });
    expect(done).toEqual(['cover']);
  });

  it('does nothing else behind a dialog or while somebody types or chooses', () => {
    press('button', startAll);
    isBehindDialog = true;
    press('button', startAll);
    isBehindDialog = false;
    press('input', startAll);
    press('select', startAll);
    expect(done).toEqual(['start all']);
  });

  it('does nothing with keys of an input method, or with what is off', () => {
    press('button', { ...x, isComposing: true });
    expect(press('button', { key: 'o', code: 'KeyO' }).defaultPrevented).toBeFalse();
    expect(done).toEqual([]);
  });

  it('repeats only what may be repeated, and forgets what has gone', () => {
    press('button', { key: 'ArrowDown', code: 'ArrowDown', repeat: true });
    press('button', { ...startAll, repeat: true });
    end();
    press('button', x);
    expect(done).toEqual(['next']);
  });
});
