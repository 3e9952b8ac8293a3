import type { ErrorBody } from '@juncta/contract/errors';
import type { Mark } from '@juncta/contract/marks';
import type { Composing, ProgrammeView } from '@juncta/contract/programme';
import type { ProgrammeReport } from '@juncta/contract/relay';
import { createActionGroup, emptyProps, props } from '@ngrx/store';

export const ProgrammeActions = createActionGroup({
  source: 'Programme',
  events: {
    /** Somebody looks at this show's programme. */
    opened: props<{ showId: string }>(),
    known: props<{ showId: string; view: ProgrammeView }>(),
    failed: props<{ error: ErrorBody }>(),
    programmeChanged: props<{ programme: ProgrammeReport }>(),
    composingChanged: props<{ showId: string; composing: Composing | null }>(),
    /** Something that an event does not carry has changed: it is read afresh. */
    stale: emptyProps(),
    marksChanged: props<{ showId: string; marks: readonly Mark[] }>(),
    publishFeed: props<{ showId: string; destinationId: string }>(),
    startFeed: props<{ showId: string; destinationId: string }>(),
    stopFeed: props<{ showId: string; destinationId: string }>(),
    endShow: props<{ showId: string }>(),
    cover: props<{ showId: string; on: boolean }>(),
    /** Nobody was there to take the order; it is given again. */
    notTakenYet: emptyProps(),
    done: props<{ programme: ProgrammeReport }>(),
    refused: props<{ error: ErrorBody }>(),
  },
});
