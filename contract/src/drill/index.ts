import { DESK_FAULTS, HOUSE_FAULTS, MOST_FAULT_SECONDS, PLACE_FAULTS, SEEN } from '@juncta/core/drill';
import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, Nothing, right } from '../http';
import { FeedReport } from '../relay';

/**
 * A drill: the programme goes to places that the relay plays itself, which behave as the house rules say, and faults
 * are thrown in on purpose. Nothing of it leaves the house; no event is touched, nothing is recorded.
 */

export const FAULT_KINDS = [...PLACE_FAULTS, ...DESK_FAULTS, ...HOUSE_FAULTS] as const;

export const DrillFaultRequest = z.object({
  kind: z.enum(FAULT_KINDS),
  /** Of a place's fault; null of all others. */
  destinationId: z.nullable(Id),
  /** How long it holds; 0 for what happens once. */
  seconds: z.int().check(z.minimum(0), z.maximum(MOST_FAULT_SECONDS)),
});
export type DrillFaultRequest = z.infer<typeof DrillFaultRequest>;

export const DrillRules = z.object({
  arrival: z.enum(['public', 'held']),
  patienceS: z.int(),
  then: z.enum(['gap', 'event_ends', 'unknown']),
  cleanEndEnds: z.boolean(),
});

/** What the server tells the relay to play. */
export const DrillRequest = z.object({
  places: z.array(z.object({ destinationId: Id, rules: DrillRules })).check(z.minLength(1), z.maxLength(50)),
});
export type DrillRequest = z.infer<typeof DrillRequest>;

/** One place of a drill. */
export const DrilledRequest = z.object({ destinationId: Id });

export const DrillNote = z.object({
  /** Seconds after the drill began. */
  atS: z.number(),
  kind: z.enum(FAULT_KINDS),
  destinationId: z.nullable(Id),
  seconds: z.int(),
});
export type DrillNote = z.infer<typeof DrillNote>;

export const DrillReport = z.object({
  startedAtMs: InstantMs,
  /** Null while it goes on. */
  endedAtMs: z.nullable(InstantMs),
  /** A script runs, and is over after so many seconds of the drill; null: none does. */
  scriptEndsS: z.nullable(z.number()),
  places: z.array(
    z.object({
      destinationId: Id,
      feed: FeedReport,
      /** The place has the picture, and somebody has to publish it. */
      held: z.boolean(),
      /** What its viewers saw, second by second, from the beginning. */
      timeline: z.array(z.object({ seen: z.enum(SEEN), seconds: z.int() })),
    }),
  ),
  faults: z.array(DrillNote),
});
export type DrillReport = z.infer<typeof DrillReport>;

const showParams = z.object({ showId: Id });
/** Null: there is none, and was none since the relay began. */
const response = z.object({ drill: z.nullable(DrillReport) });

/** Begins one, with the show's destinations as they are on its board. Refused while the show runs. */
export const startDrill = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/drill',
  access: right('show.run'),
  params: showParams,
  body: Nothing,
  response,
});

export const readDrill = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/drill',
  access: right('desk.open'),
  params: showParams,
  body: Nothing,
  response,
});

export const causeFault = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/drill/faults',
  access: right('show.run'),
  params: showParams,
  body: DrillFaultRequest,
  response,
});

/** Throws one fault after the other: see `badNight` in core. */
export const runScript = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/drill/script',
  access: right('show.run'),
  params: showParams,
  body: Nothing,
  response,
});

/** Publishes at a place that is played. */
export const publishDrilled = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/drill/publish',
  access: right('show.run'),
  params: showParams,
  body: DrilledRequest,
  response,
});

/** Ends it. Its report stays until the next one. */
export const endDrill = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/drill/end',
  access: right('show.run'),
  params: showParams,
  body: Nothing,
  response,
});

/** What the relay answers of a show's drill; null: none was begun since it started. */
export const DrillAnswer = z.object({ drill: z.nullable(DrillReport) });
export type DrillAnswer = z.infer<typeof DrillAnswer>;
