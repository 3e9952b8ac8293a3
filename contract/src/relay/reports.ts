import { FEED_REASONS, FEED_STATES } from '@juncta/core/feeds';
import { PICTURE_SHAPES, PROGRAMME_STATES } from '@juncta/core/programme';
import * as z from 'zod/mini';
import { Id, InstantMs } from '../http';
import { InputReport } from '../ingest/input-report';
import { Recording } from '../recordings';

/** A feed as the relay reports it: one row of the board. */
export const FeedReport = z.object({
  destinationId: Id,
  state: z.enum(FEED_STATES),
  /** Since when, by the machine that runs the relay. */
  sinceMs: InstantMs,
  /** Tries since the connection last stood; 0 while it stands. */
  attempt: z.int(),
  /** Null while there is nothing to explain. */
  reason: z.nullable(z.enum(FEED_REASONS)),
  /** What the place itself said, without keys; null when it said nothing. */
  placeSays: z.nullable(z.string()),
  /** What the place took over the last seconds; null while nothing is sent. */
  bitrateKbps: z.nullable(z.int()),
  /** ms since the programme first was public there; null when it never was. Stands still once the feed is over. */
  onAirMs: z.nullable(z.int()),
  /** Frames left out because the place took too little, since the feed was started. */
  leftOutFrames: z.int(),
  /** Which picture of what was sent there can be looked at; null: none was sent. */
  still: z._default(z.nullable(z.int()), null),
});
export type FeedReport = z.infer<typeof FeedReport>;

export const RENDITION_STATES = ['starting', 'running', 'behind', 'again'] as const;

/** A picture that is encoded at the relay. */
export const RenditionReport = z.object({
  shape: z._default(z.enum(PICTURE_SHAPES), 'landscape'),
  height: z.int(),
  rateHz: z.number(),
  videoKbps: z.int(),
  keyframeS: z.number(),
  /** Who gets it. */
  destinationIds: z.array(Id),
  /** `behind`: the machine does not keep pace with it; `again`: its encoder died and is begun again. */
  state: z.enum(RENDITION_STATES),
  /** Cores that its encoder takes, over the last seconds; null: not known yet. */
  cores: z.nullable(z.number()),
});
export type RenditionReport = z.infer<typeof RenditionReport>;

export const ProgrammeReport = z.object({
  showId: Id,
  /** `covered`: the slate because somebody wants it; `slate`: because nothing comes from the desk. */
  state: z.enum(PROGRAMME_STATES),
  /** The tab that composes; null while none is connected. */
  deskId: z.nullable(Id),
  /** The outside picture that is the programme, or becomes it at its next keyframe; null: the desk makes the programme. */
  inputId: z.nullable(Id),
  /** All outside pictures that the show may have. */
  inputs: z.array(InputReport),
  /** The recorded run that is under way; null before the show starts and after it has ended. */
  runId: z.nullable(Id),
  /** ms since the run's first frame; null when there is none. */
  showTimeMs: z.nullable(z.int()),
  /**
   * How long viewers have heard nothing while somebody composes, ms; null: nothing was heard yet in this run, or it is
   * meant to be silent.
   */
  silentMs: z.nullable(z.int()),
  /** How long everything is held back before it goes out, ms. */
  delayMs: z.int(),
  /** A drill goes on: see `contract/drill`. */
  isDrilled: z.boolean(),
  /** What comes in from the desk, over the last seconds. */
  incomingKbps: z.int(),
  /** What the relay's own process takes of one core, over the last seconds, %. */
  loadPercent: z.int(),
  disk: z.object({
    /** Null until it was read for the first time. */
    freeBytes: z.nullable(z.int()),
    /** False: the disk takes nothing more, and the desk keeps what is not recorded. */
    recording: z.boolean(),
  }),
  feeds: z.array(FeedReport),
  renditions: z._default(z.array(RenditionReport), []),
  recordings: z.array(Recording),
});
export type ProgrammeReport = z.infer<typeof ProgrammeReport>;

/** What may be encoded at the relay's machine, and what it takes there: `core/renditions`. */
export const EncodingMachine = z.object({
  cores: z.number(),
  /** ms of one core for a million pixels. */
  cost: z.object({ decode: z.number(), scale: z.number(), encode: z.number() }),
  isMeasured: z.boolean(),
});
export type EncodingMachine = z.infer<typeof EncodingMachine>;

export const RelayReport = z.object({
  atMs: InstantMs,
  machine: EncodingMachine,
  programmes: z.array(ProgrammeReport),
});
export type RelayReport = z.infer<typeof RelayReport>;
