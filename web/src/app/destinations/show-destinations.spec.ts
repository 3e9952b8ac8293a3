import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { provideStore, Store } from '@ngrx/store';
import { provideEffects } from '@ngrx/effects';
import { EventFeed } from '../api/event-feed';
import { ListingsActions } from '../listings/listings.actions';
import { listingsFeature } from '../listings/listings.feature';
import * as destinationsEffects from './destinations.effects';
import { destinationsFeature } from './destinations.feature';
import { lookAtListings } from '../testing/listings';
import { ShowDestinations } from './show-destinations';
import { tower } from '../testing/destinations';

const PATH = '/api/shows/s/destinations';
const THREE = ['a', 'b', 'c'].map((id) => ({ ...tower(), id, name: id }));

describe('where a show goes', () => {
  let fixture: ComponentFixture<ShowDestinations>;
  let backend: HttpTestingController;
  let element: HTMLElement;

  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideRouter([]),
        { provide: EventFeed, useValue: { follow: () => undefined } },
        provideStore({
          [listingsFeature.name]: listingsFeature.reducer,
          [destinationsFeature.name]: destinationsFeature.reducer,
        }),
        provideEffects(destinationsEffects),
      ],
    });
    fixture = TestBed.createComponent(ShowDestinations);
    fixture.componentRef.setInput('showId', 's');
    fixture.componentRef.setInput('readOnly', false);
    backend = TestBed.inject(HttpTestingController);
    element = fixture.nativeElement as HTMLElement;
    await fixture.whenStable();
    backend.expectOne('/api/destinations').flush({ destinations: THREE, seq: 0 });
    await fixture.whenStable();
  });

  const goesTo = async (...ids: string[]) => {
    lookAtListings(TestBed.inject(Store), 's', {
      destinations: THREE.filter(({ id }) => ids.includes(id)),
      listings: [],
    });
    await fixture.whenStable();
  };
  const boxes = () => [...element.querySelectorAll<HTMLInputElement>('[type=checkbox]')];
  const ticked = () => boxes().map(({ checked }) => checked);
  const saved = async (destinationIds: string[], answer: () => void) => {
    const asked = backend.expectOne(({ method, url }) => method === 'PUT' && url === PATH);
    expect((asked.request.body as { destinationIds: string[] }).destinationIds).toEqual(destinationIds);
    answer();
    asked.flush({ destinations: THREE.filter(({ id }) => destinationIds.includes(id)) });
    await Promise.resolve();
    await new Promise((later) => setTimeout(later));
  };
  const nothing = () => undefined;
  const asksToStay = () => {
    // The runner of these specs takes a real `beforeunload` for the end of them.
    const leave = new Event('leave', { cancelable: true });
    fixture.componentInstance.onLeave(leave);
    return leave.defaultPrevented;
  };

  it('is said when it is known, and not before', async () => {
    expect(boxes()).toEqual([]);
    expect(element.textContent).toContain('Reading where it goes');
    expect(element.textContent).not.toContain('would reach nobody');
    await goesTo('c');
    expect(element.textContent).not.toContain('Reading where it goes');
    expect(boxes().map(({ disabled }) => disabled)).toEqual([false, false, false]);
    expect(ticked()).toEqual([false, false, true]);
  });

  it('is read again by hand when it could not be read', async () => {
    const error = { code: 'database_away', sentence: 'The database is away.' } as const;
    TestBed.inject(Store).dispatch(ListingsActions.failed({ error }));
    await fixture.whenStable();
    expect(element.textContent).toContain('The database is away.');
    element.querySelector<HTMLButtonElement>('button')!.click();
    backend.expectOne('/api/destinations').flush({ destinations: THREE, seq: 0 });
    await goesTo('a');
    expect(element.textContent).not.toContain('The database is away.');
    expect(ticked()).toEqual([true, false, false]);
  });

  it('is saved with every tick, and ticks that come faster than answers are saved together', async () => {
    await goesTo();
    expect(asksToStay()).toBe(false);
    for (const box of boxes()) box.click();
    await fixture.whenStable();
    expect(ticked()).toEqual([true, true, true]);
    expect(asksToStay()).withContext('while it is being saved').toBe(true);
    await saved(['a'], nothing);
    await saved(['a', 'b', 'c'], nothing);
    backend.expectNone(PATH);
    expect(asksToStay()).toBe(false);
  });

  it('is saved even when whoever ticked has gone on to another page', async () => {
    await goesTo();
    for (const box of boxes()) box.click();
    await saved(['a'], () => fixture.destroy());
    await saved(['a', 'b', 'c'], nothing);
    backend.expectNone(PATH);
  });

  it('goes back to what holds when it was not saved, and says why', async () => {
    await goesTo('b');
    boxes()[0]!.click();
    boxes()[2]!.click();
    await fixture.whenStable();
    expect(ticked()).toEqual([true, true, true]);
    const refusal = { code: 'not_ready', sentence: 'A feed goes there.' };
    backend.expectOne(PATH).flush(refusal, { status: 409, statusText: 'Conflict' });
    await new Promise((later) => setTimeout(later));
    await fixture.whenStable();
    expect(ticked()).toEqual([false, true, false]);
    expect(element.textContent).toContain('A feed goes there.');
    backend.expectNone(PATH);
  });
});
