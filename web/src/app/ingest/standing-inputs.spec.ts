import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideStore } from '@ngrx/store';
import { programmeFeature } from '../programme/programme.feature';
import { outsideInput } from '../testing/inputs';
import { SHOW } from '../testing/programme';
import { ShowInputs } from './show-inputs';
import { StandingInputs } from './standing-inputs';

describe('the team’s own inputs', () => {
  let fixture: ComponentFixture<StandingInputs>;
  let http: HttpTestingController;
  const element = () => fixture.nativeElement as HTMLElement;
  const key = (name: string) =>
    [...element().querySelectorAll('button')].find(({ textContent }) => textContent.trim() === name)!;

  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [programmeFeature.name]: programmeFeature.reducer }),
      ],
    });
    http = TestBed.inject(HttpTestingController);
    TestBed.inject(ShowInputs).open(SHOW);
    const standing = [
      { id: 'hall', name: 'Hall', transport: 'rtmp', bookedTo: null },
      { id: 'roof', name: 'Roof', transport: 'srt', bookedTo: { showId: 'other', title: 'The next' } },
    ];
    http
      .expectOne(`/api/shows/${SHOW}/inputs`)
      .flush({ inputs: [], standing, hasSrt: true, hasStandIns: false });
    fixture = TestBed.createComponent(StandingInputs);
    await fixture.whenStable();
  });

  it('come here at once where no show has them', async () => {
    key('Book “Hall” here').click();
    const request = http.expectOne(`/api/shows/${SHOW}/inputs/hall/booking`);
    expect(request.request.body).toEqual({ isBooked: true });
    request.flush({ inputs: [outsideInput()], standing: [], hasSrt: true, hasStandIns: false });
    await fixture.whenStable();
    expect(element().textContent).not.toContain('Hall');
  });

  it('are taken from another show on the second press, which names it', async () => {
    expect(element().textContent).toContain('booked to “The next”');
    key('Book “Roof” here').click();
    await fixture.whenStable();
    http.expectNone(`/api/shows/${SHOW}/inputs/roof/booking`);
    key('Take it from “The next”').click();
    http.expectOne(`/api/shows/${SHOW}/inputs/roof/booking`);
    expect(http.match(() => true).length).toBe(0);
  });
});
