import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { TimeFormat } from '../../clock/time-format';

/** A moment in big figures, with the day above it: to be read from two metres. */
@Component({
  selector: 'jn-time-figure',
  template: `
    <span class="label">{{ day() }}</span>
    <span class="figure">{{ time() }}</span>
  `,
  styles: `
    :host {
      display: inline-grid;
      line-height: 1.05;
    }
    .figure {
      font-size: var(--figure-size, 1.6rem);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TimeFigure {
  private readonly format = inject(TimeFormat);

  readonly atMs = input.required<number>();
  readonly nowMs = input.required<number>();
  readonly zone = input<string>();
  readonly withSeconds = input(false);

  protected readonly day = computed(() => this.format.day(this.atMs(), this.nowMs(), this.zone()));
  protected readonly time = computed(() =>
    this.withSeconds()
      ? this.format.seconds(this.atMs(), this.zone())
      : this.format.time(this.atMs(), this.zone()),
  );
}
