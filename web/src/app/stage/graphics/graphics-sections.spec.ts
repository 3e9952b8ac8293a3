import { provideZonelessChangeDetection, signal, type Type } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { PLAIN_DRESSING, type Dressing, type Overlay } from '@juncta/core/dressing';
import { changeStage, EMPTY_STAGE, type Stage, type StageChange } from '@juncta/core/stage';
import { ShowDrawing } from '../dressed/show-drawing';
import { StageLink } from '../stage-link';
import { NoticesSection } from './notices-section';
import { OverlaysSection } from './overlays-section';
import { ProductSection } from './product-section';
import { SlateSection } from './slate-section';

const overlay = (name: string): Overlay => ({
  id: `id of ${name}`,
  name,
  image: { id: '0123456789abcdef', width: 200, height: 100, lengthMs: null },
  place: 'whole',
  width: 1,
  opacity: 1,
  repeats: false,
});

describe('among the graphics of a desk', () => {
  const stage = signal<Stage>(EMPTY_STAGE);
  const dressing = signal<Dressing>(PLAIN_DRESSING);

  async function open<T>(type: Type<T>, inputs: Record<string, unknown> = {}) {
    stage.set(EMPTY_STAGE);
    const link = {
      stage,
      do: (change: StageChange) => stage.update((before) => changeStage(before, change).stage),
    };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideRouter([]),
        { provide: StageLink, useValue: link },
        { provide: ShowDrawing, useValue: { dressing } },
      ],
    });
    const fixture = TestBed.createComponent(type);
    for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
    await fixture.whenStable();
    return { fixture, element: fixture.nativeElement as HTMLElement };
  }
  async function press({ fixture, element }: Opened, words: string): Promise<void> {
    const key = [...element.querySelectorAll('button')].find(
      (button) => (button.getAttribute('aria-label') ?? button.textContent.trim()) === words,
    );
    key!.click();
    await fixture.whenStable();
  }
  async function enter({ fixture, element }: Opened, at: number, value: string): Promise<void> {
    const field = element.querySelectorAll('input')[at]!;
    field.value = value;
    field.dispatchEvent(new Event('change'));
    await fixture.whenStable();
  }
  interface Opened {
    readonly fixture: ComponentFixture<unknown>;
    readonly element: HTMLElement;
  }

  it('the slate is chosen, and what it reads is said', async () => {
    dressing.set({ ...PLAIN_DRESSING, slates: { before: 'Soon', break: 'Pause', after: 'Bye' } });
    const panel = await open(SlateSection);
    expect(panel.element.textContent).toContain('It reads “Soon”.');
    await press(panel, 'After the show');
    expect(stage().slate).toBe('after');
    expect(panel.element.textContent).toContain('It reads “Bye”.');
    const pressed = [...panel.element.querySelectorAll('[aria-pressed=true]')].map((one) =>
      one.textContent.trim(),
    );
    expect(pressed).toEqual(['After the show']);
  });

  it('the overlays of the dressing come on over one another, and are taken off', async () => {
    dressing.set({ ...PLAIN_DRESSING, overlays: [overlay('Frame'), overlay('Stamp')] });
    const panel = await open(OverlaysSection, { mayPlan: true });
    await press(panel, 'Show: Stamp');
    await press(panel, 'Show: Frame');
    expect(stage().graphics.overlays).toEqual(['id of Stamp', 'id of Frame']);
    await press(panel, 'Take off: Stamp');
    expect(stage().graphics.overlays).toEqual(['id of Frame']);
    dressing.set(PLAIN_DRESSING);
    await panel.fixture.whenStable();
    expect(panel.element.textContent).toContain('has none yet');
  });

  it('a product is shown when it is called something, and leads somewhere or nowhere', async () => {
    const panel = await open(ProductSection);
    const now = () => stage().graphics.product;
    await press(panel, 'Show: Product');
    expect([now().isOn, panel.element.textContent.includes('Say what it is first.')]).toEqual([false, true]);
    await enter(panel, 0, 'Rye flour ');
    await enter(panel, 1, '9.80 €');
    await enter(panel, 2, 'not an address');
    await press(panel, 'Show: Product');
    expect([now().isOn, panel.element.textContent.includes('Not an address')]).toEqual([false, true]);
    await enter(panel, 2, 'mill.example/rye');
    await press(panel, 'Show: Product');
    expect(now()).toEqual({
      isOn: true,
      name: 'Rye flour',
      price: '9.80 €',
      address: 'https://mill.example/rye',
    });
    await press(panel, 'Take off: Product');
    expect([now().isOn, now().name]).toEqual([false, 'Rye flour']);
  });

  it('followers and sales are said for as long and in the words that are wanted', async () => {
    const panel = await open(NoticesSection);
    await press(panel, 'Show: Followers and sales');
    await enter(panel, 0, ' Good to have you ');
    const stays = panel.element.querySelector('select')!;
    stays.selectedIndex = 2;
    stays.dispatchEvent(new Event('change'));
    expect(stage().graphics.notices).toEqual({ isOn: true, thanks: 'Good to have you', staysS: 12 });
  });
});
