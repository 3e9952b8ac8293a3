import { ChangeDetectionStrategy, Component, input, signal } from '@angular/core';
import { Key } from './key';

/** Copies a text, and says that it did. */
@Component({
  selector: 'jn-copy-key',
  imports: [Key],
  template: `
    <button jnKey type="button" [lamp]="copied() ? 'lit' : 'dark'" (click)="copy()">
      {{ copied() ? doneLabel() : label() }}
    </button>
    <span class="visually-hidden" role="status">{{ copied() ? doneLabel() : '' }}</span>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CopyKey {
  readonly text = input.required<string>();
  readonly label = input.required<string>();
  readonly doneLabel = input.required<string>();

  protected readonly copied = signal(false);

  protected async copy(): Promise<void> {
    await navigator.clipboard.writeText(this.text());
    this.copied.set(true);
  }
}
