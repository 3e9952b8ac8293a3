import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { KeptLayout } from '@juncta/contract/stage';
import {
  changeStage,
  EMPTY_STAGE,
  geometry,
  PROGRAMME,
  sourceId,
  type Stage,
  type StageChange,
} from '@juncta/core/stage';
import { provideStore } from '@ngrx/store';
import { EventFeed } from '../../api/event-feed';
import { showsFeature } from '../../shows/shows.feature';
import { plannedShow } from '../../testing/shows';
import { OpenPanel } from '../open-panel';
import { StageLink } from '../stage-link';
import { LayoutPanel } from './layout-panel';
import { PlaceBoxes } from './place-boxes';

const PEOPLE = [sourceId('camera', 'a'), sourceId('camera', 'b')];
const SIDE_BY_SIDE: StageChange[] = PEOPLE.map((source) => ({
  type: 'scene',
  event: { type: 'bring_on', source },
}));

describe('a layout that is made at a desk', () => {
  let fixture: ComponentFixture<LayoutPanel>;
  let boxes: ComponentFixture<PlaceBoxes>;
  const stage = signal<Stage>(EMPTY_STAGE);
  const follow = jasmine.createSpy('follow');
  const act = (change: StageChange) => stage.update((before) => changeStage(before, change).stage);
  const link = {
    stage,
    scene: () => stage().armed ?? stage().programme,
    isArmed: () => stage().armed !== null,
    arm: (on: boolean) => act({ type: on ? 'arm' : 'disarm' }),
    change: (event: Extract<StageChange, { type: 'scene' }>['event']) => act({ type: 'scene', event }),
  };
  const backend = () => TestBed.inject(HttpTestingController);

  async function open(before = SIDE_BY_SIDE, kept: readonly KeptLayout[] = []): Promise<HTMLElement> {
    stage.set(EMPTY_STAGE);
    before.forEach(act);
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [showsFeature.name]: showsFeature.reducer }),
        { provide: StageLink, useValue: link },
        { provide: EventFeed, useValue: { follow, follows: () => false } },
      ],
    });
    TestBed.inject(OpenPanel).content.set({ of: 'layout' });
    fixture = TestBed.createComponent(LayoutPanel);
    fixture.componentRef.setInput('show', plannedShow('rye', 1));
    boxes = TestBed.createComponent(PlaceBoxes);
    boxes.componentRef.setInput('names', new Map([['a', 'Odalys']]));
    const host = boxes.nativeElement as HTMLElement;
    Object.assign(host.style, { position: 'fixed', inset: '0 auto auto 0', width: '320px', height: '180px' });
    backend().expectOne('/api/layouts').flush({ layouts: kept, seq: 1 });
    await settle();
    return fixture.nativeElement as HTMLElement;
  }
  async function settle(): Promise<void> {
    await fixture.whenStable();
    await boxes.whenStable();
  }
  const box = (at: number) => (boxes.nativeElement as HTMLElement).querySelectorAll<HTMLElement>('.box')[at]!;
  const figures = (element: HTMLElement) =>
    [...element.querySelectorAll<HTMLInputElement>('input[type=number]')].map(({ value }) => Number(value));
  const key = (element: HTMLElement, words: string) =>
    [...element.querySelectorAll('button')].find((button) => button.textContent.includes(words))!;
  const rects = (scene = stage().armed!) => geometry(scene, PROGRAMME).map(({ rect }) => rect);
  const until = async (holds: () => boolean) => {
    for (let tries = 0; tries < 100 && !holds(); tries++)
      await new Promise<void>((done) => setTimeout(done, 20));
    expect(holds()).toBeTrue();
  };
  const pointer = (on: HTMLElement, type: string, x: number, y: number) =>
    on.dispatchEvent(
      new PointerEvent(type, { pointerId: 1, clientX: x, clientY: y, bubbles: true, button: 0 }),
    );

  it('begins as everybody stands, on what comes next and not on the programme', async () => {
    const element = await open();
    expect(stage().armed).not.toBeNull();
    expect(element.textContent).toContain('A layout of your own');
    expect(box(0).getAttribute('aria-label')).toContain('Odalys');
    expect(figures(element)[2]).toBeGreaterThan(30);
    expect(stage().programme.own).toBeNull();
  });

  it('says that nobody is there, and begins once somebody is', async () => {
    const element = await open([]);
    expect(element.textContent).toContain('Bring on whoever is to have a place');
    SIDE_BY_SIDE.forEach(act);
    key(element, 'From how everybody stands').click();
    await settle();
    expect(boxes.nativeElement).toBeTruthy();
    expect(box(1)).toBeDefined();
  });

  it('is dragged, caught by the lines, and followed by the picture', async () => {
    await open();
    const held = box(0);
    spyOn(held, 'setPointerCapture');
    const before = rects()[0]!;
    pointer(held, 'pointerdown', 100, 100);
    // To the upper edge, nearly.
    pointer(held, 'pointermove', 100, 100 - (before.y / 720) * 180 + 1);
    await settle();
    expect((boxes.nativeElement as HTMLElement).querySelector('.line')).not.toBeNull();
    pointer(held, 'pointerup', 100, 100);
    await until(() => stage().armed!.own !== null && rects()[0]!.y === 0);
    expect(rects()[0]!.height).toBe(before.height);
    await settle();
    expect((boxes.nativeElement as HTMLElement).querySelector('.line')).toBeNull();
  });

  it('is moved and sized by the keyboard, and by figures', async () => {
    const element = await open();
    const [x, , width] = figures(element);
    box(0).focus();
    const press = (of: string, shiftKey = false) =>
      box(0).dispatchEvent(new KeyboardEvent('keydown', { key: of, shiftKey, bubbles: true }));
    press('ArrowRight');
    press('ArrowLeft', true);
    await settle();
    expect(figures(element)[0]).toBeCloseTo(x! + 1, 1);
    expect(figures(element)[2]).toBeCloseTo(width! - 1, 1);
    const [left] = element.querySelectorAll<HTMLInputElement>('input[type=number]');
    left!.value = '95';
    left!.dispatchEvent(new Event('change'));
    await settle();
    // What was written is kept, as far as somebody would be seen; the width gives way.
    expect(figures(element)).toEqual(
      jasmine.arrayWithExactContents([92, 8, ...figures(element).slice(1, 2), ...figures(element).slice(3)]),
    );
    await until(() => rects().some((rect) => rect.x === 1178 || rect.x === 1176));
  });

  it('goes into nothing else when what it is made on is taken at another desk in mid-move', async () => {
    await open();
    box(0).dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
    act({ type: 'take', takes: 0 });
    await settle();
    expect(TestBed.inject(OpenPanel).content()).toBeNull();
    fixture.destroy();
    expect([stage().armed!.own, stage().programme.own]).toEqual([null, null]);
  });

  it('is kept by a name, and closes when what comes next is taken', async () => {
    const element = await open();
    key(element, 'Keep this layout').click();
    await settle();
    expect(element.textContent).toContain('Give it a name first');
    const name = element.querySelector<HTMLInputElement>('input[type=text]')!;
    name.value = 'Two talk';
    name.dispatchEvent(new Event('input'));
    key(element, 'Keep this layout').click();
    const { request } = backend().expectOne(({ method }) => method === 'PUT');
    const body = request.body as { name: string; scope: string; places: unknown[] };
    expect([body.name, body.scope, body.places.length]).toEqual(['Two talk', 'team', 2]);
    expect(stage().armed!.own!.name).toBe('Two talk');
    expect(request.url).toContain(stage().armed!.own!.id);
    act({ type: 'take', takes: 0 });
    await settle();
    expect(TestBed.inject(OpenPanel).content()).toBeNull();
  });
});
