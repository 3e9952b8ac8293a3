import type { ErrorBody } from '@juncta/contract/errors';
import type { Series, Show, ShowText } from '@juncta/contract/shows';
import { createActionGroup, emptyProps, props } from '@ngrx/store';

export const ShowsActions = createActionGroup({
  source: 'Shows',
  events: {
    Wanted: emptyProps(),
    Known: props<{ shows: Show[]; series: Series[]; seq: number }>(),
    Failed: props<{ error: ErrorBody }>(),
    'Show Saved': props<{ show: Show }>(),
    'Series Created': props<{ series: Series }>(),
    /** `version` null: the show is new. */
    Save: props<{ id: string; version: number | null; text: ShowText }>(),
    'Save Done': props<{ show: Show }>(),
    'Save Refused': props<{ id: string; error: ErrorBody }>(),
    'Save Forgotten': emptyProps(),
    Archive: props<{ id: string; archived: boolean }>(),
    'Create Series': props<{ series: { readonly id: string; readonly name: string } }>(),
  },
});
