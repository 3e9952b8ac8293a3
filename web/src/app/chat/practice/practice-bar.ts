import { ChangeDetectionStrategy, Component, effect, inject, input, signal } from '@angular/core';
import { endPractice, type PracticeOutcome } from '@juncta/contract/chat';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { ArmedKey } from '../../look/keys/armed-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { chatFeature } from '../chat.feature';
import { practiceTexts } from './practice.texts';

/** That this is a practice, how far it is, and in the end what was done beside what was done that evening. */
@Component({
  selector: 'jn-practice-bar',
  imports: [ArmedKey, Key, Notice],
  template: `
    @if (practice(); as practice) {
      <section [attr.aria-label]="texts.on">
        <p>
          <strong>{{ texts.on }}</strong>
          <span>{{ texts.progress(practice.given, practice.messages, practice.by) }}</span>
        </p>
        <progress [value]="practice.given" [max]="practice.messages" [attr.aria-label]="texts.on"></progress>
        @if (mayWrite()) {
          <jn-armed-key
            [label]="texts.end"
            [armedLabel]="texts.endArmed"
            [disabled]="ending()"
            (fired)="end()"
          />
        }
      </section>
    } @else if (outcome(); as outcome) {
      <section role="status">
        <p>
          <strong>{{ texts.over }}</strong>
          <span>{{ compared(outcome) }}</span>
        </p>
        <button jnKey type="button" (click)="putAway()">{{ texts.putAway }}</button>
      </section>
    }
    @if (request.error(); as error) {
      <jn-notice kind="wrong">{{ error.sentence }}</jn-notice>
    }
  `,
  styles: `
    section {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-1) var(--space-3);
      padding: var(--space-2) var(--space-3);
      border: 1px dashed var(--soft);
      line-height: 1.3;
    }
    p {
      display: flex;
      flex: 1 1 14rem;
      flex-wrap: wrap;
      gap: 0 var(--space-2);
      margin: 0;
    }
    progress {
      flex: 1 1 6rem;
      height: 0.5rem;
      accent-color: var(--soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PracticeBar {
  private readonly api = inject(Api);
  protected readonly texts = practiceTexts;

  readonly showId = input.required<string>();
  readonly mayWrite = input.required<boolean>();

  protected readonly practice = inject(Store).selectSignal(chatFeature.selectPractice);
  protected readonly ending = signal(false);
  protected readonly request = new RequestState();
  /** Of the practice that was ended here. */
  protected readonly outcome = signal<PracticeOutcome | null>(null);

  constructor() {
    effect(() => {
      // Of another show nothing is told.
      this.showId();
      this.outcome.set(null);
    });
  }

  protected putAway(): void {
    this.outcome.set(null);
  }

  protected end(): void {
    this.ending.set(true);
    this.request.clear();
    this.request.run(
      this.api.call(endPractice, { params: { showId: this.showId() } }),
      ({ outcome }) => {
        this.outcome.set(outcome);
        this.ending.set(false);
      },
      () => {
        this.ending.set(false);
      },
    );
  }

  protected compared(outcome: PracticeOutcome): string {
    const { notShownThen, notShownBoth, notShownNow, askedThen, askedBoth, askedNow } = outcome;
    const told = [
      ...(notShownThen + notShownNow > 0
        ? [practiceTexts.notShown(notShownThen, notShownBoth, notShownNow - notShownBoth)]
        : []),
      ...(askedThen + askedNow > 0 ? [practiceTexts.asked(askedThen, askedBoth, askedNow - askedBoth)] : []),
    ];
    return told.length > 0 ? told.join(' ') : practiceTexts.nothingDone;
  }
}
