import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { overlaysOn } from '@juncta/core/dressing';
import { isAnyGraphicOn } from '@juncta/core/stage';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { ShowDrawing } from '../dressed/show-drawing';
import { ARM_KEY, GRAPHICS_KEY, TAKE_KEY } from '../desk-keys';
import { OpenPanel } from '../open-panel';
import { StageLink } from '../stage-link';
import { refusedSentences, stageTexts } from '../stage.texts';

/** Lengths of a mix to choose from, ms; 0 is a cut. */
const LENGTHS_MS = [0, 200, 400, 800, 1500];

/** What comes next is prepared, taken, or dropped. */
@Component({
  selector: 'jn-take-keys',
  imports: [Key, Notice],
  template: `
    @if (stage.isArmed()) {
      <button jnKey type="button" [first]="true" [shortcut]="takeKey" (click)="stage.take()">
        {{ texts.take }}
      </button>
    }
    <button
      jnKey
      type="button"
      [shortcut]="armKey"
      [title]="stage.isArmed() ? texts.dropNextText : texts.prepareText"
      (click)="stage.arm(!stage.isArmed())"
    >
      {{ stage.isArmed() ? texts.dropNext : texts.prepare }}
    </button>
    @if (stage.isArmed()) {
      <label>
        <span class="soft">{{ texts.takeBy }}</span>
        <select #by class="input" (change)="setLength(+by.value)">
          @for (ms of lengths; track ms) {
            <option [value]="ms" [selected]="ms === length()">{{ texts.mix(ms) }}</option>
          }
        </select>
      </label>
    }
    <button
      jnKey
      type="button"
      class="graphics"
      [lamp]="graphicsOn() ? 'lit' : 'dark'"
      [shortcut]="graphicsKey"
      [title]="texts.graphicsText"
      [attr.aria-expanded]="graphicsOpen()"
      (click)="panel.content.set(graphicsOpen() ? null : { of: 'graphics' })"
    >
      {{ texts.graphics }}
    </button>
    @if (sentence(); as sentence) {
      <jn-notice kind="wrong">{{ sentence }}</jn-notice>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-2);
    }
    label {
      display: flex;
      gap: var(--space-1);
      align-items: center;
    }
    select {
      width: auto;
    }
    .graphics {
      margin-left: auto;
    }
    jn-notice {
      flex-basis: 100%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TakeKeys {
  protected readonly stage = inject(StageLink);
  protected readonly texts = stageTexts;
  protected readonly lengths = LENGTHS_MS;
  protected readonly takeKey = TAKE_KEY.toUpperCase();
  protected readonly armKey = ARM_KEY.toUpperCase();
  protected readonly graphicsKey = GRAPHICS_KEY.toUpperCase();
  protected readonly panel = inject(OpenPanel);
  protected readonly graphicsOpen = computed(() => this.panel.content()?.of === 'graphics');
  private readonly drawing = inject(ShowDrawing);
  protected readonly graphicsOn = computed(() => {
    const { graphics } = this.stage.stage();
    // One that the dressing does not have any more is seen by nobody, and cannot be taken off.
    const laid = overlaysOn(this.drawing.dressing(), graphics.overlays);
    return isAnyGraphicOn({ ...graphics, overlays: laid.map(({ id }) => id) });
  });
  protected readonly length = computed(() => {
    const { kind, ms } = this.stage.stage().transition;
    return kind === 'cut' ? 0 : ms;
  });
  protected readonly sentence = computed(() => {
    const refused = this.stage.refused();
    if (refused === null) return null;
    return typeof refused === 'string' ? refusedSentences[refused] : (refused satisfies ErrorBody).sentence;
  });

  protected setLength(ms: number): void {
    const { transition } = this.stage.stage();
    this.stage.do({
      type: 'transition',
      transition: ms === 0 ? { ...transition, kind: 'cut' } : { kind: 'mix', ms },
    });
  }
}
