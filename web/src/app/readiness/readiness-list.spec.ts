import { TestBed } from '@angular/core/testing';
import type { Destination } from '@juncta/contract/destinations';
import type { PlaceFinding } from '@juncta/core/readiness';
import { PageClock } from '../clock/page-clock';
import { ReadinessList } from './readiness-list';

const NOW = new Date(2027, 4, 20, 12, 0).getTime();
const MINUTE = 60_000;
const at = (hour: number, minute: number) => new Date(2027, 4, 20, hour, minute).getTime();

const finding = (change: Partial<PlaceFinding>): PlaceFinding => ({
  level: 'warning',
  code: 'will_lapse',
  destinationId: 'gu',
  field: null,
  deadlineMs: at(19, 13),
  fix: null,
  count: null,
  names: [],
  ...change,
});

describe('the list of what is not ready', () => {
  const shown = (findings: PlaceFinding[], mayFix = true) => {
    const clock = { now: () => NOW, nowMs: () => NOW };
    TestBed.configureTestingModule({ providers: [{ provide: PageClock, useValue: clock }] });
    const fixture = TestBed.createComponent(ReadinessList);
    const guildroad = { id: 'gu', code: 'GU', pattern: 'plain', rules: { place: 'Guildroad' } };
    fixture.componentRef.setInput('findings', findings);
    fixture.componentRef.setInput('destinations', [guildroad as unknown as Destination]);
    fixture.componentRef.setInput('deskMs', at(19, 0) - 40 * MINUTE);
    fixture.componentRef.setInput('mayFix', mayFix);
    fixture.detectChanges();
    return fixture;
  };
  const text = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();

  it('says what will happen, when, and what to do', () => {
    const { nativeElement } = shown([finding({})]);
    expect(text(nativeElement as Element)).toContain(
      'Guildroad will cancel the event at 19:13. Be on the desk by 18:20.',
    );
  });

  it('says the day of a deadline that is not today', () => {
    const { nativeElement } = shown([
      finding({ code: 'not_booked', deadlineMs: at(19, 0) + 24 * 60 * MINUTE }),
    ]);
    expect(text(nativeElement as Element)).toContain('possible until Fri 21 May 19:00');
  });

  it('offers what mends it, and hands that on', () => {
    const fixture = shown([finding({ code: 'not_booked', fix: { kind: 'book' } })]);
    const fixed: PlaceFinding[] = [];
    fixture.componentInstance.fixed.subscribe((one) => fixed.push(one));
    const key = (fixture.nativeElement as Element).querySelector('button')!;
    expect(key.getAttribute('aria-label')).toMatch(/^Book: Not booked at Guildroad/);
    key.click();
    expect(fixed.map(({ code }) => code)).toEqual(['not_booked']);
  });

  it('leads to the field where nothing can be mended by one press', () => {
    const fixture = shown([finding({ code: 'disclosure_missing', field: 'disclosure' })]);
    const edited: PlaceFinding[] = [];
    fixture.componentInstance.edited.subscribe((one) => edited.push(one));
    (fixture.nativeElement as Element).querySelector('button')!.click();
    expect(edited.map(({ field }) => field)).toEqual(['disclosure']);
  });

  it('offers nothing to whoever may change nothing', () => {
    const { nativeElement } = shown([finding({ fix: { kind: 'book' } })], false);
    expect((nativeElement as Element).querySelector('button')).toBeNull();
  });

  it('says that every rule is met', () => {
    expect(text(shown([]).nativeElement as Element)).toBe('Every rule that we know is met.');
  });
});
