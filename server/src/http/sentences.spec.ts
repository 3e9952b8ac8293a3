import { createShow } from '@juncta/contract/shows';
import { acceptInvitation } from '@juncta/contract/team';
import { fieldErrors } from './sentences';
import { showText } from '../testing/house';

const id = crypto.randomUUID();
const errorsOf = (schema: typeof createShow.body | typeof acceptInvitation.body, sent: unknown) => {
  const parsed = schema.safeParse(sent, { reportInput: true });
  return parsed.success ? [] : fieldErrors(parsed.error.issues);
};
const show = (change: object) => errorsOf(createShow.body, { id, text: { ...showText(), ...change } });

describe('sentences about bad input', () => {
  const person = { id, memberId: null, name: 'Wanjiru', part: 'guest', about: '' };
  const table: [string, object, string, string, string][] = [
    ['missing', { title: undefined }, 'text.title', 'missing', 'Title is missing.'],
    ['null', { title: null }, 'text.title', 'missing', 'Title is missing.'],
    ['of another kind', { description: 7 }, 'text.description', 'wrong_kind', 'Description must be a text.'],
    ['empty', { title: '  ' }, 'text.title', 'empty', 'Title is empty.'],
    ['of nothing to be seen', { title: '\u200b\u2060\u3164' }, 'text.title', 'empty', 'Title is empty.'],
    [
      'too long',
      { title: 'x'.repeat(201) },
      'text.title',
      'too_long',
      'Title is too long: at most 200 characters.',
    ],
    [
      'too large',
      { plannedMinutes: 1501 },
      'text.plannedMinutes',
      'too_long',
      'Planned minutes is too large: at most 1500.',
    ],
    [
      'too small',
      { plannedMinutes: 1 },
      'text.plannedMinutes',
      'too_short',
      'Planned minutes is too small: at least 5.',
    ],
    [
      'not whole',
      { plannedMinutes: 5.5 },
      'text.plannedMinutes',
      'wrong_kind',
      'Planned minutes must be a whole number.',
    ],
    ['no id', { seriesId: 'x' }, 'text.seriesId', 'bad_form', 'Series id is not an id.'],
    ['no list', { people: {} }, 'text.people', 'wrong_kind', 'People must be a list.'],
    [
      'too many',
      { people: Array(41).fill(person) },
      'text.people',
      'too_long',
      'People is too long: at most 40 entries.',
    ],
    [
      'none of those there are',
      { people: [{ ...person, part: 'king' }] },
      'text.people.0.part',
      'not_one_of',
      'Part must be one of: host, producer, moderator, guest.',
    ],
    ['two lines', { title: 'a\nb' }, 'text.title', 'one_line', 'Title must be one line.'],
  ];
  for (const [what, change, field, code, sentence] of table) {
    it(`say what is ${what}`, () => expect(show(change)).toEqual([{ field, code, sentence }]));
  }

  it('say one thing about each field', () => {
    const errors = show({ title: `\u202e${'x'.repeat(300)}\n`, plannedMinutes: -1.5 });
    expect(errors.map(({ field }) => field).sort()).toEqual(['text.plannedMinutes', 'text.title']);
  });

  it('name an address that is none, and never repeat what was typed', () => {
    const sent = { token: 'A'.repeat(43), name: 'N', email: 'sesame', password: 'sesame' };
    const errors = errorsOf(acceptInvitation.body, sent);
    expect(errors.map(({ sentence }) => sentence)).toEqual([
      'Email is not an e-mail address.',
      'Password is too short: at least 10 characters.',
    ]);
    expect(JSON.stringify(errors)).not.toContain('sesame');
  });

  it('find nothing where nothing is wrong', () =>
    expect(show({ description: 'Two\n\nparagraphs.' })).toEqual([]));
});
