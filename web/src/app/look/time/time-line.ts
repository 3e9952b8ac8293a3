import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { TimeFormat } from '../../clock/time-format';
import type { MarkedState } from '../state-mark';

/** Something that stands at a moment of the line. */
export interface LineMark {
  readonly id: string;
  readonly atMs: number;
  /** How long it takes, in ms; 0 for a moment. */
  readonly lengthMs: number;
  readonly name: string;
  readonly state: MarkedState;
}

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** Steps between the figures under the line; the first that leaves them room is taken. */
const STEPS = [HOUR / 4, HOUR / 2, HOUR, 2 * HOUR, 6 * HOUR, DAY, 2 * DAY, 7 * DAY, 28 * DAY];
const MOST_FIGURES = 9;

/**
 * Time, drawn: from one moment to another, with now and with what stands in between. Marks can be chosen; the
 * board beneath holds the same for whoever cannot see a drawing.
 */
@Component({
  selector: 'jn-time-line',
  templateUrl: './time-line.html',
  styleUrl: './time-line.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TimeLine {
  private readonly format = inject(TimeFormat);

  readonly fromMs = input.required<number>();
  readonly toMs = input.required<number>();
  readonly nowMs = input.required<number>();
  readonly marks = input<readonly LineMark[]>([]);
  /** False: they are only drawn. */
  readonly choosable = input(true);
  readonly chosen = input<string | null>(null);
  /** What the line is of, for whoever does not see it. */
  readonly name = input.required<string>();
  readonly nowWord = input.required<string>();
  readonly choose = output<string>();

  protected readonly span = computed(() => Math.max(1, this.toMs() - this.fromMs()));
  protected readonly now = computed(() => this.percent(this.nowMs()));

  protected readonly figures = computed(() => {
    const step = STEPS.find((ms) => this.span() / ms <= MOST_FIGURES) ?? STEPS.at(-1)!;
    const first = this.roundUp(this.fromMs(), step);
    const count = Math.max(0, Math.floor((this.toMs() - first) / step) + 1);
    return Array.from({ length: count }, (_, i) => first + i * step)
      .map((ms) => ({
        left: this.percent(ms),
        text: step >= DAY ? this.format.shortDay(ms) : this.format.time(ms),
      }))
      .filter(({ left }) => left <= 96);
  });

  protected readonly placed = computed(() =>
    this.marks()
      .filter((mark) => mark.atMs >= this.fromMs() && mark.atMs <= this.toMs())
      .map((mark) => ({
        ...mark,
        left: this.percent(mark.atMs),
        width: (mark.lengthMs / this.span()) * 100,
        tone: mark.state.split('.')[1],
      }))
      // The keyboard goes from one to the next as the eye does.
      .sort((a, b) => a.atMs - b.atMs),
  );

  private percent(ms: number): number {
    return ((ms - this.fromMs()) / this.span()) * 100;
  }

  /** To a full step of the wall clock of whoever looks: midnights and full hours, not those of UTC. */
  private roundUp(ms: number, step: number): number {
    const offset = new Date(ms).getTimezoneOffset() * 60_000;
    return Math.ceil((ms - offset) / step) * step + offset;
  }
}
