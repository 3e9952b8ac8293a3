import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { OnProgramme } from '@juncta/contract/chat';
import { provideEffects } from '@ngrx/effects';
import { provideStore, Store } from '@ngrx/store';
import { programmeFeature } from '../../programme/programme.feature';
import { ComposingDesk } from '../../stage/composing-desk';
import { ChatActions } from '../chat.actions';
import { ProgrammeMessages } from './programme-messages';

describe('the message on the programme that this tab composes', () => {
  const shown: (string | null)[] = [];
  const composing = {
    status: signal('composing'),
    showId: signal<string | null>('ours'),
    showMessage: (message: { text: string } | null) => shown.push(message?.text ?? null),
  };
  const message = (text: string): OnProgramme => ({
    messageId: 'm',
    author: 'Ottoline',
    destinationId: 'd',
    text,
    remainingMs: 20_000,
  });
  const set = (showId: string, onProgramme: OnProgramme | null) => {
    TestBed.inject(Store).dispatch(
      ChatActions.programmeSet({ showId, onProgramme, atMs: performance.now() }),
    );
    TestBed.tick();
  };
  const known = (showId: string, onProgramme: OnProgramme | null) => {
    const rest = { messages: [], more: false, lines: [], floods: [], notes: [], practice: null, seq: 1 };
    const reactions = { counts: {}, lastMinute: 0 };
    TestBed.inject(Store).dispatch(
      ChatActions.known({ showId, onProgramme, ...rest, reactions, atMs: performance.now() }),
    );
    TestBed.tick();
  };

  beforeEach(() => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [programmeFeature.name]: programmeFeature.reducer }),
        provideEffects(),
        { provide: ComposingDesk, useValue: composing },
      ],
    });
    composing.status.set('composing');
    TestBed.inject(ProgrammeMessages);
    TestBed.tick();
    shown.length = 0;
  });

  it('is shown and taken off, whatever page is looked at', () => {
    set('ours', message('How warm is the oven?'));
    set('ours', null);
    expect(shown).toEqual(['How warm is the oven?', null]);
  });

  it('is not one of another show', () => {
    set('ours', message('ours'));
    set('another', message('theirs'));
    set('another', null);
    known('another', message('theirs too'));
    expect(shown).toEqual(['ours']);
  });

  it('is asked for when following went on with another show: it may have been hidden meanwhile', () => {
    set('ours', message('hidden in the meantime'));
    known('another', null);
    const asked = TestBed.inject(HttpTestingController).expectOne('/api/shows/ours/chat');
    asked.flush({ onProgramme: null });
    TestBed.tick();
    expect(shown).toEqual(['hidden in the meantime', null]);
  });

  it('is shown once the tab composes again, for as long as is left of it', () => {
    composing.status.set('idle');
    known('ours', message('later'));
    expect(shown).toEqual([]);
    composing.status.set('composing');
    TestBed.tick();
    expect(shown).toEqual(['later']);
  });
});
