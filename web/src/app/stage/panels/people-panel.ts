import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, input } from '@angular/core';
import type { RoomSource } from '@juncta/contract/people';
import { flows } from '@juncta/core/people';
import type { ShowPerson } from '@juncta/contract/shows';
import {
  placedIn,
  seenIn,
  sourceId,
  type DeviceFate,
  type SourceAtHand,
  type SourceId,
} from '@juncta/core/stage';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Store } from '@ngrx/store';
import { Keyboard } from '../../keyboard/keyboard';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { RoomLink } from '../../people/room/room-link';
import { StandIns } from '../../people/room/stand-ins';
import { ComposingDesk } from '../composing-desk';
import { PEOPLE_KEYS, SOURCES_KEY, STAND_IN_KEY } from '../desk-keys';
import { StageLink } from '../stage-link';
import { SourceNames } from '../source-names';
import { SourceRow, type SourceOnDesk } from './source-row';
import { SourcesDialog } from './sources-dialog';
import { wordsOf } from './source-words';
import { partNames } from '../../shows/shows.texts';
import { teamFeature } from '../../team/team.feature';
import { deviceSentences, stageTexts } from '../stage.texts';
import { WhoComposes } from '../who-composes';

/** On stage and in the wings together. */
const MOST_IN_LINES = 6;

/** Who is in the programme, or who waits in the wings, with what can be done about it. */
@Component({
  selector: 'jn-people-panel',
  imports: [Key, Notice, SourceRow],
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
    <ul class="plain" [class.many]="isMany()">
      @for (row of inSight(); track row.source) {
        <li [class.whole]="row.isOffered || row.lost.length > 0">
          <jn-source-row [row]="row" [on]="on()" [short]="isMany()" />
        </li>
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
          @for (row of absent(); track row.source) {
            <li><jn-source-row [row]="row" [on]="on()" /></li>
          }
        </ul>
      </details>
    }
    @if (!on() && mayRun()) {
      <p class="keys">
        @if (composes()) {
          <button jnKey type="button" [shortcut]="sourcesKey" (click)="openSources()">
            {{ texts.sources }}
          </button>
        }
        @if (standIns.available()) {
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
        }
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
    .many {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      column-gap: var(--space-3);

      > .belongs,
      > .whole {
        grid-column: 1 / -1;
      }
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
  private readonly modals = inject(NgbModal);
  protected readonly desk = inject(ComposingDesk);
  private readonly stage = inject(StageLink);
  private readonly sourceNames = inject(SourceNames);
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
    // What waits for an answer comes first; and whoever sits at this desk has their own camera at hand.
    const offered = there.filter(({ isOffered }) => isOffered);
    const others = there.filter(({ isOffered }) => !isOffered);
    return [...offered, ...others, ...rows.filter((row) => !there.includes(row) && row.isMe)];
  });
  /** More than have a line each beside the picture: two in a line. */
  protected readonly isMany = computed(() => this.present().length > MOST_IN_LINES);
  protected readonly count = computed(() => this.rows().filter((row) => row.here && !row.isOffered).length);
  protected readonly absent = computed(() => this.rows().filter((row) => !this.inSight().includes(row)));
  private readonly me = this.store.selectSignal(teamFeature.selectMember);
  private isMe(person: ShowPerson): boolean {
    return person.memberId !== null && person.memberId === this.me()?.id;
  }
  private readonly composing = inject(WhoComposes);
  protected readonly composes = this.composing.isHere;
  /** A desk that is gone gives nothing, whatever it told last. */
  private readonly atHand = computed(() => (this.composing.isAnywhere() ? this.stage.stage().sources : []));
  protected readonly sourcesKey = SOURCES_KEY.toUpperCase();

  constructor() {
    const open = {
      keys: [SOURCES_KEY],
      act: () => this.openSources(),
      isOn: () => !this.on() && this.composes() && this.mayRun(),
    };
    inject(DestroyRef).onDestroy(inject(Keyboard).add(open));
  }

  protected openSources(): void {
    const dialog = this.modals.open(SourcesDialog, { ariaLabelledBy: 'sources-title', windowClass: 'night' });
    const me = this.people().find((person) => this.isMe(person));
    (dialog.componentInstance as SourcesDialog).show(this.people(), me?.id ?? null);
  }

  private readonly all = computed((): readonly SourceOnDesk[] => [
    ...this.people().map((person) => this.rowOf(person)),
    ...this.others(),
  ]);
  /** On stage or in the wings, whichever of the two is shown here. */
  private readonly present = computed(() => this.all().filter(({ here }) => here));
  private readonly rows = computed((): readonly SourceOnDesk[] => {
    const rows = this.all();
    const shown = placedIn(this.stage.stage().programme);
    if (!this.on()) return rows.filter(({ source }) => !shown.includes(source));
    const seen = seenIn(this.stage.stage().programme);
    return shown.flatMap((id) => {
      const row = rows.find(({ source }) => source === id);
      if (!row) return [];
      return seen.includes(id) ? row : { ...row, words: stageTexts.noPlace, isUnseen: true };
    });
  });

  private rowOf(person: ShowPerson): SourceOnDesk {
    const source = sourceId('camera', person.id);
    const guest = this.room.view()?.people.find(({ personId }) => personId === person.id);
    const camera = guest?.sources.find((one) => one.source === source);
    const row = this.common(source);
    const { origin } = row;
    const word = guest ? guestWord(camera) : origin ? stageTexts.kinds[origin] : stageTexts.expected;
    return {
      ...row,
      name: person.name,
      words: `${partNames[person.part]}, ${word}`,
      person,
      isMe: this.isMe(person),
      here: guest !== undefined || origin !== null,
      present: guest !== undefined,
      key: PEOPLE_KEYS[this.people().indexOf(person)] ?? null,
      isOffered: false,
      isUnseen: false,
      soundAsked: this.on() && guest && camera?.audio === 'off' ? guest.asked.includes('audio') : null,
    };
  }

  /** Screens, second cameras, and whatever somebody has besides their first camera. */
  private others(): readonly SourceOnDesk[] {
    const { programme, armed } = this.stage.stage();
    const offered = (this.room.view()?.people ?? [])
      .flatMap(({ sources }) => sources)
      .filter(({ isAccepted }) => !isAccepted)
      .map(({ source }) => source);
    const first = this.people().map(({ id }) => sourceId('camera', id));
    const all = new Set([
      ...offered,
      ...this.atHand().map(({ source }) => source),
      ...placedIn(programme),
      ...(armed ? placedIn(armed) : []),
    ]);
    const names = this.sourceNames.of(this.people());
    return [...all].flatMap((source) => {
      if (first.includes(source)) return [];
      const row = this.common(source);
      const isOffered = offered.includes(source);
      const word = row.origin ? stageTexts.kinds[row.origin] : stageTexts.sourceGone;
      return {
        ...row,
        name: wordsOf(source, names),
        words: isOffered ? stageTexts.offered : word,
        person: null,
        isMe: false,
        here: row.origin !== null || isOffered,
        present: false,
        key: null,
        isOffered,
        isUnseen: false,
        soundAsked: null,
      };
    });
  }

  private common(source: SourceId) {
    const { armed } = this.stage.stage();
    const atHand = this.atHand().find((one) => one.source === source) ?? null;
    return {
      source,
      origin: atHand?.origin ?? null,
      next: armed && placedIn(armed).includes(source),
      lost: atHand ? lostWords(atHand) : [],
    };
  }
}

function guestWord(camera: RoomSource | undefined): string {
  if (camera?.publication == null) return stageTexts.guestConnecting;
  const [isSeen, isHeard] = [flows(camera.video), flows(camera.audio)];
  if (!isSeen && !isHeard) return stageTexts.guestSilent;
  if (!isHeard) return stageTexts.guestMuted;
  return isSeen ? stageTexts.kinds.guest : stageTexts.guestNoVideo;
}

function lostWords({ origin, video, audio }: SourceAtHand): string[] {
  if (origin === 'outside') {
    if (video === 'gone') return [stageTexts.lostOutside];
    return audio === 'there' ? [] : [stageTexts.silentOutside];
  }
  if (video === 'gone' && audio === 'gone') return [stageTexts.lostBoth];
  const words: Record<DeviceFate, [string | null, string | null]> = {
    there: [null, null],
    off: [null, null],
    none: [null, null],
    gone: [stageTexts.lostVideo, stageTexts.lostAudio],
    replaced: [stageTexts.replacedVideo, stageTexts.replacedAudio],
  };
  return [words[video][0], words[audio][1]].filter((sentence) => sentence !== null);
}
