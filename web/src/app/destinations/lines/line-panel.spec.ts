import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { Destination, NamedRoute } from '@juncta/contract/destinations';
import { KEY_SHOWN_S, LinePanel } from './line-panel';
import { ShowRoutes } from './show-routes';
import { tower } from '../../testing/destinations';

const providers = [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()];

function press(fixture: ComponentFixture<unknown>, label: RegExp): void {
  const element = fixture.nativeElement as HTMLElement;
  const found = [...element.querySelectorAll('button')].find((one) => label.test(one.textContent));
  if (!found) throw new Error(`there is no key ${label.source}`);
  found.click();
  fixture.detectChanges();
}

describe('LinePanel', () => {
  let fixture: ComponentFixture<LinePanel>;
  let backend: HttpTestingController;
  const text = () => (fixture.nativeElement as HTMLElement).textContent;

  function show(destination: Destination): void {
    TestBed.configureTestingModule({ providers });
    fixture = TestBed.createComponent(LinePanel);
    backend = TestBed.inject(HttpTestingController);
    fixture.componentRef.setInput('destination', destination);
    fixture.detectChanges();
  }
  const withWay = (lineTest: object, change: Partial<Destination> = {}) => {
    const { rules } = tower();
    return tower({
      ...change,
      rules: { ...rules, capabilities: { ...rules.capabilities, lineTest } as never },
    });
  };

  describe('with a key', () => {
    beforeEach(() => jasmine.clock().install());
    afterEach(() => jasmine.clock().uninstall());

    it('shows it when it is asked for, and not for long', () => {
      show(tower());
      expect(text()).not.toContain('sesame');
      press(fixture, /Show for 20 s/);
      backend.expectOne('/api/destinations/d/key').flush({ key: 'sesame' });
      fixture.detectChanges();
      expect(text()).toContain('sesame');
      jasmine.clock().tick((KEY_SHOWN_S - 1) * 1000);
      fixture.detectChanges();
      expect(text()).toContain('Hidden again in 1 s.');
      jasmine.clock().tick(1000);
      fixture.detectChanges();
      expect(text()).not.toContain('sesame');
    });

    it('hides it when another destination is chosen', () => {
      show(tower());
      press(fixture, /Show for 20 s/);
      backend.expectOne('/api/destinations/d/key').flush({ key: 'sesame' });
      fixture.componentRef.setInput('destination', tower({ id: 'e' }));
      fixture.detectChanges();
      TestBed.tick();
      fixture.detectChanges();
      expect(text()).not.toContain('sesame');
    });
  });

  it('tries a line where nobody sees it with one press, and tells what came of it', () => {
    show(withWay({ kind: 'hidden_event', placements: null, settings: {}, slotInMinutes: null }));
    const told: Destination[] = [];
    fixture.componentInstance.changed.subscribe((one) => told.push(one));
    press(fixture, /Try the line/);
    expect(text()).toContain('are on their way');
    const asked = backend.expectOne('/api/destinations/d/line-test');
    expect(asked.request.body).toEqual({ sure: false });
    const lineTest = { atMs: 0, good: false, sentence: 'It said no.', roundTripMs: 8, kbps: null };
    asked.flush(tower({ lineTest }));
    expect(told[0]?.lineTest).toEqual(lineTest);
    fixture.componentRef.setInput('destination', told[0]);
    fixture.detectChanges();
    expect(text()).toContain('Not good');
    expect(text()).toContain('It said no.');
  });

  it('asks twice where nobody can say who sees it', () => {
    show(tower());
    press(fixture, /Try the line/);
    backend.expectNone('/api/destinations/d/line-test');
    press(fixture, /Viewers may see it/);
    expect(backend.expectOne('/api/destinations/d/line-test').request.body).toEqual({ sure: true });
  });

  it('offers no test where viewers would see it, and says so', () => {
    show(withWay({ kind: 'unsafe' }));
    expect(text()).toContain('cannot be tried beforehand');
    expect(() => press(fixture, /Try the line/)).toThrowError();
  });

  it('measures regions and lets one be chosen', () => {
    const { rules } = tower();
    const capabilities = { ...rules.capabilities, ingest: { ...rules.capabilities.ingest, regions: true } };
    show(tower({ accountId: 'a', rules: { ...rules, capabilities } }));
    press(fixture, /Measure/);
    backend.expectOne('/api/destinations/d/regions').flush({
      regions: [
        { region: 'north', roundTripMs: 1.2 },
        { region: 'west', roundTripMs: null },
      ],
      chosen: null,
      nearest: 'north',
    });
    fixture.detectChanges();
    expect(text()).toContain('1 ms');
    expect(text()).toContain('no answer');
    const radios = (fixture.nativeElement as HTMLElement).querySelectorAll<HTMLInputElement>('[type=radio]');
    expect(radios[0]!.checked).toBeTrue();
    radios[2]!.dispatchEvent(new Event('change'));
    expect(backend.expectOne('/api/destinations/d/region').request.body).toEqual({ region: 'west' });
  });
});

describe('ShowRoutes', () => {
  let fixture: ComponentFixture<ShowRoutes>;
  let backend: HttpTestingController;
  const element = () => fixture.nativeElement as HTMLElement;
  const route: NamedRoute = {
    id: 'r',
    name: 'Thursdays',
    destinations: [{ destinationId: 'd', settings: {} }],
  };

  function show(routes: NamedRoute[]): void {
    TestBed.configureTestingModule({ providers });
    fixture = TestBed.createComponent(ShowRoutes);
    backend = TestBed.inject(HttpTestingController);
    fixture.componentRef.setInput('showId', 's');
    fixture.componentRef.setInput('mayKeep', true);
    fixture.detectChanges();
    backend.expectOne('/api/routes').flush({ routes });
    fixture.detectChanges();
  }

  it('gives one to a show', () => {
    show([route]);
    let applied = 0;
    fixture.componentInstance.applied.subscribe(() => applied++);
    const select = element().querySelector('select')!;
    select.value = 'r';
    select.dispatchEvent(new Event('change'));
    fixture.detectChanges();
    press(fixture, /Send the show there/);
    backend.expectOne('/api/shows/s/route').flush({ destinationIds: ['d'] });
    fixture.detectChanges();
    expect(applied).toBe(1);
    expect(element().textContent).toContain('The show goes where Thursdays goes');
  });

  it('keeps one under a name that is taken by writing it anew', () => {
    show([route]);
    press(fixture, /Save as a route/);
    element().querySelector<HTMLInputElement>('#route-name')!.value = ' Thursdays ';
    element()
      .querySelector('form')!
      .dispatchEvent(new Event('submit', { cancelable: true }));
    const asked = backend.expectOne('/api/routes/r');
    expect(asked.request.body).toEqual({ name: ' Thursdays ', showId: 's' });
    const fields = [{ field: 'name', code: 'taken', sentence: 'That name is taken.' }];
    asked.flush({ code: 'bad_input', sentence: 'x', fields }, { status: 400, statusText: 'Bad' });
    fixture.detectChanges();
    expect(element().textContent).toContain('That name is taken.');
  });
});
