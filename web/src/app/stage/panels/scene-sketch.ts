import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { overlaysOn } from '@juncta/core/dressing';
import {
  CHAT_LAYER,
  CLOCK_LAYER,
  geometry,
  LINK_LAYER,
  nameOf,
  NO_GRAPHICS,
  PRODUCT_LAYER,
  PROGRAMME,
  SCORE_LAYER,
  TICKER_LAYER,
  withGraphics,
  type Graphics,
  type Scene,
  type SourceId,
} from '@juncta/core/stage';
import { graphicsTexts } from '../graphics/graphics.texts';
import { stageTexts } from '../stage.texts';
import { ShowDrawing } from '../dressed/show-drawing';
import { wordsOf } from './source-words';

/** Names of people go without saying. */
const graphicsWords: Readonly<Partial<Record<SourceId, string>>> = {
  [TICKER_LAYER]: graphicsTexts.ticker,
  [CLOCK_LAYER]: graphicsTexts.clock,
  [SCORE_LAYER]: graphicsTexts.score,
  [CHAT_LAYER]: graphicsTexts.chat,
  [LINK_LAYER]: graphicsTexts.link,
  [PRODUCT_LAYER]: graphicsTexts.product,
};

/** A scene as a drawing of where everybody stands: for desks to which its pictures do not come. */
@Component({
  selector: 'jn-scene-sketch',
  template: `
    <svg [attr.viewBox]="'0 0 ' + size.width + ' ' + size.height" role="img" [attr.aria-label]="label()">
      @for (one of places(); track one.source) {
        <rect
          [attr.x]="one.rect.x"
          [attr.y]="one.rect.y"
          [attr.width]="one.rect.width"
          [attr.height]="one.rect.height"
        />
        <text
          [attr.x]="one.rect.x + one.rect.width / 2"
          [attr.y]="one.rect.y + one.rect.height / 2"
          [attr.font-size]="one.fontSize"
        >
          {{ one.words }}
        </text>
      }
    </svg>
  `,
  styles: `
    :host {
      display: block;
      background: var(--ground);
    }
    svg {
      display: block;
      width: 100%;
    }
    rect {
      fill: var(--raised);
      stroke: var(--edge);
      stroke-width: 4;
    }
    text {
      fill: var(--text);
      font-family: var(--label-face);
      font-weight: 600;
      text-anchor: middle;
      dominant-baseline: middle;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SceneSketch {
  private readonly drawing = inject(ShowDrawing);
  readonly scene = input.required<Scene>();
  /** Of the people of the show, by their ids in it. */
  readonly names = input.required<ReadonlyMap<string, string>>();
  /** What the drawing is of. */
  readonly of = input.required<string>();

  /** What the desk puts over it. */
  readonly graphics = input<Graphics>(NO_GRAPHICS);

  protected readonly size = PROGRAMME;
  protected readonly places = computed(() =>
    geometry(withGraphics(this.scene(), this.graphics()), PROGRAMME, this.drawing.space()).flatMap(
      ({ source, rect }) => {
        const { kind, owner, number } = nameOf(source);
        const isFirst = kind === 'camera' && number === 1;
        const words =
          kind === 'overlay'
            ? graphicsWords[source]
            : ((isFirst ? this.names().get(owner) : null) ?? wordsOf(source, this.names()));
        if (words === undefined) return [];
        // Wide enough for most names; a letter is about half as wide as it is high.
        const fontSize = Math.min(
          64,
          rect.height / (kind === 'overlay' ? 1.6 : 4),
          (rect.width / Math.max(1, words.length)) * 1.9,
        );
        return [{ source, rect, words, fontSize }];
      },
    ),
  );
  protected readonly label = computed(() => {
    // What is laid over the picture may fill it: it is said, and hides nobody.
    const laid = overlaysOn(this.drawing.dressing(), this.graphics().overlays);
    const names = [...this.places().map(({ words }) => words), ...laid.map(({ name }) => name)];
    return `${this.of()}: ${names.length > 0 ? names.join(', ') : stageTexts.nobody}`;
  });
}
