import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { Destination } from '@juncta/contract/destinations';
import { tower } from '../../testing/destinations';
import { TakesForm } from './takes-form';

describe('what a place takes at most', () => {
  let fixture: ComponentFixture<TakesForm>;
  let element: HTMLElement;
  let backend: HttpTestingController;
  let changed: Destination[];

  const show = (destination: Destination) => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()],
    });
    fixture = TestBed.createComponent(TakesForm);
    element = fixture.nativeElement as HTMLElement;
    backend = TestBed.inject(HttpTestingController);
    changed = [];
    fixture.componentInstance.changed.subscribe((one) => changed.push(one));
    fixture.componentRef.setInput('destination', destination);
    fixture.detectChanges();
  };
  const key = (label: string) =>
    [...element.querySelectorAll('button')].find((one) => one.textContent.trim() === label);
  const field = (id: string) => element.querySelector<HTMLInputElement>(`#takes-${id}`)!;
  const LIMIT = { shape: 'upright_halves' as const, maxHeight: 480, maxFramesPerS: 15, maxKbps: 1200 };

  it('is changed by its shape and its three figures, and nothing is sent before one is another', () => {
    show(tower());
    expect(key('Save')!.disabled).toBeTrue();
    expect(key('Forget these figures')).toBeUndefined();
    expect(field('lines').value).toBe('1080');
    for (const [id, value, event] of [
      ['shape', 'upright_halves', 'change'],
      ['lines', '480', 'change'],
      ['rate', '15', 'change'],
      ['kbps', '1200', 'input'],
    ] as const) {
      field(id).value = value;
      field(id).dispatchEvent(new Event(event));
    }
    fixture.detectChanges();
    expect(element.textContent).toContain('Pixels across');
    key('Save')!.click();
    const request = backend.expectOne('/api/destinations/d/limit');
    expect(request.request.body).toEqual({ limit: LIMIT });
    request.flush(tower({ encoderLimit: LIMIT }));
    expect(changed.map(({ encoderLimit }) => encoderLimit)).toEqual([LIMIT]);
  });

  it('is forgotten with one key, and a refusal is said', () => {
    show(tower({ encoderLimit: LIMIT }));
    key('Forget these figures')!.click();
    const body = { code: 'not_ready', sentence: 'Not now.' };
    backend.expectOne('/api/destinations/d/limit').flush(body, { status: 409, statusText: 'Conflict' });
    fixture.detectChanges();
    expect(element.textContent).toContain('Not now.');
    expect(changed).toEqual([]);
  });
});
