import { Component, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { ArmedKey } from '../keys/armed-key';
import { DISARM_AFTER_MS } from '../keys/arming';
import { Key } from '../keys/key';
import { TimeLine, type LineMark } from '../time/time-line';

@Component({
  imports: [ArmedKey, Key, TimeLine],
  template: `
    <jn-armed-key label="End" armedLabel="Press again" (fired)="fired.set(fired() + 1)" />
    <a jnKey href="/x" lamp="tally" says="on air" shortcut="L">Live</a>
    <jn-time-line
      [fromMs]="0"
      [toMs]="10000000"
      [nowMs]="5000000"
      [marks]="marks"
      [chosen]="chosen()"
      name="A line"
      nowWord="now"
      (choose)="chosen.set($event)"
    />
  `,
})
class Host {
  readonly fired = signal(0);
  readonly chosen = signal<string | null>(null);
  readonly marks: LineMark[] = [
    { id: 'in', atMs: 2_500_000, lengthMs: 1_000_000, name: 'Inside', state: 'phase.plan' },
    { id: 'out', atMs: 20_000_000, lengthMs: 0, name: 'Outside', state: 'phase.plan' },
  ];
}

describe('pieces', () => {
  let element: HTMLElement;
  let host: Host;
  let settle: () => Promise<void>;
  beforeEach(async () => {
    jasmine.clock().install();
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    const fixture = TestBed.createComponent(Host);
    element = fixture.nativeElement as HTMLElement;
    host = fixture.componentInstance;
    settle = async () => fixture.detectChanges();
    await settle();
  });
  afterEach(() => jasmine.clock().uninstall());

  const armed = () => element.querySelector<HTMLButtonElement>('jn-armed-key button')!;
  const press = async () => {
    armed().click();
    await settle();
  };

  it('an armed key does nothing at the first press, and fires at the second', async () => {
    await press();
    expect(host.fired()).toBe(0);
    expect(armed().textContent).toContain('Press again');
    await press();
    expect(host.fired()).toBe(1);
    expect(armed().textContent).toContain('End');
  });

  it('an armed key goes dark by itself, on Escape, and when one goes elsewhere', async () => {
    const ways = [
      () => jasmine.clock().tick(DISARM_AFTER_MS),
      () => armed().dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' })),
      () => armed().dispatchEvent(new FocusEvent('blur')),
    ];
    for (const disarm of ways) {
      await press();
      disarm();
      await settle();
      await press();
      expect(host.fired()).toBe(0);
      armed().dispatchEvent(new FocusEvent('blur'));
      await settle();
    }
  });

  it('a key stays the link or button it is, and says its state in words', () => {
    const link = element.querySelector<HTMLAnchorElement>('a[jnKey]')!;
    expect(link.getAttribute('data-lamp')).toBe('tally');
    expect(link.textContent).toContain('on air');
    expect(link.getAttribute('aria-keyshortcuts')).toBe('L');
  });

  it('a line shows what lies in it, where it lies, and lets it be chosen', async () => {
    const marks = [...element.querySelectorAll<HTMLButtonElement>('.mark')];
    expect(marks.map((mark) => mark.getAttribute('aria-label'))).toEqual(['Inside']);
    expect(marks[0]!.style.left).toBe('25%');
    expect(marks[0]!.style.width).toBe('10%');
    marks[0]!.click();
    await settle();
    expect(host.chosen()).toBe('in');
    expect(marks[0]!.getAttribute('aria-pressed')).toBe('true');
  });
});
