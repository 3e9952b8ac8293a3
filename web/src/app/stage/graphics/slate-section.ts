import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { SLATES } from '@juncta/core/stage';
import { Key } from '../../look/keys/key';
import { ShowDrawing } from '../dressed/show-drawing';
import { StageLink } from '../stage-link';
import { graphicsTexts } from './graphics.texts';

/** Chooses which slate viewers see while there is no picture, and says what is on it. */
@Component({
  selector: 'jn-slate-section',
  imports: [Key],
  template: `
    <h4 id="graphics-slate">{{ texts.slate }}</h4>
    <p class="soft">{{ texts.slateText }}</p>
    <div class="keys" role="group" aria-labelledby="graphics-slate">
      @for (one of slates; track one) {
        <button
          jnKey
          type="button"
          [lamp]="slate() === one ? 'lit' : 'dark'"
          [attr.aria-pressed]="slate() === one"
          (click)="stage.do({ type: 'slate', slate: one })"
        >
          {{ texts.slates[one] }}
        </button>
      }
    </div>
    <p role="status">{{ texts.slateReads(words()) }}</p>
  `,
  styleUrl: './graphics-section.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SlateSection {
  protected readonly stage = inject(StageLink);
  private readonly drawing = inject(ShowDrawing);
  protected readonly texts = graphicsTexts;
  protected readonly slates = SLATES;
  protected readonly slate = computed(() => this.stage.stage().slate);
  protected readonly words = computed(() => this.drawing.dressing().slates[this.slate()]);
}
