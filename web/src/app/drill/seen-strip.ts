import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { sumUp, type Seen, type Timeline } from '@juncta/core/drill';
import { seenFor } from './drill.texts';

/** What viewers of one place saw, drawn along the time: each kind has a shade and a pattern of its own. */
@Component({
  selector: 'jn-seen-strip',
  template: `
    <div class="strip" role="img" [attr.aria-label]="told()">
      @for (run of timeline(); track $index) {
        <span [attr.data-seen]="run.seen" [style.flex-grow]="run.seconds"></span>
      }
    </div>
  `,
  styleUrl: './seen-strip.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SeenStrip {
  readonly timeline = input.required<Timeline>();

  protected readonly told = computed(() => toldOf(this.timeline()));
}

/** The sums, in words. */
export function toldOf(timeline: Timeline): string {
  const sums = Object.entries(sumUp(timeline)) as [Seen, number][];
  return sums.map(([seen, seconds]) => seenFor(seen, seconds)).join(', ');
}
