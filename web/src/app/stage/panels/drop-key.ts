import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { needsAccepting } from '@juncta/core/people';
import { nameOf, placedIn, type SourceId } from '@juncta/core/stage';
import { Key } from '../../look/keys/key';
import { RoomLink } from '../../people/room/room-link';
import { StandIns } from '../../people/room/stand-ins';
import { ComposingDesk } from '../composing-desk';
import { StageLink } from '../stage-link';
import { stageTexts } from '../stage.texts';
import { WhoComposes } from '../who-composes';

/** Lets go of a source that is not on programme: of this desk's own, of what a guest gave, or of a stand-in guest. */
@Component({
  selector: 'jn-drop-key',
  imports: [Key],
  template: `
    @switch (what()) {
      @case ('stand_in') {
        <button
          jnKey
          type="button"
          [disabled]="standIns.busy()"
          [attr.aria-label]="texts.sendAwayName(name())"
          (click)="drop()"
        >
          {{ texts.sendAway }}
        </button>
      }
      @case (null) {}
      @default {
        <button jnKey type="button" [attr.aria-label]="texts.dropName(name())" (click)="drop()">
          {{ texts.drop }}
        </button>
      }
    }
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DropKey {
  protected readonly standIns = inject(StandIns);
  private readonly desk = inject(ComposingDesk);
  private readonly room = inject(RoomLink);
  private readonly stage = inject(StageLink);
  private readonly composes = inject(WhoComposes).isHere;
  protected readonly texts = stageTexts;

  readonly source = input.required<SourceId>();
  readonly name = input.required<string>();
  readonly dropped = output();

  /** Null: there is nothing to let go of, or not from this desk. */
  protected readonly what = computed(() => {
    const source = this.source();
    const { sources, programme } = this.stage.stage();
    if (placedIn(programme).includes(source)) return null;
    if (!needsAccepting(source) && this.standIns.personIds().includes(nameOf(source).owner))
      return 'stand_in';
    const origin = sources.find((one) => one.source === source)?.origin;
    if (origin === undefined) return null;
    if (origin === 'guest') return needsAccepting(source) ? 'guest' : null;
    if (origin === 'outside') return 'outside';
    return this.composes() ? 'desk' : null;
  });

  protected drop(): void {
    const source = this.source();
    const what = this.what();
    if (what === 'stand_in') void this.standIns.sendAway(nameOf(source).owner);
    if (what === 'guest') this.room.accept(source, false);
    if (what === 'desk' || what === 'outside') this.desk.dropSource(source);
    this.dropped.emit();
  }
}
