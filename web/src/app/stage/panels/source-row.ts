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
import { RoomLink } from '../../people/room/room-link';
import { teamFeature } from '../../team/team.feature';
import { DropKey } from './drop-key';
import { OpenPanel } from '../open-panel';
import { ComposingDesk } from '../composing-desk';
import { StageLink } from '../stage-link';
import { adjustTexts, stageTexts } from '../stage.texts';
import { WhoComposes } from '../who-composes';

/** A source as the desk knows it: somebody's first camera, whether they are there or not, or what else they have. */
export interface SourceOnDesk {
  readonly source: SourceId;
  readonly name: string;
  /** Whose it is and what, in a few words. */
  readonly words: string;
  /** Of a first camera: whose; null: it is another source. */
  readonly person: ShowPerson | null;
  /** They sit at this desk. */
  readonly isMe: boolean;
  /** Where its pictures come from; null: there are none. */
  readonly origin: Origin | null;
  /** It is in what comes next; null: nothing is prepared. */
  readonly next: boolean | null;
  /** It can be brought on, or is about to be there. */
  readonly here: boolean;
  /** As a guest in the room. */
  readonly present: boolean;
  /** On stage, in a layout that has no place for it: heard alone. */
  readonly isUnseen: boolean;
  /** A guest offers it, and no desk has answered yet. */
  readonly isOffered: boolean;
  /** A guest is on stage and has turned their sound off: whether they were asked to turn it on. Null: they have not. */
  readonly soundAsked: boolean | null;
  /** Digits bring on and take off, in the order of the plan. */
  readonly key: string | null;
  /** What became of a device. */
  readonly lost: readonly string[];
}

/** One source on stage or in the wings, with what can be done about it. */
@Component({
  selector: 'jn-source-row',
  imports: [DropKey, Key],
  template: `
    <span class="who">
      @if (mayDrive() && row().origin) {
        <button
          type="button"
          class="name-key clip"
          [title]="title()"
          [attr.aria-label]="adjustTexts.open(row().name)"
          (click)="panel.content.set({ of: 'source', source: row().source })"
        >
          {{ row().name }}
        </button>
      } @else {
        <strong class="clip" [title]="title()">{{ row().name }}</strong>
      }
      @if (!short() || row().isOffered) {
        <span class="words clip" [title]="row().words">{{ row().words }}</span>
      }
    </span>
    @for (sentence of row().lost; track sentence) {
      <span class="warn" role="status">{{ sentence }}</span>
    }
    @if (row().soundAsked !== null) {
      <span class="warn ask">
        <span role="status">{{ row().soundAsked ? texts.soundAsked : texts.soundOff }}</span>
        @if (mayDrive() && !row().soundAsked) {
          <button
            jnKey
            type="button"
            [attr.aria-label]="texts.askSoundName(row().name)"
            (click)="room.ask(row().person!.id, 'audio')"
          >
            {{ texts.askSound }}
          </button>
        }
      </span>
    }
    @if (mayDrive() && row().isOffered) {
      <span class="keys">
        <button
          jnKey
          type="button"
          lamp="armed"
          [attr.aria-label]="texts.acceptName(row().name)"
          (click)="follow(room.accept(row().source, true))"
        >
          {{ texts.accept }}
        </button>
        <button
          jnKey
          type="button"
          [attr.aria-label]="texts.declineName(row().name)"
          (click)="room.accept(row().source, false)"
        >
          {{ texts.decline }}
        </button>
      </span>
    } @else if (mayDrive()) {
      <span class="keys">
        @if (row().next !== null) {
          @if (row().next || row().origin) {
            <button
              jnKey
              type="button"
              [lamp]="row().next ? 'armed' : 'dark'"
              [shortcut]="row().key"
              [attr.aria-pressed]="row().next"
              [attr.aria-label]="texts.nextName(row().name)"
              (click)="row().next ? stage.takeOff(row().source) : stage.bringOn(row().source)"
            >
              <span class="verb">{{ texts.next }}</span>
            </button>
          }
        } @else if (on()) {
          <button
            jnKey
            type="button"
            lamp="lit"
            [shortcut]="row().key"
            [attr.aria-label]="texts.takeOffName(row().name)"
            (click)="follow(stage.takeOff(row().source))"
          >
            <span class="verb">{{ texts.takeOff }}</span>
          </button>
        } @else if (row().origin) {
          <button
            jnKey
            type="button"
            [shortcut]="row().key"
            [attr.aria-label]="texts.bringOnName(row().name)"
            (click)="follow(stage.bringOn(row().source))"
          >
            <span class="verb">{{ texts.bringOn }}</span>
          </button>
        }
        @if (!on()) {
          @if (!short()) {
            <jn-drop-key [source]="row().source" [name]="row().name" (dropped)="follow()" />
          }
          @if (composes() && !row().origin && row().isMe && hasDevices()) {
            <button
              jnKey
              type="button"
              [attr.aria-label]="texts.cameraName(row().name)"
              (click)="follow(desk.sources.addCamera(row().source))"
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
      grid-template-columns: minmax(0, 1fr) auto;
      gap: 0.15rem var(--space-2);
      align-items: center;
      min-height: 2.6rem;
      padding-block: 0.2rem;
      border-bottom: 1px solid var(--rule);
      line-height: 1.25;
      --key-height: 2rem;
      --key-padding: 0.5rem;
      --key-gap: 0.4rem;
    }
    :host(.here) {
      box-shadow: inset 4px 0 var(--saffron);
      padding-left: var(--space-2);
    }
    /* Whose it is comes before what it is: the rest of the line is cut first. */
    .who {
      display: flex;
      gap: var(--space-2);
      align-items: baseline;
      min-width: 0;

      > :first-child {
        flex: 0 1 auto;
        max-width: 100%;
      }
      > .words {
        flex: 1 1 0;
        color: var(--soft);
        font-size: 0.93rem;
      }
    }
    :host(.unseen) .who > :first-child {
      color: var(--soft);
    }
    /* What is offered is new to whoever reads it: both lines are whole. */
    :host(.offered) .who {
      display: grid;
    }
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-1);
      grid-column: 2;
      grid-row: 1;
    }
    /* The number says it, beside a lamp; whoever does not see it hears the whole. */
    :host(.short.numbered) {
      --key-gap: 0;

      .verb {
        display: none;
      }
    }
    :host(.short) {
      min-height: 2.2rem;
      padding-block: 0;
    }
    .warn {
      grid-column: 1 / -1;
      color: var(--saffron-text);
    }
    .ask {
      display: flex;
      gap: var(--space-2);
      align-items: center;
      justify-content: space-between;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: {
    '[class.here]': '!on() && row().here',
    '[class.offered]': 'row().isOffered',
    '[class.unseen]': 'row().isUnseen',
    '[class.short]': 'short()',
    '[class.numbered]': 'row().key !== null',
    '[attr.data-source]': 'row().source',
  },
})
export class SourceRow {
  protected readonly desk = inject(ComposingDesk);
  protected readonly room = inject(RoomLink);
  protected readonly stage = inject(StageLink);
  protected readonly texts = stageTexts;
  protected readonly adjustTexts = adjustTexts;
  protected readonly panel = inject(OpenPanel);

  readonly row = input.required<SourceOnDesk>();
  private readonly injector = inject(EnvironmentInjector);

  /** Among many: a name and a number. Everything else is behind the name. */
  readonly short = input(false);
  /** It is on stage, rather than in the wings. */
  readonly on = input.required<boolean>();

  protected readonly title = computed(() => `${this.row().name}, ${this.row().words}`);
  private readonly may = inject(Store).selectSignal(teamFeature.selectMay);
  private readonly composing = inject(WhoComposes);
  protected readonly composes = this.composing.isHere;
  protected readonly mayDrive = computed(() => this.composing.isAnywhere() && this.may()('show.run'));
  protected readonly hasDevices = computed(() => !(this.desk.missing() ?? []).includes('devices'));

  /** What is done moves this row to another list: the keyboard goes along with it. */
  protected follow(done?: void | Promise<void>): void {
    const selector = `[data-source="${this.row().source}"] .keys button`;
    const focus = () => document.querySelector<HTMLElement>(selector)?.focus();
    void Promise.resolve(done).then(() => afterNextRender(focus, { injector: this.injector }));
  }
}
