import { ChangeDetectionStrategy, Component, DestroyRef, inject, input, output, signal } from '@angular/core';
import { isTyping } from './is-typing';
import { Key } from './key';

/** Armed and not pressed again, a key goes dark by itself: an old press must not meet a new intention. */
export const DISARM_AFTER_MS = 6000;

/**
 * A key for what cannot be called back: the first press arms it, the second does it. Escape, going elsewhere and
 * waiting disarm it.
 */
@Component({
  selector: 'jn-armed-key',
  imports: [Key],
  template: `
    <button
      jnKey
      type="button"
      [lamp]="armed() ? 'armed' : 'dark'"
      [disabled]="disabled()"
      [shortcut]="shortcut()"
      [attr.aria-label]="armed() ? armedLabel() : (name() ?? label())"
      (click)="press()"
      (blur)="disarm()"
      (keydown.escape)="disarm()"
    >
      {{ armed() ? armedLabel() : label() }}
    </button>
    <span class="visually-hidden" aria-live="assertive">{{ armed() ? armedLabel() : '' }}</span>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(document:keydown)': 'onKey($event)' },
})
export class ArmedKey {
  readonly label = input.required<string>();
  readonly armedLabel = input.required<string>();
  /** What a screen reader calls it, where the label alone would not tell it from its neighbours. */
  readonly name = input<string>();
  readonly disabled = input(false);
  /** `Shift+` and a digit or letter: arms and does it too, from anywhere on the page where nobody types. */
  readonly shortcut = input<string | null>(null);
  readonly fired = output();

  protected readonly armed = signal(false);
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    inject(DestroyRef).onDestroy(() => clearTimeout(this.timer));
  }

  protected onKey(event: KeyboardEvent): void {
    const shortcut = this.shortcut();
    if (shortcut === null || this.disabled() || event.repeat || !event.shiftKey) return;
    if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event)) return;
    // By the key's place: with Shift a digit gives whatever the keyboard's language has there.
    const pressed = event.code.replace(/^(Digit|Key)/, '');
    if (shortcut !== `Shift+${pressed}`) return;
    event.preventDefault();
    this.press();
  }

  protected press(): void {
    if (!this.armed()) {
      this.armed.set(true);
      this.timer = setTimeout(() => this.disarm(), DISARM_AFTER_MS);
      return;
    }
    this.disarm();
    this.fired.emit();
  }

  protected disarm(): void {
    clearTimeout(this.timer);
    this.armed.set(false);
  }
}
