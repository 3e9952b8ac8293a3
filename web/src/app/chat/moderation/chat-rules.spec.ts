import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { KeptRules } from '@juncta/contract/chat';
import { USUAL_RULES } from '@juncta/core/chat';
import { provideStore } from '@ngrx/store';
import { listingsFeature } from '../../listings/listings.feature';
import { ChatRules } from './chat-rules';

const PATH = '/api/shows/s/chat/rules';
const kept = (version: string, most = 600): KeptRules => ({
  version,
  rules: USUAL_RULES.map((rule) => ({
    ...rule,
    list: [...rule.list],
    where: [...rule.where],
    most: rule.kind === 'long' ? most : rule.most,
  })),
});

describe('the rules for messages', () => {
  let fixture: ComponentFixture<ChatRules>;
  let backend: HttpTestingController;
  let element: HTMLElement;

  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [listingsFeature.name]: listingsFeature.reducer }),
      ],
    });
    fixture = TestBed.createComponent(ChatRules);
    fixture.componentRef.setInput('showId', 's');
    fixture.componentRef.setInput('headingId', 'h');
    backend = TestBed.inject(HttpTestingController);
    element = fixture.nativeElement as HTMLElement;
    await fixture.whenStable();
    backend.expectOne(PATH).flush({ house: kept('h1'), show: null });
    await fixture.whenStable();
  });

  const press = async (label: string) => {
    [...element.querySelectorAll('button')].find((one) => one.textContent.trim() === label)!.click();
    await fixture.whenStable();
  };
  const long = () => element.querySelector<HTMLInputElement>('[aria-labelledby="rule-long"]')!;
  const setLong = async (most: number) => {
    long().valueAsNumber = most;
    long().dispatchEvent(new Event('change'));
    await fixture.whenStable();
  };

  it('are not lost by one press of Close', async () => {
    const closed = jasmine.createSpy('closed');
    fixture.componentInstance.closed.subscribe(closed);
    await setLong(80);
    await press('Close');
    expect(element.querySelector('[role=alert]')!.textContent).toContain('not saved yet');
    expect([closed.calls.count(), long().value]).toEqual([0, '80']);
    await press('Save');
    backend.expectOne(PATH).flush({ house: kept('h2', 80), show: null });
    await fixture.whenStable();
    expect(element.querySelector('[role=alert]')).toBeNull();
    await press('Close');
    expect(closed).toHaveBeenCalledTimes(1);
  });

  it('are not lost by one look at the show’s own', async () => {
    const ofShow = element.querySelectorAll<HTMLInputElement>('[name="rules-of"]')[1]!;
    await setLong(80);
    ofShow.click();
    await fixture.whenStable();
    expect(element.querySelector('[role=alert]')!.textContent).toContain('not saved yet');
    expect([ofShow.checked, long().value]).toEqual([false, '80']);
    ofShow.click();
    await fixture.whenStable();
    expect([ofShow.checked, long().value]).toEqual([true, '600']);
    expect(element.querySelector('[role=alert]')).toBeNull();
  });

  it('of the house are what one begins with when a show gets its own, and are left alone', async () => {
    element.querySelectorAll<HTMLInputElement>('[name="rules-of"]')[1]!.click();
    await fixture.whenStable();
    expect(element.textContent).toContain('It has none yet');
    await setLong(80);
    await press('Save');
    const asked = backend.expectOne(PATH);
    const body = asked.request.body as { of: string; version: string | null; rules: KeptRules['rules'] };
    expect([body.of, body.version]).toEqual(['show', null]);
    expect(body.rules.find(({ kind }) => kind === 'long')!.most).toBe(80);
    asked.flush({ house: kept('h1'), show: kept('s1', 80) });
    await fixture.whenStable();
    expect(element.textContent).toContain('They hold in this show instead of the house’s.');
    await press('Have none of its own');
    const dropped = backend.expectOne(PATH);
    expect(dropped.request.body).toEqual({ of: 'show', rules: null, version: 's1' });
    dropped.flush({ house: kept('h1'), show: null });
    await fixture.whenStable();
    expect(long().value).toBe('600');
  });

  it('that somebody else changed meanwhile are shown, or replaced on purpose', async () => {
    await setLong(80);
    await press('Save');
    const theirs = { house: kept('h2', 300), show: null };
    const refusal = { code: 'changed_meanwhile', sentence: 'Somebody else changed them.', current: theirs };
    const conflict = { status: 409, statusText: 'Conflict' };
    backend.expectOne(PATH).flush(refusal, conflict);
    await fixture.whenStable();
    expect(long().value).withContext('nothing of mine is lost').toBe('80');
    await press('Save mine all the same');
    const again = backend.expectOne(PATH);
    expect((again.request.body as { version: string }).version).toBe('h2');
    again.flush(refusal, conflict);
    await fixture.whenStable();
    await press('Show me theirs');
    expect(long().value).toBe('300');
    expect(element.querySelector('jn-notice')).toBeNull();
  });
});
