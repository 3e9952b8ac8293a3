import type { ErrorBody } from '@juncta/contract/errors';
import type { ViewersCounted } from '@juncta/contract/events';
import type { Listing, ListingsView } from '@juncta/contract/listings';
import { createActionGroup, emptyProps, props } from '@ngrx/store';

export const ListingsActions = createActionGroup({
  source: 'Listings',
  events: {
    /** Somebody looks at where this show goes. */
    opened: props<{ showId: string }>(),
    known: props<{ showId: string; view: ListingsView }>(),
    failed: props<{ error: ErrorBody }>(),
    changed: props<{ showId: string; listing: Listing }>(),
    viewersCounted: props<{ counted: readonly ViewersCounted[] }>(),
    /** Something that an event does not carry has changed: it is read afresh. */
    stale: emptyProps(),
  },
});
