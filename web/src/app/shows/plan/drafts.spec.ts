import { TestBed } from '@angular/core/testing';
import type { ShowText } from '@juncta/contract/shows';
import { Drafts } from './drafts';

const text: ShowText = {
  title: 'Rye',
  description: '',
  seriesId: null,
  start: null,
  plannedMinutes: 60,
  people: [],
};

describe('drafts', () => {
  const drafts = () => TestBed.inject(Drafts);
  afterEach(() => localStorage.clear());

  it('are kept until they are dropped', () => {
    const draft = { version: 3, base: text, text: { ...text, title: 'Rye and water' }, keptAtMs: 7 };
    drafts().keep('a', draft);
    expect(drafts().find('a')).toEqual(draft);
    expect(drafts().find('b')).toBeNull();
    drafts().drop('a');
    expect(drafts().find('a')).toBeNull();
  });

  it('that cannot be read are none', () => {
    localStorage.setItem('juncta.draft.a', '{half');
    expect(drafts().find('a')).toBeNull();
  });

  it('that cannot be kept do not stop the writing', () => {
    spyOn(Storage.prototype, 'setItem').and.throwError('full');
    expect(() => drafts().keep('a', { version: 1, base: text, text, keptAtMs: 0 })).not.toThrow();
  });
});
