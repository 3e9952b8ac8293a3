import { provideHttpClient } from '@angular/common/http';
import { provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import type { ChatMessage } from '@juncta/contract/chat';
import type { Role } from '@juncta/core/team';
import { provideStore, type Store } from '@ngrx/store';
import { listingsFeature } from '../listings/listings.feature';
import { programmeFeature } from '../programme/programme.feature';
import { showsFeature } from '../shows/shows.feature';
import { TeamActions } from '../team/team.actions';
import { teamFeature } from '../team/team.feature';
import { ChatActions } from '../chat/chat.actions';
import { chatFeature } from '../chat/chat.feature';

export const SHOW = 's';

/** A viewer's message as it comes, for specs. */
export const message = (id: string, change: Partial<ChatMessage> = {}): ChatMessage => ({
  id,
  showId: SHOW,
  destinationId: 'd',
  kind: 'message',
  author: { id: 'ilse', name: 'Ilse', owner: false, badges: [], accountDays: null, otherShows: 0 },
  first: false,
  editedAtMs: null,
  takenBack: false,
  text: `Text of ${id}`,
  writtenAtMs: Number(id.replace(/\D/g, '')),
  showTimeMs: 61_000,
  showTimeAbout: false,
  replyTo: null,
  sentBy: null,
  standing: 'shown',
  by: null,
  hiddenThere: null,
  question: 'none',
  forHost: 'none',
  flood: null,
  takenBy: null,
  practice: false,
  ...change,
});

/** What the parts of the chat ask for, with a server that specs answer for. */
export const provideChat = () => [
  provideZonelessChangeDetection(),
  provideHttpClient(),
  provideHttpClientTesting(),
  provideStore({
    [chatFeature.name]: chatFeature.reducer,
    [listingsFeature.name]: listingsFeature.reducer,
    [programmeFeature.name]: programmeFeature.reducer,
    [showsFeature.name]: showsFeature.reducer,
    [teamFeature.name]: teamFeature.reducer,
  }),
];

/** Somebody of this role is signed in. */
export function signIn(store: Store, role: Role, name = 'Ingrid'): void {
  const member = { id: 'm', name, email: 'i@house.example', role };
  store.dispatch(TeamActions.sessionKnown({ session: { member, guest: null, demo: true } as never }));
}

/** The chat of {@link SHOW} as it was read. */
export const known = (
  messages: readonly ChatMessage[],
  change: Partial<Parameters<typeof ChatActions.known>[0]> = {},
) =>
  ChatActions.known({
    showId: SHOW,
    messages,
    more: false,
    lines: [],
    floods: [],
    notes: [],
    reactions: { counts: {}, lastMinute: 0 },
    onProgramme: null,
    practice: null,
    seq: 1,
    atMs: 0,
    ...change,
  });
