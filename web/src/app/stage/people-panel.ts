import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { RoomPerson } from '@juncta/contract/people';
import type { ShowPerson } from '@juncta/contract/shows';
import { Store } from '@ngrx/store';
import { Key } from '../look/key';
import { Notice } from '../look/notice';
import { partNames } from '../shows/shows.texts';
import { RoomLink } from '../people/room/room-link';
import { StandIns } from '../people/room/stand-ins';
import { ComposingDesk } from './composing-desk';
import { STAND_IN_KEY } from './desk-keys';
import { teamFeature } from '../team/team.feature';
import { deviceSentences, stageTexts } from './stage.texts';

/** Who is in the programme, or who waits in the wings, with what can be done about it. */
@Component({
  selector: 'jn-people-panel',
  imports: [Key, Notice],
  template: `
    @if (!on() && problem(); as problem) {
      <jn-notice kind="wrong">{{ problem }}</jn-notice>
    }
    @if (!on() && standIns.problem(); as problem) {
      <jn-notice kind="wrong">{{ problem }}</jn-notice>
    }
    <ul class="plain">
      @for (row of rows(); track row.person.id) {
        <li>
          <strong class="clip" [title]="row.person.name">{{ row.person.name }}</strong>
          <span class="soft">{{ partNames[row.person.part] }}, {{ row.word }}</span>
          @if (row.lost; as lost) {
            <span class="warn" role="status">{{ lost }}</span>
          }
          @if (desk.status() === 'composing') {
            <span class="keys">
              @if (on()) {
                <button
                  jnKey
                  type="button"
                  lamp="lit"
                  [shortcut]="row.key"
                  [attr.aria-label]="texts.takeOffName(row.person.name)"
                  (click)="desk.takeOff(row.person.id)"
                >
                  {{ texts.takeOff }}
                </button>
              } @else if (row.source) {
                <button
                  jnKey
                  type="button"
                  [shortcut]="row.key"
                  [attr.aria-label]="texts.bringOnName(row.person.name)"
                  (click)="desk.bringOn(row.person.id)"
                >
                  {{ texts.bringOn }}
                </button>
                @if (row.standIn) {
                  <button
                    jnKey
                    type="button"
                    [disabled]="standIns.busy()"
                    [attr.aria-label]="texts.sendAwayName(row.person.name)"
                    (click)="standIns.sendAway(row.person.id)"
                  >
                    {{ texts.sendAway }}
                  </button>
                } @else if (row.source !== 'guest') {
                  <button
                    jnKey
                    type="button"
                    [attr.aria-label]="texts.dropName(row.person.name)"
                    (click)="desk.dropSource(row.person.id)"
                  >
                    {{ texts.drop }}
                  </button>
                }
              } @else if (!row.present) {
                <button
                  jnKey
                  type="button"
                  [attr.aria-label]="texts.patternName(row.person.name)"
                  (click)="desk.sources.addPattern(row.person.id)"
                >
                  {{ texts.pattern }}
                </button>
                @if (hasDevices()) {
                  <button
                    jnKey
                    type="button"
                    [attr.aria-label]="texts.cameraName(row.person.name)"
                    (click)="desk.sources.addCamera(row.person.id)"
                  >
                    {{ texts.camera }}
                  </button>
                }
              }
            </span>
          }
        </li>
      } @empty {
        <li class="belongs">{{ none() }}</li>
      }
    </ul>
    @if (!on() && standIns.available() && mayRun()) {
      <p class="keys">
        <button
          jnKey
          type="button"
          [lamp]="standIns.busy() ? 'working' : 'dark'"
          [shortcut]="standInKey"
          [disabled]="standIns.busy()"
          (click)="standIns.sendIn()"
        >
          {{ texts.sendIn }}
        </button>
      </p>
    }
  `,
  styles: `
    li {
      display: grid;
      gap: 0.15rem;
      padding-block: 0.4rem;
      border-bottom: 1px solid var(--rule);
      line-height: 1.25;
    }
    .belongs {
      padding: var(--space-3);
      border: 1px dashed var(--rule);
      color: var(--soft);
    }
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-1);
    }
    p.keys {
      margin: var(--space-2) 0 0;
    }
    .warn {
      color: var(--saffron-text);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PeoplePanel {
  private readonly room = inject(RoomLink);
  private readonly store = inject(Store);
  protected readonly desk = inject(ComposingDesk);
  protected readonly standIns = inject(StandIns);
  protected readonly standInKey = STAND_IN_KEY.toUpperCase();
  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  protected readonly mayRun = computed(() => this.may()('show.run'));
  protected readonly texts = stageTexts;
  protected readonly partNames = partNames;

  readonly people = input.required<readonly ShowPerson[]>();
  /** Those on stage, or those in the wings. */
  readonly on = input.required<boolean>();
  readonly none = input.required<string>();

  protected readonly hasDevices = computed(() => !(this.desk.missing() ?? []).includes('devices'));
  protected readonly problem = computed(() => {
    const problem = this.desk.sources.deviceProblem();
    return problem && deviceSentences[problem];
  });
  protected readonly rows = computed(() => {
    const [stage, sources, standIns] = [
      this.desk.stage(),
      this.desk.sources.known(),
      this.standIns.personIds(),
    ];
    const there = this.room.view()?.people ?? [];
    const all = this.people();
    const inOrder = this.on()
      ? stage.flatMap((id) => this.people().find((person) => person.id === id) ?? [])
      : this.people().filter(({ id }) => !stage.includes(id));
    return inOrder.map((person) => {
      const source = sources[person.id];
      const guest = there.find(({ personId }) => personId === person.id);
      return {
        person,
        source: source?.kind ?? null,
        present: guest !== undefined,
        standIn: standIns.includes(person.id),
        /** Digits bring on and take off, in the order of the plan. */
        key: all.indexOf(person) < 9 ? String(all.indexOf(person) + 1) : null,
        word: guest ? guestWord(guest) : source ? stageTexts.kinds[source.kind] : stageTexts.expected,
        lost: source && lostWords(source.lost),
      };
    });
  });
}

function guestWord({ publication, sends }: RoomPerson): string {
  if (publication === null) return stageTexts.guestConnecting;
  if (!sends.picture && !sends.sound) return stageTexts.guestSilent;
  if (!sends.sound) return stageTexts.guestMuted;
  return sends.picture ? stageTexts.kinds.guest : stageTexts.guestNoPicture;
}

function lostWords(lost: { picture: boolean; sound: boolean }): string | null {
  if (lost.picture && lost.sound) return stageTexts.lostBoth;
  if (lost.picture) return stageTexts.lostPicture;
  return lost.sound ? stageTexts.lostSound : null;
}
