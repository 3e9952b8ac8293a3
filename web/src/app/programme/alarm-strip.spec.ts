import { provideHttpClient } from '@angular/common/http';
import { provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { ProgrammeView } from '@juncta/contract/programme';
import { provideStore, Store } from '@ngrx/store';
import { tower } from '../testing/destinations';
import { AlarmStrip } from './alarm-strip';
import { ProgrammeActions } from './programme.actions';
import { programmeFeature } from './programme.feature';
import { feed, programme, SHOW, view } from '../testing/programme';
import type { ListingsView } from '@juncta/contract/listings';
import { listingsFeature } from '../listings/listings.feature';
import { lookAtListings } from '../testing/listings';

const destination = tower();

describe('what needs a person', () => {
  async function strip(
    change: Partial<ProgrammeView>,
    silentSinceMs: number | null = null,
    listings: Partial<ListingsView> = {},
  ): Promise<HTMLElement> {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({
          [listingsFeature.name]: listingsFeature.reducer,
          [programmeFeature.name]: programmeFeature.reducer,
        }),
      ],
    });
    const store = TestBed.inject(Store);
    store.dispatch(ProgrammeActions.opened({ showId: SHOW }));
    store.dispatch(ProgrammeActions.known({ showId: SHOW, view: view(change) }));
    lookAtListings(store, SHOW, listings);
    const fixture = TestBed.createComponent(AlarmStrip);
    fixture.componentRef.setInput('silentSinceMs', silentSinceMs);
    await fixture.whenStable();
    return fixture.nativeElement as HTMLElement;
  }

  it('is that nothing is heard, unless it is covered and meant to be so', async () => {
    const running = programme({ runId: 'run', feeds: [feed()] });
    const silent = await strip({ programme: running }, Date.now() - 20_000);
    expect(silent.textContent).toContain('Viewers hear nothing. Is a microphone off?');
    TestBed.resetTestingModule();
    const covered = await strip({ programme: { ...running, state: 'covered' } }, Date.now() - 20_000);
    expect(covered.textContent.trim()).toBe('');
    TestBed.resetTestingModule();
    const heard = await strip({ programme: running });
    expect(heard.textContent.trim()).toBe('');
    // Whoever composes: the relay hears what goes out.
    for (const [silentMs, words] of [
      [14_000, ''],
      [16_000, 'Viewers hear nothing. Is a microphone off?'],
    ] as const) {
      TestBed.resetTestingModule();
      const elsewhere = await strip({ programme: { ...running, silentMs } });
      expect(elsewhere.querySelector('li')?.textContent.trim() ?? '').toBe(words);
    }
  });

  it('is said with its place and in the title of the page, and nothing else is', async () => {
    document.title = 'The desk';
    const feeds = [feed({ state: 'failed', reason: 'gave_up', sinceMs: Date.now() })];
    const element = await strip({ programme: programme({ feeds }) });
    expect(element.querySelector('[role="alert"]')!.textContent).toContain(
      `${destination.name} has failed. Start it again.`,
    );
    expect(document.title).toBe('! The desk');
    TestBed.resetTestingModule();
    expect(document.title).toBe('The desk');
    const calm = await strip({ programme: programme({ feeds: [feed({ state: 'recovering' })] }) });
    expect(calm.textContent.trim()).toBe('');
  });

  it('is nothing while a drill goes on', async () => {
    const feeds = [feed({ state: 'failed', sinceMs: Date.now() })];
    const element = await strip({ programme: programme({ feeds, isDrilled: true }) });
    expect(element.textContent.trim()).toBe('');
  });
});
