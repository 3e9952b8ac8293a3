import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { RoomPerson } from '@juncta/contract/people';
import type { ShowPerson } from '@juncta/contract/shows';
import { nameOf, ownersIn, sourceId } from '@juncta/core/stage';
import { Store } from '@ngrx/store';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { RoomLink } from '../../people/room/room-link';
import { StandIns } from '../../people/room/stand-ins';
import { ComposingDesk } from '../composing-desk';
import { PEOPLE_KEYS, STAND_IN_KEY } from '../desk-keys';
import { StageLink } from '../stage-link';
import { PersonRow, type PersonOnDesk } from './person-row';
import { teamFeature } from '../../team/team.feature';
import { deviceSentences, stageTexts } from '../stage.texts';

/** Who is in the programme, or who waits in the wings, with what can be done about it. */
@Component({
  selector: 'jn-people-panel',
  imports: [Key, Notice, PersonRow],
  template: `
    @if (!on() && problem(); as problem) {
      <jn-notice kind="wrong">{{ problem }}</jn-notice>
    }
    @if (!on() && standIns.problem(); as problem) {
      <jn-notice kind="wrong">{{ problem }}</jn-notice>
    }
    @if (!on() && count() > 0) {
      <p class="count">{{ texts.here(count()) }}</p>
    }
    <ul class="plain">
      @for (row of inSight(); track row.person.id) {
        <li><jn-person-row [row]="row" [on]="on()" /></li>
      } @empty {
        @if (on() || absent().length === 0) {
          <li class="belongs">{{ none() }}</li>
        }
      }
    </ul>
    @if (absent().length > 0) {
      <details [open]="count() === 0">
        <summary>{{ texts.notHere(absent().length) }}</summary>
        <ul class="plain">
          @for (row of absent(); track row.person.id) {
            <li><jn-person-row [row]="row" [on]="on()" /></li>
          }
        </ul>
      </details>
    }
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
    .count {
      margin: 0 0 var(--space-1);
      font-weight: 600;
    }
    summary {
      padding-block: 0.4rem;
      color: var(--soft);
      cursor: pointer;
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
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PeoplePanel {
  private readonly room = inject(RoomLink);
  private readonly store = inject(Store);
  protected readonly desk = inject(ComposingDesk);
  private readonly stage = inject(StageLink);
  protected readonly standIns = inject(StandIns);
  protected readonly standInKey = STAND_IN_KEY.toUpperCase();
  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  protected readonly mayRun = computed(() => this.may()('show.run'));
  protected readonly texts = stageTexts;

  readonly people = input.required<readonly ShowPerson[]>();
  /** Those on stage, or those in the wings. */
  readonly on = input.required<boolean>();
  readonly none = input.required<string>();

  protected readonly problem = computed(() => {
    const problem = this.desk.sources.deviceProblem();
    return problem && deviceSentences[problem];
  });
  /** On stage everybody is of interest; in the wings those who are there. */
  protected readonly inSight = computed(() => {
    const rows = this.rows();
    const there = rows.filter((row) => this.on() || row.here);
    // Whoever sits at this desk has their own camera at hand.
    return [...there, ...rows.filter((row) => !there.includes(row) && this.isMe(row))];
  });
  protected readonly count = computed(() => this.rows().filter((row) => row.here).length);
  protected readonly absent = computed(() => this.rows().filter((row) => !this.inSight().includes(row)));
  private readonly me = this.store.selectSignal(teamFeature.selectMember);
  private isMe({ person }: PersonOnDesk): boolean {
    return person.memberId !== null && person.memberId === this.me()?.id;
  }
  private readonly rows = computed((): readonly PersonOnDesk[] => {
    const { programme, armed, sources } = this.stage.stage();
    const [shown, next] = [ownersIn(programme), armed && ownersIn(armed)];
    const standIns = this.standIns.personIds();
    const there = this.room.view()?.people ?? [];
    const all = this.people();
    const inOrder = this.on()
      ? shown.flatMap((id) => all.find((person) => person.id === id) ?? [])
      : all.filter(({ id }) => !shown.includes(id));
    return inOrder.map((person) => {
      const own = sources.filter(({ source }) => nameOf(source).owner === person.id);
      const camera = own.find(({ source }) => source === sourceId('camera', person.id)) ?? null;
      const guest = there.find(({ personId }) => personId === person.id);
      return {
        person,
        source: sourceId('camera', person.id),
        origin: camera?.origin ?? null,
        next: next?.includes(person.id) ?? null,
        here: guest !== undefined || camera !== null,
        present: guest !== undefined,
        standIn: standIns.includes(person.id),
        key: PEOPLE_KEYS[all.indexOf(person)] ?? null,
        word: guest ? guestWord(guest) : camera ? stageTexts.kinds[camera.origin] : stageTexts.expected,
        lost: camera ? lostWords(camera.lost) : null,
      };
    });
  });
}

function guestWord({ publication, sends }: RoomPerson): string {
  if (publication === null) return stageTexts.guestConnecting;
  if (!sends.video && !sends.audio) return stageTexts.guestSilent;
  if (!sends.audio) return stageTexts.guestMuted;
  return sends.video ? stageTexts.kinds.guest : stageTexts.guestNoVideo;
}

function lostWords(lost: { video: boolean; audio: boolean }): string | null {
  if (lost.video && lost.audio) return stageTexts.lostBoth;
  if (lost.video) return stageTexts.lostVideo;
  return lost.audio ? stageTexts.lostAudio : null;
}
