import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { DrillReport } from '@juncta/contract/drill';
import { provideStore } from '@ngrx/store';
import { tower } from '../testing/destinations';
import { DrillPanel } from './drill-panel';

const report = (change: Partial<DrillReport> = {}): DrillReport => ({
  startedAtMs: 0,
  endedAtMs: null,
  scriptEndsS: null,
  places: [
    {
      destinationId: 'd',
      held: false,
      feed: {
        destinationId: 'd',
        state: 'on_air',
        sinceMs: 0,
        attempt: 0,
        reason: null,
        placeSays: null,
        bitrateKbps: 4000,
        onAirMs: 0,
        leftOutFrames: 0,
        still: null,
      },
      timeline: [
        { seen: 'picture', seconds: 40 },
        { seen: 'slate', seconds: 7 },
      ],
    },
  ],
  faults: [{ atS: 40, kind: 'uplink_cut', destinationId: null, seconds: 8 }],
  ...change,
});

describe('a drill at the desk', () => {
  let fixture: ComponentFixture<DrillPanel>;
  let element: HTMLElement;
  let http: HttpTestingController;

  async function setUp(goesOn: boolean, drill: DrillReport | null): Promise<void> {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({}),
      ],
    });
    http = TestBed.inject(HttpTestingController);
    fixture = TestBed.createComponent(DrillPanel);
    for (const [name, value] of Object.entries({
      showId: 's',
      destinations: [tower()],
      goesOn,
      mayRun: true,
      canBegin: !goesOn,
    }))
      fixture.componentRef.setInput(name, value);
    fixture.detectChanges();
    element = fixture.nativeElement as HTMLElement;
    await new Promise((later) => setTimeout(later));
    http.expectOne('/api/shows/s/drill').flush({ drill });
    await fixture.whenStable();
  }
  const key = (name: string) =>
    [...element.querySelectorAll('button')].find((one) => one.textContent.trim() === name);

  it('is offered before the show, with what it does', async () => {
    await setUp(false, null);
    expect(element.textContent).toContain('nothing leaves the house');
    expect(key('Report of the drill')).toBeUndefined();
    key('Begin a drill')!.click();
    http.expectOne({ method: 'POST', url: '/api/shows/s/drill' }).flush({ drill: report() });
  });

  it('never wears the red of on air, and says what viewers would see', async () => {
    await setUp(true, report());
    expect(element.querySelector('[data-tone="tally"]')).toBeNull();
    expect(element.textContent).toContain('Public, in the drill');
    expect(element.textContent).toContain('Viewers would see the slate.');
    expect(element.querySelector('jn-seen-strip [role="img"]')!.getAttribute('aria-label')).toBe(
      'the picture 40 s, the slate 7 s',
    );
  });

  it('causes a fault at the place that was chosen, for its usual time', async () => {
    await setUp(true, report());
    const select = element.querySelector('select')!;
    select.value = 'stall d';
    key('Cause it')!.click();
    const asked = http.expectOne('/api/shows/s/drill/faults');
    expect(asked.request.body).toEqual({ kind: 'stall', destinationId: 'd', seconds: 8 });
    asked.flush(
      { code: 'not_ready', sentence: 'No drill goes on. Begin one first.' },
      { status: 409, statusText: '' },
    );
    await fixture.whenStable();
    expect(element.textContent).toContain('No drill goes on.');
  });

  it('keeps its report once it is over', async () => {
    await setUp(false, report({ endedAtMs: 47_000 }));
    expect(key('Report of the drill')).toBeDefined();
    expect(key('Begin a drill')).toBeDefined();
  });
});
