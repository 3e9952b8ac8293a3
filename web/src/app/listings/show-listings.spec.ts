import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideStore } from '@ngrx/store';
import { listingsFeature } from './listings.feature';
import { showsFeature } from '../shows/shows.feature';
import { ShowListings } from './show-listings';
import { draftListing } from '../testing/listings';

describe('what is changed about a listing', () => {
  it('is saved in its order, and before anything is booked with it', async () => {
    TestBed.configureTestingModule({
      providers: [
        ShowListings,
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({
          [listingsFeature.name]: listingsFeature.reducer,
          [showsFeature.name]: showsFeature.reducer,
        }),
      ],
    });
    const listings = TestBed.inject(ShowListings);
    const backend = TestBed.inject(HttpTestingController);
    listings.showId.set('s');
    const first = listings.save('d', { title: 'One' });
    const second = listings.save('d', { title: 'Two' });
    const booked = listings.book(['d']);
    await Promise.resolve();
    // What cannot be saved holds up nothing.
    backend
      .expectOne('/api/shows/s/listings/d')
      .flush({ code: 'changed_meanwhile', sentence: 'No.' }, { status: 409, statusText: 'Conflict' });
    await first;
    const asked = backend.expectOne('/api/shows/s/listings/d');
    expect(asked.request.body).toEqual({ title: 'Two' });
    backend.expectNone('/api/shows/s/bookings');
    asked.flush(draftListing({ title: 'Two' }));
    await second;
    await Promise.resolve();
    backend.expectOne('/api/shows/s/bookings').flush({ outcomes: [] });
    await booked;
    expect(listings.error()).toBeNull();
    backend.expectNone('/api/shows/s/listings/d');
  });
});
