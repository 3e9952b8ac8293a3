import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { setRecurrence, type Recurrence, type Series, type Show } from '@juncta/contract/shows';
import { commonRules } from '@juncta/core/schedule';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { TimeFormat } from '../../clock/time-format';
import { CopyKey } from '../../look/keys/copy-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { ShowsActions } from '../shows.actions';
import { commonRuleNames, seriesTexts } from '../shows.texts';

type Kind = keyof typeof commonRuleNames;
const KINDS = Object.keys(commonRuleNames) as Kind[];

/** One series: when it is on, and the link that always leads to its next show. */
@Component({
  selector: 'jn-series-panel',
  imports: [CopyKey, Key, Notice],
  templateUrl: './series-panel.html',
  styleUrl: './series-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SeriesPanel {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly format = inject(TimeFormat);
  protected readonly texts = seriesTexts;
  protected readonly kinds = KINDS;
  protected readonly kindNames = commonRuleNames;

  readonly series = input.required<Series>();
  /** Its latest show: what a first date is proposed from. */
  readonly latest = input.required<Show | null>();
  readonly mayEdit = input.required<boolean>();

  protected readonly editing = signal(false);
  protected readonly request = new RequestState();
  protected readonly kind = signal<Kind>('weekly');
  protected readonly local = signal('');
  protected readonly zone = signal('');
  protected readonly ownRule = signal('');

  protected readonly told = computed(() => {
    const { recurrence } = this.series();
    if (!recurrence) return this.texts.none;
    const { rule, start } = recurrence;
    const kind = kindOf(recurrence);
    const day = this.format.longDay(Date.parse(`${start.local}Z`), 'UTC');
    const [time, city] = [start.local.slice(11, 16), this.format.city(start.zone)];
    return this.texts.told(kind === 'own' ? rule : commonRuleNames[kind], time, city, day);
  });
  protected readonly id = computed(() => this.series().id.slice(0, 8));

  protected open(): void {
    const recurrence = this.series().recurrence;
    const start = recurrence?.start ?? this.latest()?.text.start ?? null;
    this.kind.set(recurrence ? kindOf(recurrence) : 'weekly');
    this.local.set(start?.local ?? '');
    this.zone.set(start?.zone ?? this.format.ownZone);
    this.ownRule.set(recurrence?.rule ?? '');
    this.request.clear();
    this.editing.set(true);
  }

  protected save(): void {
    const [kind, local, zone] = [this.kind(), this.local(), this.zone().trim()];
    const rule = kind === 'own' ? this.ownRule().trim() : commonRules(local)[kind];
    this.send({ rule, start: { local, zone, fold: 'earlier' } });
  }

  protected send(recurrence: Recurrence | null): void {
    const params = { seriesId: this.series().id };
    this.request.run(this.api.call(setRecurrence, { params, body: { recurrence } }), (series) => {
      this.store.dispatch(ShowsActions.seriesCreated({ series }));
      this.editing.set(false);
    });
  }

  protected pickKind(text: string): void {
    const kind = KINDS.find((one) => one === text);
    if (!kind) return;
    if (kind === 'own' && this.ownRule() === '' && this.local() !== '')
      this.ownRule.set(commonRules(this.local()).weekly);
    this.kind.set(kind);
  }
}

function kindOf({ rule, start }: Recurrence): Kind {
  const found = Object.entries(commonRules(start.local)).find(([, common]) => common === rule);
  return (found?.[0] as Kind | undefined) ?? 'own';
}
