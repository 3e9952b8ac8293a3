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
import { Key } from '../../look/keys/key';
import { StandIns } from '../../people/room/stand-ins';
import { partNames } from '../../shows/shows.texts';
import { ComposingDesk } from '../composing-desk';
import type { SourceState } from '../sources/desk-sources';
import { stageTexts } from '../stage.texts';

/** Somebody of the show, as the desk knows them. */
export interface PersonOnDesk {
  readonly person: ShowPerson;
  /** Null: no picture of theirs is composed. */
  readonly source: SourceState['kind'] | null;
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
    @if (desk.status() === 'composing') {
      <span class="keys">
        @if (on()) {
          <button
            jnKey
            type="button"
            lamp="lit"
            [shortcut]="row().key"
            [attr.aria-label]="texts.takeOffName(row().person.name)"
            (click)="follow(desk.takeOff(row().person.id))"
          >
            {{ texts.takeOff }}
          </button>
        } @else if (row().source) {
          <button
            jnKey
            type="button"
            [shortcut]="row().key"
            [attr.aria-label]="texts.bringOnName(row().person.name)"
            (click)="follow(desk.bringOn(row().person.id))"
          >
            {{ texts.bringOn }}
          </button>
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
          } @else if (row().source !== 'guest') {
            <button
              jnKey
              type="button"
              [attr.aria-label]="texts.dropName(row().person.name)"
              (click)="follow(desk.dropSource(row().person.id))"
            >
              {{ texts.drop }}
            </button>
          }
        } @else if (!row().present) {
          <button
            jnKey
            type="button"
            [attr.aria-label]="texts.patternName(row().person.name)"
            (click)="follow(desk.sources.addPattern(row().person.id))"
          >
            {{ texts.pattern }}
          </button>
          @if (hasDevices()) {
            <button
              jnKey
              type="button"
              [attr.aria-label]="texts.cameraName(row().person.name)"
              (click)="follow(desk.sources.addCamera(row().person.id))"
            >
              {{ texts.camera }}
            </button>
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
  protected readonly texts = stageTexts;
  protected readonly partNames = partNames;

  readonly row = input.required<PersonOnDesk>();
  private readonly injector = inject(EnvironmentInjector);

  /** They are on stage, rather than in the wings. */
  readonly on = input.required<boolean>();

  protected readonly hasDevices = computed(() => !(this.desk.missing() ?? []).includes('devices'));

  /** What is done moves this row to another list: the keyboard goes along with the person. */
  protected follow(done: void | Promise<void>): void {
    const selector = `[data-person="${this.row().person.id}"] button`;
    const focus = () => document.querySelector<HTMLElement>(selector)?.focus();
    void Promise.resolve(done).then(() => afterNextRender(focus, { injector: this.injector }));
  }
}
