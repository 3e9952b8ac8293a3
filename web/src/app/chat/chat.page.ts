import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  untracked,
  viewChild,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { EventFeed } from '../api/event-feed';
import { Keyboard } from '../keyboard/keyboard';
import { Notice } from '../look/notice';
import { ListingsActions } from '../listings/listings.actions';
import { ProgrammeActions } from '../programme/programme.actions';
import { programmeFeature } from '../programme/programme.feature';
import { shellTexts } from '../shell/shell.texts';
import { ShowNow } from '../shows/plan/show-now';
import { showsFeature } from '../shows/shows.feature';
import { programmeWords } from '../stage/stage.texts';
import { chatShortcuts } from './list/chat-shortcuts';
import { ChatPanel } from './list/chat-panel';
import { chatTexts } from './chat.texts';

/** Viewers' messages alone: for a moderator's own screen, or a tablet. */
@Component({
  selector: 'jn-chat-page',
  imports: [ChatPanel, Notice, RouterLink, ShowNow],
  template: `
    @if (show(); as show) {
      <header>
        <h1>{{ texts.aloneTitle }}</h1>
        <a class="clip" [routerLink]="['/desk', show.id]" [title]="show.text.title">{{ show.text.title }}</a>
        <jn-show-now [show]="show" />
        @if (viewersSee(); as what) {
          <span role="status">{{ what }}</span>
        }
      </header>
      @if (!connected()) {
        <jn-notice kind="look">{{ lost }}</jn-notice>
      }
      <main>
        <jn-chat-panel [showId]="show.id" [over]="show.endedAtMs !== null" />
      </main>
    }
  `,
  styleUrl: './chat.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'night' },
})
export class ChatPage {
  private readonly store = inject(Store);
  protected readonly texts = chatTexts;
  protected readonly lost = shellTexts.lost;
  protected readonly connected = inject(EventFeed).connected;

  readonly showId = input.required<string>();
  private readonly chat = viewChild(ChatPanel);
  private readonly entities = this.store.selectSignal(showsFeature.selectEntities);
  protected readonly show = computed(() => this.entities()[this.showId()] ?? null);

  private readonly programme = this.store.selectSignal(programmeFeature.selectProgramme);
  /** What viewers get, in words; empty while nothing comes to the relay. */
  protected readonly viewersSee = computed(() => programmeWords[this.programme()?.state ?? 'waiting']);

  constructor() {
    inject(DestroyRef).onDestroy(inject(Keyboard).add(...chatShortcuts(() => this.chat())));
    effect(() => {
      const showId = this.showId();
      untracked(() => {
        this.store.dispatch(ProgrammeActions.opened({ showId }));
        // The panel draws the destinations' tiles.
        this.store.dispatch(ListingsActions.opened({ showId }));
      });
    });
  }
}
