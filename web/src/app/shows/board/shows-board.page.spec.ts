import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { Show } from '@juncta/contract/shows';
import { provideStore, Store } from '@ngrx/store';
import { TeamActions } from '../../team/team.actions';
import { teamFeature } from '../../team/team.feature';
import { ShowsActions } from '../shows.actions';
import { ShowsBoardPage } from './shows-board.page';
import { showsFeature } from '../shows.feature';
import { plannedShow as show } from '../../testing/shows';

describe('the board of shows', () => {
  let fixture: ComponentFixture<ShowsBoardPage>;
  let element: HTMLElement;
  let store: Store;

  beforeEach(() => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideRouter([]),
        provideStore({
          [teamFeature.name]: teamFeature.reducer,
          [showsFeature.name]: showsFeature.reducer,
        }),
      ],
    });
    store = TestBed.inject(Store);
    fixture = TestBed.createComponent(ShowsBoardPage);
    element = fixture.nativeElement as HTMLElement;
    fixture.detectChanges();
  });
  afterEach(() => TestBed.inject(HttpTestingController).match('/api/clock'));

  const know = (...shows: Show[]) => {
    store.dispatch(ShowsActions.known({ shows, series: [], seq: 0 }));
    fixture.detectChanges();
  };
  const rows = () => [...element.querySelectorAll('tbody tr .name')].map((name) => name.textContent.trim());
  const press = (label: string) => {
    [...element.querySelectorAll('button')].find((one) => one.textContent.includes(label))!.click();
    fixture.detectChanges();
  };

  it('says that it is reading, and what belongs here when there is nothing', () => {
    expect(element.textContent).toContain('Reading the shows');
    know();
    expect(element.textContent).toContain('No show here yet');
  });

  it('offers a new show only to whoever may make one', () => {
    know();
    expect(element.querySelector('a[href="/shows/new"]')).toBeNull();
    const member = { id: 'm', name: 'Teo', email: '', role: 'producer' } as const;
    store.dispatch(TeamActions.signedIn({ session: { member, demo: true } }));
    fixture.detectChanges();
    expect(element.querySelectorAll('a[href="/shows/new"]').length).toBe(2);
  });

  it('stands in order of the start, those without one last', () => {
    know(show('undated', null), show('late', 20), show('soon', 2));
    expect(rows()).toEqual(['Show soon', 'Show late', 'Show undated']);
  });

  it('parts what is coming from what is over and put away, the newest first there', () => {
    const over = (id: string, days: number) => show(id, days, { startedAtMs: 1, endedAtMs: 2 });
    know(show('soon', 2), over('older', -9), over('newer', -3), show('away', 5, { archivedAtMs: 1 }));
    expect(rows()).toEqual(['Show soon']);
    press('Over');
    expect(rows()).toEqual(['Show newer', 'Show older']);
    press('Put away');
    expect(rows()).toEqual(['Show away']);
  });

  it('finds shows by all words, in title and people', () => {
    know(show('rye', 2), show('oats', 3));
    const find = element.querySelector<HTMLInputElement>('input[type=search]')!;
    for (const [words, found] of [
      ['RYE', ['Show rye']],
      ['odalys oats', ['Show oats']],
      ['rye oats', []],
    ] as const) {
      find.value = words;
      find.dispatchEvent(new Event('input'));
      fixture.detectChanges();
      expect(rows()).toEqual([...found]);
    }
    expect(element.textContent).toContain('No show here fits these words.');
  });

  it('shows the first row beside it until another is chosen, and follows the line to where a show stands', () => {
    know(show('soon', 2), show('later', 3), show('past', -0.5, { startedAtMs: 1, endedAtMs: 2 }));
    const beside = () => element.querySelector('jn-chosen-show h2')!.textContent;
    expect(beside()).toBe('Show soon');
    press('Show later');
    expect(beside()).toBe('Show later');
    element.querySelectorAll<HTMLButtonElement>('jn-time-line .mark[aria-label*="past"]')[0]!.click();
    fixture.detectChanges();
    expect(beside()).toBe('Show past');
    expect(rows()).toEqual(['Show past']);
  });

  it('keeps what it shows when it cannot be read again, and says so', () => {
    know(show('soon', 2));
    store.dispatch(
      ShowsActions.failed({ error: { code: 'database_away', sentence: 'The database is away.' } }),
    );
    fixture.detectChanges();
    expect(rows()).toEqual(['Show soon']);
    expect(element.querySelector('[role=alert]')!.textContent).toContain('The database is away.');
  });
});
