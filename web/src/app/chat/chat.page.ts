import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
  viewChild,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Store } from '@ngrx/store';
import { EventFeed } from '../api/event-feed';
import { isTyping } from '../look/is-typing';
import { Notice } from '../look/notice';
import { RelayActions } from '../relay/relay.actions';
import { shellTexts } from '../shell/shell.texts';
import { showsFeature } from '../shows/shows.feature';
import { ANSWER_KEY, ASIDE_KEY, PUT_KEY, QUESTION_KEY, WRITE_KEY } from './chat-keys';
import { ChatPanel } from './chat-panel';
import { chatTexts } from './chat.texts';

/** Viewers' messages alone: for a moderator's own screen, or a tablet. */
@Component({
  selector: 'jn-chat-page',
  imports: [ChatPanel, Notice, RouterLink],
  template: `
    @if (show(); as show) {
      <header>
        <h1>{{ texts.aloneTitle }}</h1>
        <a [routerLink]="['/desk', show.id]">{{ show.text.title }}</a>
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
  host: { class: 'night', '(document:keydown)': 'onKey($event)' },
})
export class ChatPage {
  private readonly store = inject(Store);
  private readonly modal = inject(NgbModal);
  protected readonly texts = chatTexts;
  protected readonly lost = shellTexts.lost;
  protected readonly connected = inject(EventFeed).connected;

  readonly showId = input.required<string>();
  private readonly chat = viewChild(ChatPanel);
  private readonly entities = this.store.selectSignal(showsFeature.selectEntities);
  protected readonly show = computed(() => this.entities()[this.showId()] ?? null);

  constructor() {
    // The panel draws the destinations' tiles.
    effect(() => {
      const showId = this.showId();
      untracked(() => this.store.dispatch(RelayActions.opened({ showId })));
    });
  }

  protected onKey(event: KeyboardEvent): void {
    if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey || this.modal.hasOpenModals())
      return;
    const chat = this.chat();
    const acts: Readonly<Record<string, () => void>> = {
      [PUT_KEY]: () => chat?.putChosen(),
      [ANSWER_KEY]: () => chat?.answerChosen(),
      [QUESTION_KEY]: () => chat?.lineUpChosen(),
      [ASIDE_KEY]: () => chat?.setAsideChosen(),
      [WRITE_KEY]: () => chat?.focusWriter(),
      ArrowUp: () => chat?.step(-1),
      ArrowDown: () => chat?.step(1),
    };
    const act = acts[event.key];
    if (!act) return;
    act();
    event.preventDefault();
  }
}
