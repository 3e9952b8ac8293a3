import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideEffects } from '@ngrx/effects';
import { provideStore, Store } from '@ngrx/store';
import { ORDER_PATIENCE_MS } from './insisting';
import { ProgrammeActions } from './programme.actions';
import { orderEffect } from './programme.effects';
import { programmeFeature } from './programme.feature';

const SHOW = 's';
const END = `/api/shows/${SHOW}/end`;

describe('orders to the relay', () => {
  let http: HttpTestingController;
  let store: Store;
  const state = () => store.selectSignal(programmeFeature.selectProgrammeState)();

  beforeEach(() => {
    jasmine.clock().install();
    jasmine.clock().mockDate(new Date(2026, 10, 26));
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [programmeFeature.name]: programmeFeature.reducer }),
        provideEffects({ orderEffect }),
      ],
    });
    http = TestBed.inject(HttpTestingController);
    store = TestBed.inject(Store);
    store.dispatch(ProgrammeActions.opened({ showId: SHOW }));
  });
  afterEach(() => {
    http.verify();
    jasmine.clock().uninstall();
  });

  const away = (code: string) => ({
    body: { code, sentence: 'Away.' },
    answer: { status: 503, statusText: 'away' },
  });

  it('are given again while nobody is there to take them, and that is told', () => {
    store.dispatch(ProgrammeActions.endShow({ showId: SHOW }));
    http.expectOne(END).error(new ProgressEvent('error'));
    expect(state()).toEqual(jasmine.objectContaining({ busy: true, insisting: true, error: null }));
    for (const code of ['closing', 'relay_away', 'database_away']) {
      jasmine.clock().tick(1000);
      const { body, answer } = away(code);
      http.expectOne(END).flush(body, answer);
    }
    jasmine.clock().tick(1000);
    http.expectOne(END).flush({ showId: SHOW, state: 'slate' });
    expect(state()).toEqual(jasmine.objectContaining({ busy: false, insisting: false, error: null }));
    expect(state().programme!.state).toBe('slate');
  });

  it('are given up after a while, and say why', () => {
    store.dispatch(ProgrammeActions.endShow({ showId: SHOW }));
    for (let gone = 0; gone <= ORDER_PATIENCE_MS; gone += 1000) {
      http.expectOne(END).error(new ProgressEvent('error'));
      jasmine.clock().tick(1000);
    }
    http.expectOne(END).error(new ProgressEvent('error'));
    expect(state()).toEqual(jasmine.objectContaining({ busy: false, insisting: false }));
    expect(state().error!.sentence).toContain('does not answer');
    jasmine.clock().tick(5000);
  });

  it('are not given again when they were refused', () => {
    store.dispatch(ProgrammeActions.startFeed({ showId: SHOW, destinationId: 'd' }));
    const refusal = { code: 'not_ready', sentence: 'No picture yet.' };
    http
      .expectOne(`/api/shows/${SHOW}/feeds/d/start`)
      .flush(refusal, { status: 409, statusText: 'not ready' });
    jasmine.clock().tick(5000);
    expect(state()).toEqual(jasmine.objectContaining({ busy: false, insisting: false }));
    expect(state().error!.sentence).toBe('No picture yet.');
  });

  it('keep their order: what is pressed later waits for what was pressed before', () => {
    store.dispatch(ProgrammeActions.endShow({ showId: SHOW }));
    store.dispatch(ProgrammeActions.cover({ showId: SHOW, on: true }));
    http.expectOne(END).error(new ProgressEvent('error'));
    http.expectNone(`/api/shows/${SHOW}/cover`);
    jasmine.clock().tick(1000);
    http.expectOne(END).flush({ showId: SHOW, state: 'slate' });
    http.expectOne(`/api/shows/${SHOW}/cover`).flush({ showId: SHOW, state: 'covered' });
    expect(state().programme!.state).toBe('covered');
  });
});
