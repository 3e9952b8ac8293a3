import type { Show } from '@juncta/contract/shows';
import { ShowsActions } from './shows.actions';
import { showsFeature, type ShowsState } from './shows.feature';
import { plannedShow } from '../testing/shows';

const show = (version: number, title = `Version ${version}`): Show => {
  const planned = plannedShow('a', null, { version });
  return { ...planned, text: { ...planned.text, title } };
};
const { reducer } = showsFeature;
const known = reducer(undefined, ShowsActions.known({ shows: [show(2)], series: [], seq: 5 }));
const titleIn = (state: ShowsState) => state.entities['a']?.text.title;

describe('shows in the store', () => {
  it('take a newer version, and never an older one', () => {
    expect(titleIn(reducer(known, ShowsActions.showSaved({ show: show(3) })))).toBe('Version 3');
    expect(titleIn(reducer(known, ShowsActions.showSaved({ show: show(1) })))).toBe('Version 2');
  });

  it('are the same whichever of an answer and its event comes first', () => {
    const [answer, event] = [
      ShowsActions.saveDone({ show: show(3) }),
      ShowsActions.showSaved({ show: show(3) }),
    ];
    const one = reducer(reducer(known, answer), event);
    const other = reducer(reducer(known, event), answer);
    expect(one.entities).toEqual(other.entities);
  });

  it('stay on the board when they cannot be read again', () => {
    const error = { code: 'database_away', sentence: 'Away.' } as const;
    const state = reducer(known, ShowsActions.failed({ error }));
    expect(state.status).toBe('known');
    expect(titleIn(state)).toBe('Version 2');
    expect(reducer(undefined, ShowsActions.failed({ error })).status).toBe('failed');
  });

  it('tell the one save that is under way', () => {
    const saving = reducer(known, ShowsActions.save({ id: 'a', version: 2, text: show(2).text }));
    expect(saving.saving).toEqual({ id: 'a', status: 'saving', error: null });
    const error = { code: 'changed_meanwhile', sentence: 'Changed.' } as const;
    expect(reducer(saving, ShowsActions.saveRefused({ id: 'a', error })).saving?.error).toEqual(error);
    expect(reducer(saving, ShowsActions.saveForgotten()).saving).toBeNull();
  });
});
