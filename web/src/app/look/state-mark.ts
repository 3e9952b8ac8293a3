import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { FeedState } from '@juncta/core/feeds';
import type { Phase } from '@juncta/core/shows';
import type { InputState } from '@juncta/core/ingest';
import type { LISTING_STATES } from '@juncta/contract/listings';

type Shape = 'hollow' | 'half' | 'full' | 'block' | 'cross' | 'bar' | 'hand' | 'loop' | 'tick';
type Tone = 'quiet' | 'saffron' | 'tally' | 'wrong' | 'done';

/** A shape and a tone for each state; the word comes from whoever shows it. No two states share both. */
type ListingState = (typeof LISTING_STATES)[number];
const MARKS: Record<
  | `phase.${Phase}`
  | 'phase.overdue'
  | `feed.${FeedState}`
  | `listing.${ListingState}`
  | `input.${InputState}`
  | 'feed.covered'
  | 'line.good'
  | 'line.bad',
  readonly [Shape, Tone]
> = {
  'phase.plan': ['hollow', 'quiet'],
  'phase.prepare': ['half', 'quiet'],
  'phase.ready': ['full', 'saffron'],
  'phase.overdue': ['cross', 'wrong'],
  'phase.live': ['block', 'tally'],
  'phase.wrap': ['tick', 'done'],
  'feed.off': ['hollow', 'quiet'],
  'feed.dialling': ['half', 'saffron'],
  'feed.held': ['hand', 'saffron'],
  'feed.sending': ['full', 'saffron'],
  'feed.on_air': ['block', 'tally'],
  'feed.covered': ['hollow', 'saffron'],
  'feed.recovering': ['loop', 'wrong'],
  'feed.ended': ['bar', 'done'],
  'feed.failed': ['cross', 'wrong'],
  'listing.draft': ['hollow', 'quiet'],
  'listing.booked': ['full', 'saffron'],
  'listing.open': ['hand', 'saffron'],
  'listing.ending': ['half', 'saffron'],
  'listing.closed': ['bar', 'done'],
  'listing.lapsed': ['cross', 'wrong'],
  'input.nothing': ['hollow', 'quiet'],
  'input.knocking': ['cross', 'wrong'],
  'input.in_preview': ['full', 'saffron'],
  'input.as_programme': ['block', 'saffron'],
  'line.good': ['full', 'done'],
  'line.bad': ['bar', 'wrong'],
};
export type MarkedState = keyof typeof MARKS;

const PATHS: Record<Shape, string> = {
  hollow: 'M3 3h10v10H3zM5 5v6h6V5z',
  half: 'M3 3h10v10H3zM5 5v3h6V5z',
  full: 'M3 3h10v10H3z',
  block: 'M0 2h16v12H0z',
  cross: 'M8 1l8 14H0zM7 6v4h2V6zm0 5v2h2v-2z',
  bar: 'M1 6.5h14v3H1z',
  hand: 'M2 2h4v12H2zM10 2h4v12h-4z',
  loop: 'M8 2a6 6 0 1 1-5.6 4h2.2A4 4 0 1 0 8 4v3L3.5 3.5 8 0z',
  tick: 'M1 8l2-2 3 3 7-7 2 2-9 9z',
};

/** A state, said three times: by its shape, its tone, and its word. */
@Component({
  selector: 'jn-state',
  template: `
    <svg viewBox="0 0 16 16" aria-hidden="true"><path [attr.d]="path()" fill-rule="evenodd" /></svg>
    <span>{{ word() }}</span>
  `,
  styleUrl: './state-mark.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '[attr.data-tone]': 'tone()' },
})
export class StateMark {
  readonly of = input.required<MarkedState>();
  readonly word = input.required<string>();

  protected readonly path = computed(() => PATHS[MARKS[this.of()][0]]);
  protected readonly tone = computed(() => MARKS[this.of()][1]);
}
