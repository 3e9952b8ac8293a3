import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MARK_WORDS_MAX, putMark, removeMark, type Mark } from '@juncta/contract/marks';
import { formatShowTime } from '@juncta/core/programme';
import { Store } from '@ngrx/store';
import { confirms } from '../keyboard/confirms';
import type { Observable } from 'rxjs';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { ProgrammeActions } from '../programme/programme.actions';
import { programmeFeature } from '../programme/programme.feature';
import { MARK_KEY } from '../stage/desk-keys';
import { teamFeature } from '../team/team.feature';
import { marksTexts } from './marks.texts';

/** Moments of a running show, marked with one press and named when there is time for it. */
@Component({
  selector: 'jn-marks-panel',
  imports: [Key, Notice],
  template: `
    @if (request.error(); as error) {
      <jn-notice kind="wrong">{{ error.sentence }}</jn-notice>
    }
    @if (mayMark() && isRunning()) {
      <button jnKey type="button" [shortcut]="key" (click)="mark()">{{ texts.mark }}</button>
    }
    <ul class="plain" [attr.aria-label]="texts.list" tabindex="0">
      @for (one of marks(); track one.mark.id) {
        <li>
          <span class="figure">{{ one.time }}</span>
          @if (mayMark()) {
            <input
              #words
              class="input"
              [maxLength]="most"
              [attr.aria-label]="texts.words(one.time)"
              [placeholder]="texts.wordsShort"
              [value]="one.mark.words"
              (change)="name(one.mark.id, words.value)"
              (keydown.enter)="confirms($event) && words.blur()"
            />
            <button
              jnKey
              type="button"
              [attr.aria-label]="texts.removeAt(one.time)"
              (click)="remove(one.mark.id)"
            >
              {{ texts.remove }}
            </button>
          } @else {
            <span class="clip">{{ one.mark.words }}</span>
          }
        </li>
      } @empty {
        <li class="soft">{{ texts.none }}</li>
      }
    </ul>
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      align-items: start;
      min-height: 0;
    }
    ul {
      flex: 1 1 16rem;
      min-width: 0;
      max-height: 6rem;
      overflow-y: auto;
    }
    li {
      display: flex;
      gap: var(--space-2);
      align-items: center;
      padding-block: 0.1rem;
    }
    .input {
      flex: 1;
      min-width: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MarksPanel {
  protected readonly confirms = confirms;
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  protected readonly texts = marksTexts;
  protected readonly key = MARK_KEY.toUpperCase();
  protected readonly most = MARK_WORDS_MAX;

  readonly showId = input.required<string>();

  protected readonly request = new RequestState();
  private readonly programme = this.store.selectSignal(programmeFeature.selectProgramme);
  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  private readonly kept = this.store.selectSignal(programmeFeature.selectMarks);
  protected readonly mayMark = computed(() => this.may()('chat.write'));
  protected readonly isRunning = computed(() => this.programme()?.showTimeMs != null);
  /** The latest first: that is the one to be named. */
  protected readonly marks = computed(() =>
    [...this.kept()].reverse().map((mark) => ({ mark, time: formatShowTime(mark.showTimeMs) })),
  );

  mark(): void {
    if (this.mayMark() && this.isRunning()) this.put(crypto.randomUUID(), '');
  }

  protected name(markId: string, words: string): void {
    this.put(markId, words);
  }

  protected remove(markId: string): void {
    this.take(this.api.call(removeMark, { params: { showId: this.showId(), markId } }));
  }

  private put(markId: string, words: string): void {
    this.take(this.api.call(putMark, { params: { showId: this.showId(), markId }, body: { words } }));
  }

  private take(asked: Observable<{ marks: readonly Mark[] }>): void {
    const showId = this.showId();
    this.request.run(asked, ({ marks }) => {
      this.store.dispatch(ProgrammeActions.marksChanged({ showId, marks }));
    });
  }
}
