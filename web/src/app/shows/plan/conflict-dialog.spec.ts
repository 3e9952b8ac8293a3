import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { ShowText } from '@juncta/contract/shows';
import { NgbActiveModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { provideStore } from '@ngrx/store';
import { ConflictDialog } from './conflict-dialog';
import { showsFeature } from '../shows.feature';

const mine: ShowText = {
  title: 'Mine',
  description: '',
  seriesId: null,
  start: { local: '2027-05-20T19:00', zone: 'Europe/Lisbon', fold: 'earlier' },
  plannedMinutes: 75,
  people: [{ id: 'p', memberId: null, name: 'Pascoe', part: 'guest', about: '' }],
};
const theirs: ShowText = {
  ...mine,
  title: 'Theirs',
  description: 'Written by Teo',
  start: null,
  plannedMinutes: 60,
  people: [],
};

describe('conflict dialog', () => {
  let fixture: ComponentFixture<ConflictDialog>;
  let element: HTMLElement;
  const modal = jasmine.createSpyObj<NgbActiveModal>('NgbActiveModal', ['close', 'dismiss']);

  beforeEach(() => {
    modal.close.calls.reset();
    modal.dismiss.calls.reset();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideStore({ [showsFeature.name]: showsFeature.reducer }),
        { provide: NgbActiveModal, useValue: modal },
      ],
    });
    fixture = TestBed.createComponent(ConflictDialog);
    const fields = ['title', 'start', 'plannedMinutes', 'description', 'people'] as const;
    fixture.componentInstance.conflict.set({ fields, mine, theirs, who: 'Teo' });
    element = fixture.nativeElement as HTMLElement;
    fixture.detectChanges();
  });

  const entry = (name: string) =>
    [...element.querySelectorAll('fieldset')].find(
      (one) => one.querySelector('legend')!.textContent === name,
    )!;
  const press = (label: string) =>
    [...element.querySelectorAll('button')].find((one) => one.textContent.includes(label))!.click();

  it('tells both sides of every entry in words', () => {
    const sides = (name: string) => [...entry(name).querySelectorAll('.lines')].map((one) => one.textContent);
    expect(sides('Title')).toEqual(['Mine', 'Theirs']);
    expect(sides('Start')).toEqual(['2027-05-20 19:00 Europe/Lisbon', 'No start yet']);
    expect(sides('Planned length')).toEqual(['1 h 15 min', '1 h']);
    expect(sides('Description')).toEqual(['(empty)', 'Written by Teo']);
    expect(sides('People')).toEqual(['Pascoe (Guest)', '(empty)']);
  });

  it('keeps what whoever saves has written, until they choose otherwise', () => {
    press('Save it so');
    expect(modal.close).toHaveBeenCalledOnceWith([
      'title',
      'start',
      'plannedMinutes',
      'description',
      'people',
    ]);
  });

  it('gives back the fields for which one’s own was chosen, also after changing one’s mind', () => {
    const radios = (name: string) => [...entry(name).querySelectorAll<HTMLInputElement>('input')];
    for (const name of ['Title', 'People', 'Start']) radios(name)[1]!.click();
    radios('Start')[0]!.click();
    fixture.detectChanges();
    press('Save it so');
    expect(modal.close).toHaveBeenCalledOnceWith(['start', 'plannedMinutes', 'description']);
  });

  it('lets one go back to writing without a choice', () => {
    press('Back to my writing');
    expect(modal.dismiss).toHaveBeenCalledTimes(1);
    expect(modal.close).not.toHaveBeenCalled();
  });
});
