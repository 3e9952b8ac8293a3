import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import {
  changeStage,
  EMPTY_STAGE,
  NO_CHAT_BOX,
  NO_GRAPHICS,
  type Graphics,
  type Stage,
  type StageChange,
} from '@juncta/core/stage';
import { provideRouter } from '@angular/router';
import { provideStore } from '@ngrx/store';
import { listingsFeature } from '../../listings/listings.feature';
import { PageClock } from '../../clock/page-clock';
import { teamFeature } from '../../team/team.feature';
import { plannedShow } from '../../testing/shows';
import { OpenPanel } from '../open-panel';
import { StageLink } from '../stage-link';
import { GraphicsPanel } from './graphics-panel';

/** Whichever of the two it says. */
const TICKER = ': Ticker';
const NOW_MS = Date.UTC(2026, 10, 29, 20);

describe('the graphics of a desk', () => {
  let fixture: ComponentFixture<GraphicsPanel>;
  let done: StageChange[];
  const stage = signal<Stage>(EMPTY_STAGE);

  async function open(graphics: Partial<Graphics> = {}): Promise<HTMLElement> {
    done = [];
    stage.set({ ...EMPTY_STAGE, graphics: { ...NO_GRAPHICS, ...graphics } });
    const link = {
      stage,
      do: (change: StageChange) => {
        done.push(change);
        stage.update((before) => changeStage(before, change).stage);
      },
    };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideRouter([]),
        provideStore({
          [listingsFeature.name]: listingsFeature.reducer,
          [teamFeature.name]: teamFeature.reducer,
        }),
        { provide: StageLink, useValue: link },
        { provide: PageClock, useValue: { now: () => NOW_MS } },
      ],
    });
    TestBed.inject(OpenPanel).content.set({ of: 'graphics' });
    fixture = TestBed.createComponent(GraphicsPanel);
    fixture.componentRef.setInput('show', plannedShow('rye', 1));
    await fixture.whenStable();
    return fixture.nativeElement as HTMLElement;
  }
  const key = (element: HTMLElement, words: string) =>
    [...element.querySelectorAll('button')].find(
      (button) =>
        button.textContent.includes(words) || (button.getAttribute('aria-label') ?? '').includes(words),
    );
  async function press(element: HTMLElement, words: string): Promise<void> {
    key(element, words)!.click();
    await fixture.whenStable();
  }
  async function write(element: HTMLElement, text: string): Promise<void> {
    const field = element.querySelector('textarea')!;
    field.value = text;
    field.dispatchEvent(new Event('input'));
    await fixture.whenStable();
  }
  const now = () => stage().graphics;

  it('shows a ticker when it is asked for, and never half a line of it', async () => {
    const element = await open();
    await write(element, 'Doors at eight\n\n  Rye   next week ');
    expect(done).toEqual([]);
    await press(element, TICKER);
    expect(now().ticker).toEqual({ isOn: true, lines: ['Doors at eight', 'Rye next week'] });
    expect(key(element, 'Use these lines')).toBeUndefined();
    await write(element, 'Doors at nine');
    expect(now().ticker.lines.length).withContext('not before it is wanted').toBe(2);
    await press(element, 'Use these lines');
    expect(now().ticker).toEqual({ isOn: true, lines: ['Doors at nine'] });
    await press(element, TICKER);
    expect(now().ticker.isOn).toBeFalse();
  });

  it('says what is wrong with a ticker, and takes it off all the same', async () => {
    const element = await open({ ticker: { isOn: true, lines: ['Doors at eight'] } });
    for (const [text, sentence] of [
      ['x'.repeat(141), 'more than 140 characters'],
      [Array.from({ length: 21 }, (_, i) => `line ${i}`).join('\n'), 'More than 20 lines'],
      ['  \n ', 'Write a line first'],
    ] as const) {
      await write(element, text);
      await press(element, 'Use these lines');
      expect(element.textContent).withContext(sentence).toContain(sentence);
      expect(now().ticker.lines).toEqual(['Doors at eight']);
    }
    await press(element, TICKER);
    expect(now().ticker).toEqual({ isOn: false, lines: ['Doors at eight'] });
  });

  it('counts points for either side, which are named by whoever they are', async () => {
    const element = await open({ score: { isOn: true, names: ['Rye', ''], points: [3, 0] } });
    await press(element, 'A point more for Rye');
    await press(element, 'A point more for Right side');
    await press(element, 'A point fewer for Rye');
    expect(now().score.points).toEqual([3, 1]);
    const [, right] = element.querySelectorAll<HTMLInputElement>('.side input');
    right!.value = ' Spelt ';
    right!.dispatchEvent(new Event('change'));
    expect(now().score.names).toEqual(['Rye', 'Spelt']);
    await press(element, 'Both to nought');
    expect(now().score).toEqual({ isOn: true, names: ['Rye', 'Spelt'], points: [0, 0] });
  });

  it('counts down to a time, and says so when there is none yet', async () => {
    const element = await open();
    const reads = element.querySelector<HTMLSelectElement>('.beside select')!;
    reads.selectedIndex = 1;
    reads.dispatchEvent(new Event('change'));
    await fixture.whenStable();
    await press(element, 'Show: Clock');
    expect(element.textContent).toContain('Say first what it counts down to');
    const minutes = element.querySelector<HTMLInputElement>('input[type=number]')!;
    for (const [value, untilMs] of [
      ['0', null],
      ['10', NOW_MS + 600_000],
    ] as const) {
      minutes.value = value;
      minutes.dispatchEvent(new Event('input'));
      await press(element, 'Count');
      expect(now().clock.untilMs).withContext(value).toBe(untilMs);
    }
    expect(element.textContent).not.toContain('Say first');
    await press(element, 'To the start');
    expect(now().clock.untilMs).toBe(Math.round(fixture.componentInstance.show().startsAtMs!));
  });

  it('puts viewers’ messages into the picture as they are wanted there', async () => {
    const element = await open();
    const choose = async (words: string, at: number) => {
      const label = [...element.querySelectorAll('.choices label')].find((one) =>
        one.textContent.includes(words),
      )!;
      const select = label.querySelector('select')!;
      select.selectedIndex = at;
      select.dispatchEvent(new Event('change'));
      await fixture.whenStable();
    };
    await press(element, 'Show: Chat in the picture');
    await choose('Side', 0);
    await choose('Ground', 3);
    await choose('Stays for', 5);
    await choose('At once', 2);
    expect(now().chat).toEqual({
      ...NO_CHAT_BOX,
      isOn: true,
      side: 'left',
      ground: 'none',
      staysS: null,
      most: 3,
    });
  });

  it('shows a link that leads somewhere, and says what is none', async () => {
    const element = await open();
    const [line, address] = element.querySelectorAll<HTMLInputElement>(
      '[aria-labelledby=graphics-link] input',
    );
    const enter = async (field: HTMLInputElement, value: string) => {
      field.value = value;
      field.dispatchEvent(new Event('change'));
      await fixture.whenStable();
    };
    await press(element, 'Show: Link');
    expect(element.textContent).withContext('nothing yet').toContain('Not an address');
    await enter(line!, 'Places for spring');
    await enter(address!, 'javascript:alert(1)');
    await press(element, 'Show: Link');
    expect([now().link.isOn, now().link.address]).toEqual([false, '']);
    await enter(address!, 'mill.example/doors');
    await press(element, 'Show: Link');
    expect(now().link).toEqual({
      isOn: true,
      line: 'Places for spring',
      address: 'https://mill.example/doors',
    });
    expect(element.textContent).not.toContain('Not an address');
  });

  it('goes away by its key and by Escape', async () => {
    const element = await open();
    element.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' }));
    expect(TestBed.inject(OpenPanel).content()).toBeNull();
  });
});
