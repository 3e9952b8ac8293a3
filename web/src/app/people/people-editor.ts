import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { ABOUT_MAX, NAME_MAX, PEOPLE_MAX } from '@juncta/core/shows';
import type { FieldError } from '@juncta/contract/errors';
import { PARTS, type Part, type ShowPerson } from '@juncta/contract/shows';
import type { Member } from '@juncta/contract/team';
import { FieldProblem } from '../look/field-problem';
import { Key } from '../look/keys/key';
import { partNames, showTexts } from '../shows/shows.texts';
import { peopleTexts } from './people.texts';

/** Who is in a show: members of the team and guests, in the order in which they are presented. */
@Component({
  selector: 'jn-people-editor',
  imports: [FieldProblem, Key],
  templateUrl: './people-editor.html',
  styleUrl: './people-editor.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PeopleEditor {
  protected readonly texts = peopleTexts;
  protected readonly partNames = partNames;
  protected readonly memberParts = PARTS.filter((part) => part !== 'guest');
  protected readonly nameMax = NAME_MAX;
  protected readonly aboutMax = ABOUT_MAX;

  readonly people = input.required<readonly ShowPerson[]>();
  readonly members = input.required<readonly Member[]>();
  readonly readOnly = input(false);
  readonly fieldErrors = input<readonly FieldError[]>([]);
  readonly changed = output<readonly ShowPerson[]>();

  /** Members who are not in the show yet. */
  protected readonly free = computed(() =>
    this.members().filter(({ id }) => !this.people().some(({ memberId }) => memberId === id)),
  );
  protected readonly full = computed(() => this.people().length >= PEOPLE_MAX);

  protected problemOf(index: number, person: ShowPerson): string | null {
    const fromServer = this.fieldErrors().find(({ field }) => field.startsWith(`text.people.${index}.`));
    return fromServer?.sentence ?? (person.name.trim() === '' ? showTexts.nameEmpty : null);
  }

  protected addMember(id: string): void {
    const member = this.members().find((one) => one.id === id);
    if (!member) return;
    const { name, role } = member;
    this.add({ id: crypto.randomUUID(), memberId: id, name, part: role, about: '' });
  }

  protected addGuest(): void {
    this.add({ id: crypto.randomUUID(), memberId: null, name: '', part: 'guest', about: '' });
  }

  protected edit(index: number, change: Partial<ShowPerson>): void {
    this.changed.emit(this.people().map((person, i) => (i === index ? { ...person, ...change } : person)));
  }

  protected setPart(index: number, part: string): void {
    this.edit(index, { part: part as Part });
  }

  protected remove(index: number): void {
    this.changed.emit(this.people().filter((_, i) => i !== index));
  }

  protected moveUp(index: number): void {
    const people = [...this.people()];
    const [person] = people.splice(index, 1);
    people.splice(index - 1, 0, person!);
    this.changed.emit(people);
  }

  private add(person: ShowPerson): void {
    this.changed.emit([...this.people(), person]);
  }
}
