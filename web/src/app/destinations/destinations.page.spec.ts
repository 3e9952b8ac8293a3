import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { provideStore, Store } from '@ngrx/store';
import { provideEffects } from '@ngrx/effects';
import { EventFeed } from '../api/event-feed';
import * as destinationsEffects from './destinations.effects';
import { destinationsFeature } from './destinations.feature';
import { DestinationsPage } from './destinations.page';
import { tower } from '../testing/destinations';
import { TeamActions } from '../team/team.actions';
import { teamFeature } from '../team/team.feature';

const destination = tower();

describe('the page of destinations', () => {
  it('adds one, and says at each field what is wrong', async () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideRouter([]),
        provideStore({
          [teamFeature.name]: teamFeature.reducer,
          [destinationsFeature.name]: destinationsFeature.reducer,
        }),
        provideEffects(destinationsEffects),
        { provide: EventFeed, useValue: { follow: () => undefined } },
      ],
    });
    const member = { id: 'm', name: 'Teo', email: '', role: 'producer' };
    TestBed.inject(Store).dispatch(
      TeamActions.sessionKnown({ session: { member, guest: null, demo: true } as never }),
    );
    const fixture = TestBed.createComponent(DestinationsPage);
    const element = fixture.nativeElement as HTMLElement;
    const backend = TestBed.inject(HttpTestingController);
    backend.expectOne('/api/destinations').flush({ destinations: [], seq: 0 });
    fixture.detectChanges();
    expect(element.textContent).toContain('There is no destination yet.');
    const key = [...element.querySelectorAll('button')].find((one) =>
      one.textContent.includes('by address and key'),
    );
    key!.click();
    fixture.detectChanges();
    element.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }));
    const fields = [{ field: 'address', code: 'empty', sentence: 'The server address is missing.' }];
    const asked = backend.expectOne('/api/destinations');
    expect(asked.request.method).toBe('POST');
    const first = asked.request.body as { id: string };
    asked.flush({ code: 'bad_input', sentence: 'x', fields }, { status: 400, statusText: 'Bad' });
    fixture.detectChanges();
    expect(element.querySelector('#address-problem')!.textContent).toBe('The server address is missing.');
    element.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }));
    const again = backend.expectOne('/api/destinations');
    expect((again.request.body as { id: string }).id)
      .withContext('the same, asked once more')
      .toBe(first.id);
    again.flush(destination);
    fixture.detectChanges();
    expect(element.textContent).toContain('Our tower was added.');
    expect(element.querySelector('table')!.textContent).toContain('rtmps://tower.example/live');
  });
});
