import { Component, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { ShowPerson } from '@juncta/contract/shows';
import type { Member } from '@juncta/contract/team';
import { PeopleEditor } from './people-editor';

const members: Member[] = [
  { id: 'm1', name: 'Odalys', email: '', role: 'host' },
  { id: 'm2', name: 'Teo', email: '', role: 'producer' },
];

@Component({
  imports: [PeopleEditor],
  template: `<jn-people-editor
    [people]="people()"
    [members]="members"
    [readOnly]="readOnly()"
    [fieldErrors]="errors()"
    (changed)="people.set($event)"
  />`,
})
class Host {
  readonly members = members;
  readonly readOnly = signal(false);
  readonly errors = signal<{ field: string; code: string; sentence: string }[]>([]);
  readonly people = signal<readonly ShowPerson[]>([
    { id: 'a', memberId: 'm1', name: 'Odalys', part: 'host', about: '' },
    { id: 'b', memberId: null, name: 'Pascoe', part: 'guest', about: 'Miller' },
  ]);
}

describe('people editor', () => {
  let fixture: ComponentFixture<Host>;
  let element: HTMLElement;
  let host: Host;
  beforeEach(() => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent(Host);
    element = fixture.nativeElement as HTMLElement;
    host = fixture.componentInstance;
    fixture.detectChanges();
  });

  const button = (name: string) =>
    [...element.querySelectorAll('button')].find(
      (one) => (one.getAttribute('aria-label') ?? one.textContent).trim() === name,
    )!;
  const names = () => host.people().map(({ name }) => name);
  const type = (label: string, text: string) => {
    const input = element.querySelector<HTMLInputElement>(`[aria-label="${label}"]`)!;
    input.value = text;
    input.dispatchEvent(new Event('input'));
    fixture.detectChanges();
  };

  it('offers the members who are not in the show yet, and adds them in their role', () => {
    const select = element.querySelector<HTMLSelectElement>('select[aria-label="Add from the team"]')!;
    expect([...select.options].map(({ text }) => text)).toEqual(['Add from the team', 'Teo']);
    select.value = 'm2';
    select.dispatchEvent(new Event('change'));
    fixture.detectChanges();
    expect(host.people().at(-1)).toEqual(
      jasmine.objectContaining({ memberId: 'm2', name: 'Teo', part: 'producer' }),
    );
    expect(element.querySelector('select[aria-label="Add from the team"]')).toBeNull();
  });

  it('adds guests, who must have a name', () => {
    button('Add a guest').click();
    fixture.detectChanges();
    expect(element.textContent).toContain('The name is empty.');
    type('Name of person 3', 'Wanjiru');
    expect(names()).toEqual(['Odalys', 'Pascoe', 'Wanjiru']);
    expect(element.textContent).not.toContain('The name is empty.');
  });

  it('keeps a person’s id through every change', () => {
    type('Name of person 2', 'Pascoe T.');
    type('Pascoe T. in a few words', 'Runs the stones');
    expect(host.people()[1]).toEqual({
      id: 'b',
      memberId: null,
      name: 'Pascoe T.',
      part: 'guest',
      about: 'Runs the stones',
    });
  });

  it('moves people up and takes them off', () => {
    expect(button('Move Odalys up').disabled).toBeTrue();
    button('Move Pascoe up').click();
    fixture.detectChanges();
    expect(names()).toEqual(['Pascoe', 'Odalys']);
    button('Remove Odalys').click();
    expect(names()).toEqual(['Pascoe']);
  });

  it('shows what the server found about a person beside that person', () => {
    host.errors.set([{ field: 'text.people.1.part', code: 'x', sentence: 'Pascoe cannot be a host.' }]);
    fixture.detectChanges();
    const rows = [...element.querySelectorAll('tbody tr')].map((row) => row.textContent);
    expect(rows[1]).toContain('Pascoe cannot be a host.');
    expect(rows[0]).not.toContain('cannot be a host');
  });

  it('can only be read where it must not be changed', () => {
    host.readOnly.set(true);
    fixture.detectChanges();
    expect(element.querySelectorAll('input, select, button').length).toBe(0);
    expect(element.textContent).toContain('Miller');
  });
});
