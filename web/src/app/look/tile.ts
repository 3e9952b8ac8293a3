import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { TilePattern } from '@juncta/core/destinations';

/** A destination's tile: two letters on a pattern. The same on the board, in the wrap and beside its messages. */
@Component({
  selector: 'jn-tile',
  template: `<span class="figure">{{ letters() }}</span>`,
  styleUrl: './tile.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '[attr.data-pattern]': 'pattern()', role: 'img', '[attr.aria-label]': 'name()' },
})
export class Tile {
  /** Two letters or figures; what is longer is cut. */
  readonly code = input.required<string>();
  readonly pattern = input<TilePattern>('plain');
  /** The destination's name, for whoever does not see the tile. */
  readonly name = input.required<string>();

  protected readonly letters = computed(() => this.code().slice(0, 2).toUpperCase());
}
