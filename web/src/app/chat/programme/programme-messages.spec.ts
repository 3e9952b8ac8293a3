import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { ChatMessage, OnProgramme } from '@juncta/contract/chat';
import { changeGraphics, EMPTY_STAGE, NO_GRAPHICS, type BoxLine, type Stage } from '@juncta/core/stage';
import { provideStore } from '@ngrx/store';
import { Subject } from 'rxjs';
import { EventFeed } from '../../api/event-feed';
import { listingsFeature } from '../../listings/listings.feature';
import { ComposingDesk } from '../../stage/composing-desk';
import { StageLink } from '../../stage/stage-link';
import { message as written } from '../../testing/chat';
import { ProgrammeMessages } from './programme-messages';

describe('the message on the programme that this tab composes', () => {
  const shown: (string | null)[] = [];
  const inPicture: string[][] = [];
  const stage = signal<Stage>(EMPTY_STAGE);
  const composing = {
    status: signal('idle'),
    showId: signal<string | null>('ours'),
    showMessage: (message: { text: string } | null) => shown.push(message?.text ?? null),
    showChat: (lines: readonly BoxLine[]) => inPicture.push(lines.map(({ text }) => text)),
  };
  /** Who follows what, from which number, and how they are told. */
  const followed = new Map<
    string,
    { stream: string; after: number; afresh: () => void; deliver: (event: object) => void }
  >();
  const feed = {
    follow: (
      who: string,
      stream: string,
      after: number,
      afresh: () => void,
      deliver: (event: object) => void,
    ) => followed.set(who, { stream, after, afresh, deliver }),
    unfollow: (who: string) => followed.delete(who),
  };
  const ours = () => [...followed.values()][0];
  const message = (text: string): OnProgramme => ({
    messageId: 'm',
    author: 'Ottoline',
    destinationId: 'd',
    text,
    remainingMs: 20_000,
  });
  const set = (onProgramme: OnProgramme | null) => {
    ours()!.deliver({ type: 'programme.set', payload: { showId: 'ours', onProgramme } });
    TestBed.tick();
  };
  const answer = (onProgramme: OnProgramme | null, seq = 7, messages: readonly ChatMessage[] = []) => {
    TestBed.inject(HttpTestingController)
      .expectOne('/api/shows/ours/chat')
      .flush({ onProgramme, messages, seq });
    TestBed.tick();
  };
  const compose = (status: 'composing' | 'idle') => {
    composing.status.set(status);
    TestBed.tick();
  };

  beforeEach(() => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [listingsFeature.name]: listingsFeature.reducer }),
        { provide: ComposingDesk, useValue: composing },
        { provide: EventFeed, useValue: feed },
        { provide: StageLink, useValue: { stage, changed: new Subject() } },
      ],
    });
    composing.status.set('idle');
    stage.set(EMPTY_STAGE);
    followed.clear();
    TestBed.inject(ProgrammeMessages);
    TestBed.tick();
    shown.length = inPicture.length = 0;
  });

  it('stands beside those in the picture, which follow what moderation says', () => {
    stage.set({
      ...EMPTY_STAGE,
      graphics: changeGraphics(NO_GRAPHICS, {
        type: 'chat',
        values: { isOn: true, delayS: 0, staysS: null },
      }),
    });
    const now = Date.now() - 60_000;
    const [first, second] = ['How warm is the oven?', 'And the flour?'].map((text, i) =>
      written(`m${i}`, { text, writtenAtMs: now + i }),
    ) as [ChatMessage, ChatMessage];
    compose('composing');
    answer(null, 7, [first]);
    expect(inPicture).toEqual([[first.text]]);
    const tell = (type: string, payload: object) => ours()!.deliver({ type, payload });
    jasmine.clock().install();
    try {
      tell('messages.added', { messages: [second] });
      expect(inPicture.length).withContext('others come in their time').toBe(1);
      jasmine.clock().tick(500);
      expect(inPicture.at(-1)).toEqual([first.text, second.text]);
    } finally {
      jasmine.clock().uninstall();
    }
    // Hidden: at once.
    tell('messages.added', { messages: [{ ...first, standing: 'hidden' }] });
    expect(inPicture.at(-1)).toEqual([second.text]);
    // A flood that grows says nothing of messages; one that is set aside does.
    tell('flood.changed', { flood: { id: 'f', answer: 'open' } });
    TestBed.inject(HttpTestingController).expectNone('/api/shows/ours/chat');
    tell('flood.changed', { flood: { id: 'f', answer: 'aside' } });
    answer(null, 9, [{ ...second, standing: 'aside' }]);
    expect(inPicture.at(-1)).toEqual([]);
  });

  it('is followed while the tab composes, whatever page is looked at', () => {
    expect(followed.size).toBe(0);
    compose('composing');
    answer(message('How warm is the oven?'));
    expect([ours()!.stream, ours()!.after]).toEqual(['chat/ours', 7]);
    set(null);
    set(message('And the flour?'));
    expect(shown.filter((text) => text !== null)).toEqual(['How warm is the oven?', 'And the flour?']);
    compose('idle');
    expect(followed.size).toBe(0);
  });

  it('is asked for where events are missing: it may have been hidden meanwhile', () => {
    compose('composing');
    answer(message('hidden in the meantime'));
    ours()!.afresh();
    answer(null, 5000);
    expect(shown.at(-1)).toBeNull();
    expect(ours()!.after).toBe(5000);
  });

  it('is shown once the tab composes again, for as long as is left of it', () => {
    compose('composing');
    answer(message('before'));
    compose('idle');
    shown.length = 0;
    compose('composing');
    answer(message('later'));
    expect(shown.at(-1)).toBe('later');
  });

  it('is asked for again when it could not be read', () => {
    jasmine.clock().install();
    try {
      compose('composing');
      const backend = TestBed.inject(HttpTestingController);
      backend.expectOne('/api/shows/ours/chat').flush('', { status: 503, statusText: 'Away' });
      jasmine.clock().tick(2000);
      answer(message('after all'));
      expect(shown.at(-1)).toBe('after all');
    } finally {
      jasmine.clock().uninstall();
    }
  });
});
