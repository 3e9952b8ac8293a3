import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { ArmedKey } from '../look/keys/armed-key';
import { Key } from '../look/keys/key';
import { ingestTexts } from './ingest.texts';
import { ShowInputs } from './show-inputs';

/** The team's own inputs that are elsewhere, or nowhere: each comes here with its address and key. */
@Component({
  selector: 'jn-standing-inputs',
  imports: [ArmedKey, Key],
  template: `
    <section class="panel" aria-labelledby="standing">
      <h2 id="standing">{{ texts.standing }}</h2>
      <p class="soft">{{ texts.standingText }}</p>
      <ul>
        @for (one of state.standing(); track one.id) {
          <li>
            <span class="grow">
              <strong>{{ one.name }}</strong>, {{ texts.transportIs[one.transport] }},
              {{ one.bookedTo ? texts.bookedTo(one.bookedTo.title) : texts.bookedToNone }}
            </span>
            @if (one.bookedTo; as at) {
              <jn-armed-key
                [label]="texts.bookNamed(one.name)"
                [armedLabel]="texts.bookFrom(at.title)"
                (fired)="state.book(one.id, true)"
              />
            } @else {
              <button
                jnKey
                type="button"
                [disabled]="state.request.busy()"
                (click)="state.book(one.id, true)"
              >
                {{ texts.bookNamed(one.name) }}
              </button>
            }
          </li>
        }
      </ul>
    </section>
  `,
  styles: `
    section {
      display: grid;
      gap: var(--space-2);
    }
    h2,
    p,
    ul {
      margin: 0;
    }
    ul {
      display: grid;
      gap: var(--space-2);
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      align-items: center;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StandingInputs {
  protected readonly state = inject(ShowInputs);
  protected readonly texts = ingestTexts;
}
