import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Key } from '../../look/keys/key';
import { ShowDrawing } from '../dressed/show-drawing';
import { StageLink } from '../stage-link';
import { graphicsTexts } from './graphics.texts';

/** Brings the overlays of the show's dressing onto the picture, and takes them off. */
@Component({
  selector: 'jn-overlays-section',
  imports: [Key, RouterLink],
  template: `
    <h4 id="graphics-overlays">{{ texts.overlays }}</h4>
    @for (overlay of overlays(); track overlay.id) {
      <div class="row">
        <span>{{ overlay.name }}</span>
        <button
          jnKey
          type="button"
          [lamp]="isOn(overlay.id) ? 'lit' : 'dark'"
          [attr.aria-label]="texts.toggle(isOn(overlay.id), overlay.name)"
          (click)="turn(overlay.id)"
        >
          {{ isOn(overlay.id) ? texts.off : texts.on }}
        </button>
      </div>
    } @empty {
      <p class="soft">{{ texts.noOverlays }}</p>
    }
    @if (mayPlan()) {
      <a routerLink="/dressing" target="_blank">{{ texts.overlaysFrom }}</a>
    }
  `,
  styleUrl: './graphics-section.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OverlaysSection {
  private readonly stage = inject(StageLink);
  private readonly drawing = inject(ShowDrawing);
  protected readonly texts = graphicsTexts;

  readonly mayPlan = input.required<boolean>();
  protected readonly overlays = computed(() => this.drawing.dressing().overlays);

  protected isOn(id: string): boolean {
    return this.stage.stage().graphics.overlays.includes(id);
  }

  protected turn(id: string): void {
    this.stage.do({ type: 'graphics', change: { type: 'overlay', id, isOn: !this.isOn(id) } });
  }
}
