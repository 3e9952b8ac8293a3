import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { Key } from '../../look/keys/key';
import { graphicsTexts } from './graphics.texts';

/** Names one of the graphics, and brings it onto the picture or takes it off. */
@Component({
  selector: 'jn-graphic-head',
  imports: [Key],
  template: `
    <h4 [id]="headingId()">{{ name() }}</h4>
    <button
      jnKey
      type="button"
      [lamp]="isOn() ? 'lit' : 'dark'"
      [attr.aria-label]="texts.toggle(isOn(), name())"
      (click)="turned.emit(!isOn())"
    >
      {{ isOn() ? texts.off : texts.on }}
    </button>
  `,
  styles: `
    :host {
      display: flex;
      gap: var(--space-2);
      align-items: center;
      justify-content: space-between;
    }
    h4 {
      margin: 0;
      font-size: 1rem;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GraphicHead {
  protected readonly texts = graphicsTexts;

  readonly headingId = input.required<string>();
  readonly name = input.required<string>();
  readonly isOn = input.required<boolean>();
  /** On or off, as it is wanted from now on. */
  readonly turned = output<boolean>();
}
