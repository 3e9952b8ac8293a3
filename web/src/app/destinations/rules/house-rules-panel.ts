import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import {
  correctHouseRule,
  dismissAlarm,
  readHouseRules,
  type HouseRules,
  type RuleAlarm,
} from '@juncta/contract/destinations';
import type { Response } from '@juncta/contract/http';
import { CORRECTABLE, CORRECTABLES, figureOf, type Correctable } from '@juncta/core/destinations';
import { Store } from '@ngrx/store';
import type { Observable } from 'rxjs';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { PlannedReadiness, type RuleChange } from '../../readiness/planned-readiness';
import { ShowsActions } from '../../shows/shows.actions';
import { correctableTexts, houseRulesTexts } from './house-rules.texts';
import { TouchedShows } from './touched-shows';

type View = Response<typeof readHouseRules>;
type Known = View['rules'][number];

/** What each place allows, since when and from where we know; what a refusal has contradicted; and correcting it. */
@Component({
  selector: 'jn-house-rules-panel',
  imports: [Key, Notice, TouchedShows],
  providers: [PlannedReadiness],
  templateUrl: './house-rules-panel.html',
  styleUrl: './house-rules-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HouseRulesPanel {
  private readonly api = inject(Api);
  private readonly format = inject(TimeFormat);
  private readonly clock = inject(PageClock);
  protected readonly texts = houseRulesTexts;
  protected readonly names = correctableTexts;
  protected readonly figures = CORRECTABLES;

  readonly mayCorrect = input.required<boolean>();
  protected readonly view = signal<View | null>(null);
  protected readonly request = new RequestState();
  /** The place and the figure that are being corrected. */
  protected readonly editing = signal<{ kind: Known['kind']; rule: Correctable } | null>(null);

  /** The figure as it is written; null: untouched. */
  protected readonly written = signal<number | null>(null);
  /** What would be corrected, as far as it is a figure that such a rule can have. */
  protected readonly change = computed<RuleChange | null>(() => {
    const [editing, written] = [this.editing(), this.written()];
    if (!editing || written === null || !Number.isInteger(written)) return null;
    const { least, most } = CORRECTABLE[editing.rule];
    return written < least || written > most ? null : { ...editing, figure: written };
  });

  constructor() {
    inject(Store).dispatch(ShowsActions.wanted());
    this.take(this.api.call(readHouseRules));
  }

  /** Places with rules that can be corrected. */
  protected places(view: View): readonly Known[] {
    return view.rules.filter(({ rules }) => CORRECTABLES.some((rule) => this.figure(rules, rule) !== null));
  }

  protected figure({ capabilities }: HouseRules, rule: Correctable): number | null {
    return figureOf(capabilities, rule);
  }

  protected told({ rule, ours, theirs, place, atMs }: RuleAlarm): string {
    const when = `${this.format.day(atMs, this.clock.now())} ${this.format.time(atMs)}`;
    return houseRulesTexts.alarm(place, correctableTexts[rule], ours, theirs, when);
  }

  protected edit(kind: Known['kind'], rule: Correctable): void {
    this.written.set(null);
    this.editing.set({ kind, rule });
  }

  protected takeOver({ kind, rule, theirs, place, atMs }: RuleAlarm): void {
    const source = houseRulesTexts.byRefusal(place, this.format.longDay(atMs));
    this.take(this.api.call(correctHouseRule, { body: { kind, rule, figure: theirs, source } }));
  }

  protected dismiss({ id }: RuleAlarm): void {
    this.take(this.api.call(dismissAlarm, { params: { alarmId: id } }));
  }

  protected correct(figure: string, source: string): void {
    const editing = this.editing();
    if (!editing) return;
    const body = { ...editing, figure: Math.round(Number(figure)), source };
    this.take(this.api.call(correctHouseRule, { body }), () => this.editing.set(null));
  }

  private take(asked: Observable<View>, then?: () => void): void {
    this.request.run(asked, (view) => {
      this.view.set(view);
      then?.();
    });
  }
}
