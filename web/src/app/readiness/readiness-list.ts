import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import type { Destination } from '@juncta/contract/destinations';
import type { PlaceFinding } from '@juncta/core/readiness';
import { PageClock } from '../clock/page-clock';
import { TimeFormat } from '../clock/time-format';
import { fieldName } from '../listings/listings.texts';
import { Key } from '../look/keys/key';
import { Tile } from '../look/tile';
import { levelNames } from '../shows/shows.texts';
import { readinessSentence, readinessTexts } from './readiness.texts';

/** What is not ready at the destinations, the gravest first, each with what can be done about it. */
@Component({
  selector: 'jn-readiness-list',
  imports: [Key, Tile],
  template: `
    <ul class="plain">
      @for (one of told(); track one.key) {
        <li [attr.data-level]="one.finding.level">
          @if (one.destination; as place) {
            <jn-tile [code]="place.code" [pattern]="place.pattern" name="" aria-hidden="true" />
          }
          <span class="grow"
            ><span class="label">{{ levels[one.finding.level] }}</span> {{ one.sentence }}</span
          >
          @if (mayFix() && one.editable) {
            <button
              jnKey
              type="button"
              [attr.aria-label]="texts.fixOf(texts.edit, one.sentence)"
              (click)="edited.emit(one.finding)"
            >
              {{ texts.edit }}
            </button>
          }
          @if (one.finding.fix; as fix) {
            @if (mayFix()) {
              <button
                jnKey
                type="button"
                [disabled]="busy()"
                [attr.aria-label]="texts.fixOf(texts.fixes[fix.kind], one.sentence)"
                (click)="fixed.emit(one.finding)"
              >
                {{ texts.fixes[fix.kind] }}
              </button>
            }
          }
        </li>
      } @empty {
        <li class="soft">{{ texts.nothing }}</li>
      }
    </ul>
  `,
  styleUrls: ['../shows/plan/findings-list.scss', './readiness-list.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReadinessList {
  private readonly format = inject(TimeFormat);
  private readonly clock = inject(PageClock);
  protected readonly texts = readinessTexts;
  protected readonly levels = levelNames;

  readonly findings = input.required<readonly PlaceFinding[]>();
  readonly destinations = input.required<readonly Destination[]>();
  /** When somebody is to be at the desk, ms; null without a start. */
  readonly deskMs = input<number | null>(null);
  readonly mayFix = input(false);
  readonly busy = input(false);
  readonly fixed = output<PlaceFinding>();
  /** Somebody wants to the field that it is about. */
  readonly edited = output<PlaceFinding>();

  protected readonly told = computed(() =>
    this.findings().map((finding) => {
      const destination = this.destinations().find(({ id }) => id === finding.destinationId) ?? null;
      const now = this.clock.now();
      const when = (ms: number) => {
        const day = this.format.day(ms, now);
        const time = this.format.time(ms);
        return day === this.format.day(now, now) ? time : `${day} ${time}`;
      };
      const { deadlineMs, code, field } = finding;
      const deskMs = this.deskMs();
      const named = {
        place: destination?.rules.place ?? '',
        field: field === null ? '' : fieldName(field),
        when: deadlineMs === null ? '' : when(deadlineMs),
        desk: deskMs === null ? '' : when(deskMs),
      };
      const key = `${code} ${finding.destinationId} ${field} ${finding.names.join()}`;
      const editable = finding.fix === null && destination !== null && field !== null;
      return { key, finding, destination, editable, sentence: readinessSentence(finding, named) };
    }),
  );
}
