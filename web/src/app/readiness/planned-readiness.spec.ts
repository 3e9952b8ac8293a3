import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Listing } from '@juncta/contract/listings';
import { provideStore } from '@ngrx/store';
import { provideMockActions } from '@ngrx/effects/testing';
import { EMPTY } from 'rxjs';
import { EventFeed } from '../api/event-feed';
import { showsFeature } from '../shows/shows.feature';
import { tower } from '../testing/destinations';
import { draftListing } from '../testing/listings';
import { PlannedReadiness } from './planned-readiness';

describe('the readiness of all shows', () => {
  /** How the page is told of listings and places, and from which number on. */
  let followed: { stream: string; after: number; deliver: () => void } | null;
  let backend: HttpTestingController;

  beforeEach(() => {
    jasmine.clock().install().mockDate();
    followed = null;
    const follow = (_who: string, stream: string, after: number, _afresh: () => void, deliver: () => void) =>
      (followed = { stream, after, deliver });
    TestBed.configureTestingModule({
      providers: [
        PlannedReadiness,
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [showsFeature.name]: showsFeature.reducer }),
        provideMockActions(() => EMPTY),
        { provide: EventFeed, useValue: { follow, unfollow: () => (followed = null) } },
      ],
    });
    backend = TestBed.inject(HttpTestingController);
  });
  afterEach(() => jasmine.clock().uninstall());

  const answer = (listings: Listing[], seq: number) => {
    const shows = [{ showId: 's', listings, clashes: [] }];
    backend.expectOne('/api/planned-listings').flush({ destinations: [tower()], shows, seq });
    backend.expectOne('/api/house-defaults').flush({ team: {}, bySeries: {}, atDeskMinutes: 30 });
    backend.expectOne('/api/accounts').flush({ accounts: [], connectable: [] });
  };

  it('is read again soon after a listing of any show has changed, and follows on from there', () => {
    const readiness = TestBed.inject(PlannedReadiness);
    backend.expectOne('/api/encoding-machine').flush({ machine: null });
    answer([draftListing()], 4);
    expect([followed!.stream, followed!.after]).toEqual(['destinations', 4]);
    expect(readiness.destinations().length).toBe(1);
    for (let i = 0; i < 3; i++) followed!.deliver();
    backend.expectNone('/api/planned-listings');
    jasmine.clock().tick(300);
    answer([draftListing({ state: 'booked' })], 7);
    expect(followed!.after).toBe(7);
    backend.verify();
  });

  it('is followed no longer once the page is left', () => {
    TestBed.inject(PlannedReadiness);
    answer([], 1);
    TestBed.resetTestingModule();
    expect(followed).toBeNull();
  });
});
