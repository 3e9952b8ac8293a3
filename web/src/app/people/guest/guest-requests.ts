import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import type { Asked } from '@juncta/core/people';
import { sourceId } from '@juncta/core/stage';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { guestTexts } from '../people.texts';
import { RoomLink } from '../room/room-link';

/** What the team asks of a guest, which only they can do; and what the team has turned off. */
@Component({
  selector: 'jn-guest-requests',
  imports: [Key, Notice],
  template: `
    @for (what of asked(); track what) {
      <jn-notice kind="look">
        {{ texts.asked[what].text }}
        <span class="keys">
          <button jnKey type="button" [first]="true" (click)="done.emit(what)">
            {{ texts.asked[what].done }}
          </button>
          <button jnKey type="button" (click)="room.decline(what)">{{ texts.notNow }}</button>
        </span>
      </jn-notice>
    }
    @if (off(); as text) {
      <jn-notice>{{ text }}</jn-notice>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
    }
    :host:empty {
      display: none;
    }
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      margin-top: var(--space-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GuestRequests {
  protected readonly texts = guestTexts;
  protected readonly room = inject(RoomLink);
  readonly done = output<Asked>();

  private readonly you = computed(() => {
    const view = this.room.view();
    return view?.people.find(({ personId }) => personId === view.you);
  });
  protected readonly asked = computed(() => this.you()?.asked ?? []);
  protected readonly off = computed(() => {
    const you = this.you();
    const onStage =
      you && this.room.view()?.stage.find(({ source }) => source === sourceId('camera', you.personId));
    if (!onStage) return null;
    if (!onStage.isHeard) return onStage.isSeen ? guestTexts.mutedByTeam : guestTexts.bothByTeam;
    return onStage.isSeen ? null : guestTexts.hiddenByTeam;
  });
}
