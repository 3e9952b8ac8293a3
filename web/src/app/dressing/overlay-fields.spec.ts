import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Overlay } from '@juncta/core/dressing';
import { OverlayFields, type OverlayFile } from './overlay-fields';

describe('the overlays of a dressing', () => {
  const overlay = (id: string, values: Partial<Overlay> = {}): Overlay => ({
    id,
    name: `Overlay ${id}`,
    image: { id: '0123456789abcdef', width: 200, height: 100, lengthMs: null },
    place: 'whole',
    width: 0.2,
    opacity: 1,
    repeats: false,
    ...values,
  });

  async function open(overlays: readonly Overlay[], mayChange = true) {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    const fixture = TestBed.createComponent(OverlayFields);
    const changes: (readonly Overlay[])[] = [];
    const sent: OverlayFile[] = [];
    fixture.componentInstance.changed.subscribe((all) => changes.push(all));
    fixture.componentInstance.sent.subscribe((file) => sent.push(file));
    for (const [name, value] of Object.entries({ overlays, mayChange, busy: false }))
      fixture.componentRef.setInput(name, value);
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    const set = (selector: string, value: string, type: string) => {
      const field = element.querySelector<HTMLInputElement>(selector)!;
      field.value = value;
      field.dispatchEvent(new Event(type));
      return field;
    };
    return { fixture, element, changes, sent, set };
  }

  it('are named, placed and seen through, each for itself', async () => {
    const { changes, set, element } = await open([overlay('a'), overlay('b', { place: 'top' })]);
    // What fills the picture has no width of its own.
    expect(element.querySelectorAll('input[type=range]').length).toBe(3);
    set('#overlay-name-a', '  Frame ', 'change');
    expect(changes.at(-1)!.map(({ name }) => name)).toEqual(['Frame', 'Overlay b']);
    const left = set('#overlay-name-a', '   ', 'change');
    expect([changes.at(-1)![0]!.name, left.value])
      .withContext('a desk has to call it something')
      .toEqual(['Overlay a', 'Overlay a']);
    const place = element.querySelector<HTMLSelectElement>('#overlay-place-b')!;
    place.selectedIndex = 9;
    place.dispatchEvent(new Event('change'));
    expect(changes.at(-1)!.map((one) => one.place)).toEqual(['whole', 'bottom_right']);
    set('input[type=range]', '40', 'input');
    expect(changes.at(-1)!.map(({ opacity }) => opacity)).toEqual([0.4, 1]);
  });

  it('repeat or not when they move', async () => {
    const moving = overlay('a', { image: { ...overlay('a').image, lengthMs: 2500 } });
    const { element, changes } = await open([moving, overlay('b')]);
    const checks = element.querySelectorAll<HTMLInputElement>('input[type=checkbox]');
    expect(checks.length).toBe(1);
    expect(element.textContent).toContain('Repeats after 2.5 s');
    checks[0]!.click();
    expect(changes.at(-1)![0]!.repeats).toBeTrue();
  });

  it('are sent as files, new ones while there is room', async () => {
    const choose = (element: HTMLElement, field: string) => {
      const input = element.querySelector<HTMLInputElement>(`#${field}`)!;
      const files = new DataTransfer();
      files.items.add(new File(['x'], 'Frame.png', { type: 'image/png' }));
      input.files = files.files;
      input.dispatchEvent(new Event('change'));
    };
    const few = await open([overlay('a')]);
    choose(few.element, 'overlay-file');
    choose(few.element, 'overlay-file-a');
    expect(few.sent.map(({ id, file }) => [id, file.name])).toEqual([
      [null, 'Frame.png'],
      ['a', 'Frame.png'],
    ]);
    few.fixture.componentRef.setInput(
      'overlays',
      Array.from({ length: 8 }, (_, i) => overlay(`${i}`)),
    );
    await few.fixture.whenStable();
    expect(few.element.querySelector('#overlay-file')).toBeNull();
    expect(few.element.textContent).toContain('Eight is as many as there can be.');
  });

  it('are looked at by whoever may not change them', async () => {
    const { element } = await open([overlay('a')], false);
    expect(element.querySelectorAll('button, input[type=file]').length).toBe(0);
  });
});
