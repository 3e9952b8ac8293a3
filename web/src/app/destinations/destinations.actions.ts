import type { Destination } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import { createActionGroup, emptyProps, props } from '@ngrx/store';

export const DestinationsActions = createActionGroup({
  source: 'Destinations',
  events: {
    /** Somebody looks at the house's destinations. */
    wanted: emptyProps(),
    /** `seq`: of the last event of the stream `destinations` that is contained. */
    known: props<{ destinations: readonly Destination[]; seq: number }>(),
    failed: props<{ error: ErrorBody }>(),
    /** One was added or changed here. */
    changed: props<{ destination: Destination }>(),
  },
});
