import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { SlotWindow } from '@juncta/core/schedule';
import { TimeFormat } from '../../clock/time-format';
import { listingTexts } from '../listings.texts';

/** The slot stands here, in per cent: what goes before it is days, what comes after it is minutes. */
const SLOT_AT = 58;

/**
 * The windows of one slot at one place, drawn: when it can be booked, the slot, the show, and when the place gives up.
 * The same is said in words for whoever does not see it.
 */
@Component({
  selector: 'jn-windows-line',
  template: `
    <svg viewBox="0 0 100 20" preserveAspectRatio="none" aria-hidden="true">
      <path class="axis" d="M0 14H100" />
      @if (drawn().booking; as bar) {
        <rect class="bookable" [attr.x]="bar.from" y="8" [attr.width]="bar.width" height="6" />
      }
      @if (drawn().show; as bar) {
        <rect class="show" [attr.x]="bar.from" y="4" [attr.width]="bar.width" height="10" />
      }
      @if (drawn().now; as x) {
        <path class="now" [attr.d]="'M' + x + ' 0V20'" />
      }
      <path class="slot" [attr.d]="'M' + slotAt + ' 2V20'" />
      @if (drawn().lapse; as x) {
        <path class="lapse" [attr.d]="'M' + x + ' 2V20'" />
      }
    </svg>
    <span class="words">{{ words() }}</span>
  `,
  styles: `
    :host {
      display: block;
      min-width: 13rem;
    }
    svg {
      display: block;
      width: 100%;
      height: 1.25rem;
    }
    path {
      fill: none;
      stroke-width: 1;
      vector-effect: non-scaling-stroke;
    }
    .axis {
      stroke: var(--rule);
    }
    .bookable {
      fill: var(--saffron);
    }
    .show {
      fill: none;
      stroke: var(--text);
      stroke-width: 1.5;
      vector-effect: non-scaling-stroke;
    }
    .slot {
      stroke: var(--text);
      stroke-width: 2.5;
    }
    .now {
      stroke: var(--action);
      stroke-width: 2;
      stroke-dasharray: 3 2;
    }
    .lapse {
      stroke: var(--wrong);
      stroke-width: 2.5;
    }
    .words {
      display: block;
      font-size: 0.82rem;
      color: var(--soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WindowsLine {
  private readonly format = inject(TimeFormat);

  readonly window = input.required<SlotWindow>();
  readonly nowMs = input.required<number>();
  readonly plannedMinutes = input.required<number>();
  /** The ends of the line, the same in every row. */
  readonly fromMs = input.required<number>();
  readonly toMs = input.required<number>();
  protected readonly slotAt = SLOT_AT;

  protected readonly drawn = computed(() => {
    const { slotMs, earliestBookingMs, latestBookingMs, lapseMs } = this.window();
    const bar = (fromMs: number, toMs: number) => {
      const [from, to] = [this.percent(fromMs), this.percent(toMs)];
      return { from, width: Math.max(0, to - from) };
    };
    return {
      booking:
        earliestBookingMs === null || latestBookingMs === null || latestBookingMs < this.fromMs()
          ? null
          : bar(earliestBookingMs, latestBookingMs),
      show: bar(slotMs, slotMs + this.plannedMinutes() * 60_000),
      now: this.nowMs() > this.toMs() ? null : this.percent(this.nowMs()) + 0.5,
      lapse: lapseMs === null ? null : this.percent(lapseMs),
    };
  });

  protected readonly words = computed(() => {
    const { earliestBookingMs, latestBookingMs, lapseMs } = this.window();
    const now = this.nowMs();
    const when = (ms: number) => `${this.format.day(ms, now)} ${this.format.time(ms)}`;
    const parts: string[] = [];
    if (earliestBookingMs === null || latestBookingMs === null) parts.push(listingTexts.notBookable);
    else if (now < earliestBookingMs) parts.push(listingTexts.windowOpens(when(earliestBookingMs)));
    else parts.push(listingTexts.windowCloses(when(latestBookingMs)));
    if (lapseMs !== null) parts.push(listingTexts.lapsesAt(this.format.time(lapseMs)));
    return parts.join(' · ');
  });

  private percent(ms: number): number {
    const { slotMs } = this.window();
    const [from, to] = [this.fromMs(), this.toMs()];
    const part =
      ms <= slotMs
        ? ((ms - from) / Math.max(1, slotMs - from)) * SLOT_AT
        : SLOT_AT + ((ms - slotMs) / Math.max(1, to - slotMs)) * (100 - SLOT_AT);
    return Math.min(100, Math.max(0, part));
  }
}
