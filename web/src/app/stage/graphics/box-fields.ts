import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { Destination } from '@juncta/contract/destinations';
import {
  BOX_GROUNDS,
  BOX_SIDES,
  BOX_SIZES,
  MOST_BOX_DELAY_S,
  MOST_IN_BOX,
  type ChatBox,
} from '@juncta/core/stage';
import { graphicsTexts } from './graphics.texts';

/** How viewers' messages are shown, wherever they are. */
export type BoxSettings = Omit<ChatBox, 'isOn'>;

/** What of a box is chosen among a few. */
interface BoxChoice {
  readonly of: 'side' | 'size' | 'ground' | 'most' | 'delayS' | 'staysS';
  readonly name: string;
  readonly values: readonly (string | number | null)[];
  readonly words: (value: string | number | null) => string;
}

function choice<K extends BoxChoice['of']>(
  of: K,
  name: string,
  values: readonly ChatBox[K][],
  words: (value: ChatBox[K]) => string,
): BoxChoice {
  return { of, name, values, words: words as BoxChoice['words'] };
}

const CHOICES: readonly BoxChoice[] = [
  choice('side', graphicsTexts.boxSide, BOX_SIDES, (side) => graphicsTexts.sides[side]),
  choice('size', graphicsTexts.boxSize, BOX_SIZES, (size) => graphicsTexts.sizes[size]),
  choice('ground', graphicsTexts.boxGround, BOX_GROUNDS, (ground) => graphicsTexts.grounds[ground]),
  choice('most', graphicsTexts.boxMost, [1, 2, 3, 4, 5, 6, 7, MOST_IN_BOX], String),
  choice('delayS', graphicsTexts.boxDelay, [0, 3, 5, 10, 20, 30, MOST_BOX_DELAY_S], graphicsTexts.seconds),
  choice('staysS', graphicsTexts.boxStays, [10, 20, 30, 60, 120, null], (seconds) =>
    seconds === null ? graphicsTexts.staysOn : graphicsTexts.seconds(seconds),
  ),
];

/** How viewers' messages look, how long they are seen, and whose they are. */
@Component({
  selector: 'jn-box-fields',
  templateUrl: './box-fields.html',
  styleUrl: './box-fields.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BoxFields {
  protected readonly texts = graphicsTexts;
  protected readonly choices = CHOICES;

  readonly box = input.required<BoxSettings>();
  /** Whose viewers can be left out. */
  readonly destinations = input.required<readonly Pick<Destination, 'id' | 'name'>[]>();
  readonly changed = output<Partial<BoxSettings>>();

  protected choose({ of, values }: BoxChoice, at: number): void {
    this.changed.emit({ [of]: values[at] });
  }

  protected takeFrom(destinationId: string, isTaken: boolean): void {
    const others = this.box().leftOut.filter((id) => id !== destinationId);
    this.changed.emit({ leftOut: isTaken ? others : [...others, destinationId] });
  }
}
