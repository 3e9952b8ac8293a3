import { ChangeDetectionStrategy, Component, DestroyRef, effect, inject, input, output } from '@angular/core';
import { Keyboard } from '../../keyboard/keyboard';
import { Arming } from './arming';
import { Key } from './key';

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
})
export class ArmedKey {
  readonly label = input.required<string>();
  readonly armedLabel = input.required<string>();
  /** What a screen reader calls it, where the label alone would not tell it from its neighbours. */
  readonly name = input<string>();
  readonly disabled = input(false);
  /** `Shift+` and a digit or letter: arms and does it too, from anywhere on the page where nobody types. */
  readonly shortcut = input<string | null>(null);
  /** The first press only asks elsewhere: something speaks against it. */
  readonly asksFirst = input(false);
  readonly asked = output();
  readonly fired = output();

  private readonly arming = new Arming();
  protected readonly armed = this.arming.armed;

  constructor() {
    const destroyed = inject(DestroyRef);
    destroyed.onDestroy(() => this.disarm());
    const keyboard = inject(Keyboard);
    // Wherever the focus is: it may have been armed from anywhere.
    destroyed.onDestroy(
      keyboard.add({ keys: ['Escape'], act: () => this.disarm(), isOn: () => this.armed() }),
    );
    effect((onCleanup) => {
      const shortcut = this.shortcut();
      if (shortcut === null) return;
      const isOn = () => !this.disabled();
      onCleanup(keyboard.add({ keys: [shortcut], act: () => this.press(), isOn }));
    });
  }

  protected press(): void {
    if (!this.armed() && this.asksFirst()) {
      this.asked.emit();
      return;
    }
    if (this.arming.press()) this.fired.emit();
  }

  protected disarm(): void {
    this.arming.disarm();
  }
}
