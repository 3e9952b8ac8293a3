import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  EnvironmentInjector,
  inject,
  input,
} from '@angular/core';
import type { ShowPerson } from '@juncta/contract/shows';
import type { Origin, SourceId } from '@juncta/core/stage';
import { Store } from '@ngrx/store';
import { Key } from '../../look/keys/key';
import { StandIns } from '../../people/room/stand-ins';
import { partNames } from '../../shows/shows.texts';
import { teamFeature } from '../../team/team.feature';
import { ComposingDesk } from '../composing-desk';
import { StageLink } from '../stage-link';
import { stageTexts } from '../stage.texts';

/** Somebody of the show, as the desk knows them. */
export interface PersonOnDesk {
  readonly person: ShowPerson;
  /** Their first camera, whether there is one or not. */
  readonly source: SourceId;
  /** Where its pictures come from; null: there are none. */
  readonly origin: Origin | null;
  /** They are in what comes next; null: nothing is prepared. */
  readonly next: boolean | null;
  /** They can be brought on, or are about to be there. */
  readonly here: boolean;
  /** As a guest in the room. */
  readonly present: boolean;
  readonly standIn: boolean;
  /** Digits bring on and take off, in the order of the plan. */
  readonly key: string | null;
  readonly word: string;
  readonly lost: string | null;
}

/** One person on stage or in the wings, with what can be done about them. */
@Component({
  selector: 'jn-person-row',
  imports: [Key],
  template: `
    <strong class="clip" [title]="row().person.name">{{ row().person.name }}</strong>
    <span class="soft">{{ partNames[row().person.part] }}, {{ row().word }}</span>
    @if (row().lost; as lost) {
      <span class="warn" role="status">{{ lost }}</span>
    }
    @if (mayDrive()) {
      <span class="keys">
        @if (row().next !== null) {
          @if (row().next || row().origin) {
            <button
              jnKey
              type="button"
              [lamp]="row().next ? 'armed' : 'dark'"
              [shortcut]="row().key"
              [attr.aria-pressed]="row().next"
              [attr.aria-label]="texts.nextName(row().person.name)"
              (click)="row().next ? stage.takeOff(row().source) : stage.bringOn(row().source)"
            >
              {{ texts.next }}
            </button>
          }
        } @else if (on()) {
          <button
            jnKey
            type="button"
            lamp="lit"
            [shortcut]="row().key"
            [attr.aria-label]="texts.takeOffName(row().person.name)"
            (click)="follow(stage.takeOff(row().source))"
          >
            {{ texts.takeOff }}
          </button>
        } @else if (row().origin) {
          <button
            jnKey
            type="button"
            [shortcut]="row().key"
            [attr.aria-label]="texts.bringOnName(row().person.name)"
            (click)="follow(stage.bringOn(row().source))"
          >
            {{ texts.bringOn }}
          </button>
        }
        @if (!on()) {
          @if (row().standIn) {
            <button
              jnKey
              type="button"
              [disabled]="standIns.busy()"
              [attr.aria-label]="texts.sendAwayName(row().person.name)"
              (click)="standIns.sendAway(row().person.id)"
            >
              {{ texts.sendAway }}
            </button>
          } @else if (composes() && row().origin && row().origin !== 'guest') {
            <button
              jnKey
              type="button"
              [attr.aria-label]="texts.dropName(row().person.name)"
              (click)="follow(desk.dropSource(row().source))"
            >
              {{ texts.drop }}
            </button>
          } @else if (composes() && !row().origin && !row().present) {
            <button
              jnKey
              type="button"
              [attr.aria-label]="texts.patternName(row().person.name)"
              (click)="follow(desk.sources.addPattern(row().source))"
            >
              {{ texts.pattern }}
            </button>
            @if (hasDevices()) {
              <button
                jnKey
                type="button"
                [attr.aria-label]="texts.cameraName(row().person.name)"
                (click)="follow(desk.sources.addCamera(row().source))"
              >
                {{ texts.camera }}
              </button>
            }
          }
        }
      </span>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 0.15rem;
      padding-block: 0.4rem;
      border-bottom: 1px solid var(--rule);
      line-height: 1.25;
    }
    :host(.here) {
      box-shadow: inset 4px 0 var(--saffron);
      padding-left: var(--space-2);
    }
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-1);
    }
    .warn {
      color: var(--saffron-text);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '[class.here]': '!on() && row().here', '[attr.data-person]': 'row().person.id' },
})
export class PersonRow {
  protected readonly desk = inject(ComposingDesk);
  protected readonly standIns = inject(StandIns);
  protected readonly stage = inject(StageLink);
  protected readonly texts = stageTexts;
  protected readonly partNames = partNames;

  readonly row = input.required<PersonOnDesk>();
  private readonly injector = inject(EnvironmentInjector);

  /** They are on stage, rather than in the wings. */
  readonly on = input.required<boolean>();

  private readonly may = inject(Store).selectSignal(teamFeature.selectMay);
  protected readonly composes = computed(() => this.desk.status() === 'composing');
  /** From any desk, as long as one composes. */
  protected readonly mayDrive = computed(
    () => (this.composes() || this.stage.stage().sources.length > 0) && this.may()('show.run'),
  );
  protected readonly hasDevices = computed(() => !(this.desk.missing() ?? []).includes('devices'));

  /** What is done moves this row to another list: the keyboard goes along with the person. */
  protected follow(done: void | Promise<void>): void {
    const selector = `[data-person="${this.row().person.id}"] button`;
    const focus = () => document.querySelector<HTMLElement>(selector)?.focus();
    void Promise.resolve(done).then(() => afterNextRender(focus, { injector: this.injector }));
  }
}
