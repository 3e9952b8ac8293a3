import { provideHttpClient } from '@angular/common/http';
import { provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { Crop } from '@juncta/core/listings';
import { PictureField } from './picture-field';

describe('the part of a picture that a place shows', () => {
  let fixture: ComponentFixture<PictureField>;
  let kept: (Crop | null)[];
  let answers: (() => void)[];

  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()],
    });
    fixture = TestBed.createComponent(PictureField);
    kept = [];
    answers = [];
    const inputs = {
      fieldId: 'p',
      showId: 's',
      scope: 'd',
      shared: { type: 'image/png', width: 2000, height: 2000, version: 1 },
      own: null,
      rule: { aspect: '5:2', minWidth: null, minHeight: null, maxBytes: null },
      crop: null,
      readOnly: false,
      keep: (crop: Crop | null) => {
        kept.push(crop);
        return new Promise<void>((done) => answers.push(done));
      },
    };
    for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
    await fixture.whenStable();
  });

  const slider = (name: string) =>
    (fixture.nativeElement as HTMLElement).querySelector<HTMLInputElement>(`#p-${name}`)!;
  const slide = async (name: string, value: number) => {
    const field = slider(name);
    field.valueAsNumber = value;
    field.dispatchEvent(new Event('input'));
    field.dispatchEvent(new Event('change'));
    await fixture.whenStable();
  };

  it('keeps what was changed before, though that was not yet answered', async () => {
    await slide('zoom', 1.2);
    await slide('y', 0.2);
    expect(kept).toEqual([
      { x: 0.5, y: 0.5, zoom: 1.2 },
      { x: 0.5, y: 0.2, zoom: 1.2 },
    ]);
    // The answer to the first comes while the second is under way.
    fixture.componentRef.setInput('crop', kept[0]);
    answers[0]!();
    await Promise.resolve();
    await fixture.whenStable();
    expect(slider('y').value).toBe('0.2');
  });

  it('stands again as it is kept, when it could not be changed', async () => {
    await slide('zoom', 3);
    expect(slider('zoom').value).toBe('3');
    answers[0]!();
    await Promise.resolve();
    await fixture.whenStable();
    expect(slider('zoom').value).toBe('1');
  });
});
