import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideStore, Store } from '@ngrx/store';
import { listingsFeature } from '../listings.feature';
import { ListingsActions } from '../listings.actions';
import { AdoptEvent } from './adopt-event';
import { draftListing } from '../../testing/listings';

describe('AdoptEvent', () => {
  it('finds what was made over there, and takes one for the listing', () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [listingsFeature.name]: listingsFeature.reducer }),
      ],
    });
    const fixture = TestBed.createComponent(AdoptEvent);
    const backend = TestBed.inject(HttpTestingController);
    const element = fixture.nativeElement as HTMLElement;
    const press = (label: RegExp) => {
      [...element.querySelectorAll('button')].find((one) => label.test(one.textContent))!.click();
      fixture.detectChanges();
    };
    fixture.componentRef.setInput('showId', 's');
    fixture.componentRef.setInput('destinationId', 'd');
    fixture.detectChanges();
    press(/Link an existing event/);
    const events = [
      { eventRef: 'e1', title: 'Made by hand', startsAtMs: null, pageUrl: 'https://p.example/e1' },
    ];
    backend.expectOne('/api/shows/s/listings/d/events').flush({ events });
    fixture.detectChanges();
    expect(element.textContent).toContain('Made by hand');
    expect(element.textContent).toContain('without a slot');
    const store = TestBed.inject(Store);
    const dispatched = spyOn(store, 'dispatch');
    press(/Take it/);
    const asked = backend.expectOne('/api/shows/s/listings/d/adopt');
    expect(asked.request.body).toEqual({ eventRef: 'e1' });
    const listing = draftListing({ state: 'booked' });
    asked.flush(listing);
    expect(dispatched).toHaveBeenCalledWith(ListingsActions.changed({ showId: 's', listing }) as never);
    // Another destination has others.
    fixture.componentRef.setInput('destinationId', 'x');
    fixture.detectChanges();
    TestBed.tick();
    fixture.detectChanges();
    expect(element.textContent).not.toContain('Made by hand');
  });
});
