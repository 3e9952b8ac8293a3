import { confirms } from '../../keyboard/confirms';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { DESCRIPTION_MAX, NAME_MAX, same, TITLE_MAX } from '@juncta/core/shows';
import type { FieldError } from '@juncta/contract/errors';
import type { Series, ShowPerson, ShowText } from '@juncta/contract/shows';
import type { Member } from '@juncta/contract/team';
import { NgbTypeahead } from '@ng-bootstrap/ng-bootstrap/typeahead';
import { map, type Observable } from 'rxjs';
import { TimeFormat } from '../../clock/time-format';
import { FieldProblem } from '../../look/field-problem';
import { Key } from '../../look/keys/key';
import { PeopleEditor } from '../../people/people-editor';
import {
  ALL_ZONES,
  fillShowForm,
  findZones,
  makeShowForm,
  readShowForm,
  resolvedStart,
} from './show-form.model';
import { fieldNames, showTexts, startProblemSentence } from '../shows.texts';

/** The plan of a show, to be written. Knows nothing of saving: it tells what stands in it, and shows what it is told. */
@Component({
  selector: 'jn-show-form',
  imports: [FieldProblem, Key, NgbTypeahead, PeopleEditor, ReactiveFormsModule],
  templateUrl: './show-form.html',
  styleUrl: './show-form.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShowForm {
  protected readonly confirms = confirms;
  protected readonly format = inject(TimeFormat);
  protected readonly texts = showTexts;
  protected readonly fields = fieldNames;
  protected readonly titleMax = TITLE_MAX;
  protected readonly descriptionMax = DESCRIPTION_MAX;
  protected readonly nameMax = NAME_MAX;

  /** What the form shows; written anew whenever it is another text than the form's. */
  readonly text = input.required<ShowText>();
  readonly series = input.required<readonly Series[]>();
  readonly members = input.required<readonly Member[]>();
  readonly readOnly = input(false);
  /** The server's findings about what was sent, as fields of the request: `text.title`. */
  readonly fieldErrors = input<readonly FieldError[]>([]);
  readonly changed = output<ShowText>();
  readonly seriesWanted = output<{ readonly id: string; readonly name: string }>();

  protected readonly form = makeShowForm();
  protected readonly now = signal<ShowText | null>(null);
  protected readonly addingSeries = signal(false);

  protected readonly start = computed(() => {
    const text = this.now();
    return text && resolvedStart(text);
  });
  protected readonly startProblem = computed(() => {
    const start = this.start();
    if (!start || start.ok) return this.serverProblem('text.start.local');
    return startProblemSentence(start.problem, this.now()!.start!.zone);
  });
  protected readonly zoneIsWrong = computed(() => {
    const start = this.start();
    return !!start && !start.ok && start.problem.code === 'unknown_zone';
  });
  protected readonly resolved = computed(() => {
    const start = this.start();
    if (!start?.ok) return null;
    const day = this.format.longDay(start.atMs);
    return this.now()!.start!.zone === this.format.ownZone
      ? showTexts.resolvedHere(day)
      : showTexts.resolved(day, this.format.time(start.atMs));
  });
  /** Both instants of a doubled time, by their distance from UTC. */
  protected readonly folds = computed(() => {
    const start = this.start();
    if (!start?.ok || !start.twice) return null;
    const { zone } = this.now()!.start!;
    const offset = (fold: 'earlier' | 'later') => {
      const resolved = resolvedStart({ ...this.now()!, start: { ...this.now()!.start!, fold } });
      return resolved?.ok ? this.format.offset(resolved.atMs, zone) : '';
    };
    return { earlier: offset('earlier'), later: offset('later') };
  });

  protected readonly zones = (typed: Observable<string>): Observable<readonly string[]> =>
    typed.pipe(map((text) => findZones(text, ALL_ZONES)));

  constructor() {
    effect(() => {
      const text = this.text();
      if (!same(readShowForm(this.form), text)) fillShowForm(this.form, text, this.format.ownZone);
      this.now.set(text);
    });
    effect(() => {
      if (this.readOnly()) this.form.disable({ emitEvent: false });
      else this.form.enable({ emitEvent: false });
    });
    this.form.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => {
      const text = readShowForm(this.form);
      this.now.set(text);
      this.changed.emit(text);
    });
  }

  /** Whether what stands here can be sent at all; marks what cannot. */
  check(): boolean {
    this.form.markAllAsTouched();
    const start = this.start();
    const peopleNamed = this.form.controls.people.value.every(({ name }) => name.trim() !== '');
    return this.form.valid && (!start || start.ok) && peopleNamed;
  }

  protected serverProblem(field: string): string | null {
    return this.fieldErrors().find((error) => error.field === field)?.sentence ?? null;
  }

  protected titleProblem(): string | null {
    const { title } = this.form.controls;
    if (title.touched && title.invalid) return showTexts.titleEmpty;
    return this.serverProblem('text.title');
  }

  protected minutesProblem(): string | null {
    const { plannedMinutes } = this.form.controls;
    return plannedMinutes.invalid ? showTexts.minutesWrong : this.serverProblem('text.plannedMinutes');
  }

  protected clearStart(): void {
    this.form.patchValue({ day: '', time: '' });
  }

  protected setPeople(people: readonly ShowPerson[]): void {
    this.form.controls.people.setValue(people);
    this.form.controls.people.markAsDirty();
  }

  protected makeSeries(name: string): void {
    if (name.trim() === '') return;
    const series = { id: crypto.randomUUID(), name: name.trim() };
    this.seriesWanted.emit(series);
    this.form.controls.seriesId.setValue(series.id);
    this.addingSeries.set(false);
  }
}
