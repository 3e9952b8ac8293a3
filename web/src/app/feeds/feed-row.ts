import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { ArmedKey } from '../look/keys/armed-key';
import { StateMark } from '../look/state-mark';
import { Tile } from '../look/tile';
import type { FeedOnBoard } from './feed-rows';
import { feedSheetTexts, feedTexts } from './feeds.texts';

/** A line of the board of feeds: where it goes, how it stands, for how long and to how many, and the key that is next. */
@Component({
  selector: 'jn-feed-row',
  imports: [ArmedKey, StateMark, Tile],
  templateUrl: './feed-row.html',
  styleUrl: './feed-row.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '[class.live]': "row().mark === 'feed.on_air'" },
})
export class FeedRow {
  protected readonly texts = feedTexts;
  protected readonly sheetTexts = feedSheetTexts;

  readonly row = input.required<FeedOnBoard>();
  readonly mayRun = input.required<boolean>();
  /** The show is not over, or is to go on air once more. */
  readonly mayStart = input.required<boolean>();
  readonly busy = input.required<boolean>();
  readonly hasVideo = input.required<boolean>();
  /** It would begin on another day or at another hour than planned. */
  readonly offPlan = input.required<boolean>();

  /** Somebody wants to know more of it. */
  readonly looked = output();
  /** To be started off plan. */
  readonly asked = output();
  readonly started = output();
  readonly published = output();
  readonly stopped = output();
}
