import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { Mark } from '@juncta/contract/marks';
import type { Role } from '@juncta/core/team';
import { provideStore, Store } from '@ngrx/store';
import { ProgrammeActions } from '../programme/programme.actions';
import { programmeFeature } from '../programme/programme.feature';
import { TeamActions } from '../team/team.actions';
import { teamFeature } from '../team/team.feature';
import { MarksPanel } from './marks-panel';

const mark = (id: string, showTimeMs: number, words = ''): Mark => ({
  id,
  showId: 's',
  showTimeMs,
  atMs: showTimeMs,
  words,
  by: 'Teo',
});

describe('marked moments', () => {
  let fixture: ComponentFixture<MarksPanel>;
  let element: HTMLElement;
  let store: Store;
  let backend: HttpTestingController;

  async function setUp(role: Role, showTimeMs: number | null): Promise<void> {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({
          [programmeFeature.name]: programmeFeature.reducer,
          [teamFeature.name]: teamFeature.reducer,
        }),
      ],
    });
    store = TestBed.inject(Store);
    backend = TestBed.inject(HttpTestingController);
    const member = { id: 'm', name: 'Teo', email: 't@house.example', role };
    store.dispatch(TeamActions.sessionKnown({ session: { member, guest: null, demo: true } as never }));
    store.dispatch(ProgrammeActions.opened({ showId: 's' }));
    store.dispatch(ProgrammeActions.programmeChanged({ programme: { showId: 's', showTimeMs } as never }));
    fixture = TestBed.createComponent(MarksPanel);
    fixture.componentRef.setInput('showId', 's');
    await fixture.whenStable();
    element = fixture.nativeElement as HTMLElement;
  }
  const times = () => [...element.querySelectorAll('li .figure')].map((one) => one.textContent);

  it('are put by one press, the latest stands first, and is named afterwards', async () => {
    await setUp('producer', 61_000);
    store.dispatch(ProgrammeActions.marksChanged({ showId: 's', marks: [mark('a', 1000, 'The oven')] }));
    element.querySelector('button')!.click();
    const asked = backend.expectOne(({ method }) => method === 'PUT');
    expect(asked.request.body).toEqual({ words: '' });
    const id = asked.request.url.split('/').at(-1)!;
    asked.flush({ marks: [mark('a', 1000, 'The oven'), mark(id, 61_000)] });
    await fixture.whenStable();
    expect(times()).toEqual(['0:01:01', '0:00:01']);
    const field = element.querySelector('input')!;
    expect(field.getAttribute('aria-label')).toBe('What happens at 0:01:01');
    field.value = 'The weir';
    field.dispatchEvent(new Event('change'));
    const named = backend.expectOne(({ method }) => method === 'PUT');
    expect([named.request.url.endsWith(id), named.request.body]).toEqual([true, { words: 'The weir' }]);
    // Those of another show are not put in here.
    store.dispatch(ProgrammeActions.marksChanged({ showId: 'other', marks: [] }));
    await fixture.whenStable();
    expect(times().length).toBe(2);
  });

  it('cannot be put while the show does not run, and what is refused is said', async () => {
    await setUp('producer', null);
    expect(element.querySelector('button')).toBeNull();
    fixture.componentInstance.mark();
    backend.expectNone(() => true);
    store.dispatch(ProgrammeActions.marksChanged({ showId: 's', marks: [mark('a', 1000)] }));
    await fixture.whenStable();
    element.querySelector('button')!.click();
    const body = { code: 'database_away', sentence: 'The database does not answer.' };
    backend
      .expectOne(({ method }) => method === 'DELETE')
      .flush(body, { status: 503, statusText: 'Unavailable' });
    await fixture.whenStable();
    expect(element.textContent).toContain('The database does not answer.');
    expect(times().length).toBe(1);
  });
});
