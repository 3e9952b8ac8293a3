import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** What the lamp of a key shows. `tally` is red and means on air; nothing else is red. */
export type Lamp = 'dark' | 'lit' | 'working' | 'armed' | 'tally';

/**
 * A lamp key: a rectangular key with a lamp along its upper edge. An attribute on a button or a link, so that it
 * stays one to keyboards and screen readers. What the lamp says is said in words too: `says`.
 */
@Component({
  // eslint-disable-next-line @angular-eslint/component-selector -- an attribute keeps the native button and link
  selector: 'button[jnKey], a[jnKey]',
  template: `
    <span class="lamp" aria-hidden="true"></span>
    <span class="words"><ng-content /></span>
    @if (says()) {
      <span class="says figure">{{ says() }}</span>
    }
    @if (shortcut()) {
      <kbd
        class="figure"
        aria-hidden="true"
        [attr.data-key]="shortcut()!.replace('Alt+', 'Alt ').replace('Shift+', '⇧')"
      ></kbd>
    }
  `,
  styleUrl: './key.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: {
    '[attr.data-lamp]': 'lamp()',
    '[class.first]': 'first()',
    '[attr.aria-keyshortcuts]': 'shortcut()',
  },
})
export class Key {
  readonly lamp = input<Lamp>('dark');
  /** What the lamp means, in a word or two; empty where the key has no state. */
  readonly says = input('');
  /** The key of the keyboard that does the same. */
  readonly shortcut = input<string | null>(null);
  /** The one thing to do here. */
  readonly first = input(false);
}
