import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import type { NamedDevice } from '../../stage/sources/devices';
import { nameOf, type SourceId } from '@juncta/core/stage';
import { Key } from '../../look/keys/key';
import { guestTexts } from '../people.texts';
import { RoomLink } from '../room/room-link';
import type { OwnSource } from './own-sources';

/** What a guest shows besides themselves: screens and further cameras, and what becomes of each. */
@Component({
  selector: 'jn-guest-extras',
  imports: [Key],
  template: `
    @if (rows().length > 0) {
      <ul class="plain">
        @for (row of rows(); track row.source) {
          <li>
            <span class="what">
              <strong>{{ row.words }}</strong>
              <span role="status">{{ row.state }}</span>
            </span>
            <button
              jnKey
              type="button"
              [attr.aria-label]="texts.stopName(row.words)"
              (click)="stopped.emit(row.source)"
            >
              {{ texts.stop }}
            </button>
          </li>
        }
      </ul>
    }
    @if (canShareScreen() || cameras().length > 0) {
      <p class="keys">
        @if (canShareScreen()) {
          <button jnKey type="button" [disabled]="busy()" (click)="shared.emit()">
            {{ texts.shareScreen }}
          </button>
        }
        @for (camera of cameras(); track camera.id) {
          <button jnKey type="button" [disabled]="busy()" (click)="added.emit(camera.id)">
            {{ texts.showCamera(camera.name) }}
          </button>
        }
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
    }
    li {
      display: flex;
      gap: var(--space-3);
      align-items: center;
      justify-content: space-between;
      padding-block: var(--space-1);
      border-bottom: 1px solid var(--rule);
    }
    .what {
      display: grid;
    }
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      margin: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GuestExtras {
  protected readonly texts = guestTexts;
  private readonly room = inject(RoomLink);

  /** Everything but the first camera. */
  readonly sources = input.required<readonly OwnSource[]>();
  /** Cameras that nothing uses yet. */
  readonly cameras = input.required<readonly NamedDevice[]>();
  readonly canShareScreen = input.required<boolean>();
  readonly busy = input.required<boolean>();
  readonly shared = output();
  readonly added = output<string>();
  readonly stopped = output<SourceId>();

  protected readonly rows = computed(() =>
    this.sources().map(({ source }) => {
      const { kind, number } = nameOf(source);
      return {
        source,
        words: guestTexts.own[kind === 'screen' ? 'screen' : 'camera'](number),
        state: this.state(source),
      };
    }),
  );

  private state(source: SourceId): string {
    const view = this.room.view();
    const you = view?.people.find(({ personId }) => personId === view.you);
    const known = you?.sources.find((one) => one.source === source);
    if (!known?.isAccepted) return guestTexts.offered;
    if (!view?.stage.some((one) => one.source === source)) return guestTexts.accepted;
    return you?.sign === 'on_air' ? guestTexts.shownOnAir : guestTexts.shown;
  }
}
