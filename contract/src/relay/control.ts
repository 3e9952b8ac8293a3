import { MOST_DELAY_S } from '@juncta/core/relay';
import * as z from 'zod/mini';
import { Id, InstantMs } from '../http';
import { DrillReport } from '../drill';
import { FeedReport } from './feeds';

/**
 * What the server tells the relay to do, and what the relay reports: HTTP on loopback with a secret that both were
 * started with. All of it is safe to repeat.
 *
 * | request                                          | body              | answer                     |
 * |--------------------------------------------------|-------------------|----------------------------|
 * | `GET /control/changes`                           |                   | {@link RelayReport}s (SSE) |
 * | `PUT /control/shows/:show/lease`                 | {@link LeaseWish} | {@link ProgrammeReport}    |
 * | `PUT /control/shows/:show/run`                   | {@link RunWish}   | {@link ProgrammeReport}    |
 * | `PUT /control/shows/:show/delay`                 | {@link DelayWish} | {@link ProgrammeReport}    |
 * | `POST /control/shows/:show/end`                  |                   | {@link ProgrammeReport}    |
 * | `POST /control/shows/:show/cover`                | {@link CoverWish} | {@link ProgrammeReport}    |
 * | `POST /control/shows/:show/feeds/:dest/start`    | {@link FeedWish}  | {@link ProgrammeReport}    |
 * | `POST /control/shows/:show/feeds/:dest/stop`     |                   | {@link ProgrammeReport}    |
 * | `POST /control/shows/:show/feeds/:dest/seen`     | {@link SeenWish}  | {@link ProgrammeReport}    |
 * | `GET /control/shows/:show/drill`                 |                   | {@link DrillAnswer}        |
 * | `POST /control/shows/:show/drill/begin`          | `DrillWish`       | {@link DrillAnswer}        |
 * | `POST /control/shows/:show/drill/fault`          | `DrillFaultWish`  | {@link DrillAnswer}        |
 * | `POST /control/shows/:show/drill/script`         |                   | {@link DrillAnswer}        |
 * | `POST /control/shows/:show/drill/publish`        | `destinationId`   | {@link DrillAnswer}        |
 * | `POST /control/shows/:show/drill/end`            |                   | {@link DrillAnswer}        |
 * | `POST /control/line-tests`                       | {@link LineTestWish} | {@link LineTestReport}  |
 * | `POST /control/round-trips`                      | {@link RoundTripsWish} | {@link RoundTrips}    |
 * | `GET /control/recordings/:show/:run/:kind`       |                   | the file, by ranges        |
 */

export const LeaseWish = z.object({
  epoch: z.int(),
  /**
   * Whoever composed until now may not any longer (signed out, removed, another role): all their lines are cut, and
   * not only the live one as when another desk takes over.
   */
  isRevoked: z._default(z.boolean(), false),
});
export const RunWish = z.object({ runId: Id });
export const CoverWish = z.object({ on: z.boolean() });
export const DelayWish = z.object({
  delayMs: z.int().check(z.minimum(0), z.maximum(MOST_DELAY_S * 1000)),
});
export const SeenWish = z.object({ public: z.boolean() });

export const FeedWish = z.object({
  /** `rtmp(s)://host[:port]/app`, without the key. */
  address: z.string(),
  key: z.string(),
  /** Another door of the same place, tried in turn when one does not answer. */
  backup: z.optional(z.string()),
  /** What the place's house rules say happens when our stream arrives. */
  arrival: z.enum(['public', 'held']),
});
export type FeedWish = z.infer<typeof FeedWish>;

/** A few seconds of test pattern to one ingest. */
export const LineTestWish = z.object({
  address: z.string(),
  key: z.string(),
  seconds: z.int().check(z.minimum(1), z.maximum(10)),
  /** Of picture and sound together. */
  kbps: z.int().check(z.minimum(200), z.maximum(12_000)),
  height: z.int().check(z.minimum(180), z.maximum(1080)),
});
export type LineTestWish = z.infer<typeof LineTestWish>;

export const LineTestReport = z.object({
  /**
   * `taken`: all of it; `refused`: the place said no to the key; `cut_off`: it took the stream and then let go;
   * `stalled`: the line does not carry this rate; `no_answer`: nothing there speaks RTMP; `busy`: the
   * relay's machine has too much to do to make the test picture in time.
   */
  outcome: z.enum(['taken', 'refused', 'cut_off', 'stalled', 'no_answer', 'no_address', 'busy']),
  /** There and back, ms; null: nobody answered. */
  roundTripMs: z.nullable(z.number()),
  /** What was taken; null: not all of it. */
  kbps: z.nullable(z.int()),
  placeSays: z.nullable(z.string()),
});
export type LineTestReport = z.infer<typeof LineTestReport>;

export const RoundTripsWish = z.object({ addresses: z.array(z.string()).check(z.maxLength(20)) });
/** There and back, ms, in the order of the addresses; null: no answer. */
export const RoundTrips = z.object({ roundTripsMs: z.array(z.nullable(z.number())) });

export const DrillAnswer = z.object({ drill: z.nullable(DrillReport) });
export type DrillAnswer = z.infer<typeof DrillAnswer>;

export const RECORDING_KINDS = ['clean', 'aired'] as const;
export type RecordingKind = (typeof RECORDING_KINDS)[number];

export const Recording = z.object({
  runId: Id,
  kind: z.enum(RECORDING_KINDS),
  /** `recording` while the show runs, `finishing` while the file is made, `failed` when that did not work out. */
  status: z.enum(['recording', 'paused', 'finishing', 'ready', 'failed']),
  /** Null until it is ready. */
  bytes: z.nullable(z.int()),
  /** Show time of its end, ms; null until it is ready. */
  lengthMs: z.nullable(z.int()),
  startedAtMs: InstantMs,
  /** What the disk lost of what it had taken; null: nobody has counted yet. Reports of an earlier version lack it. */
  missing: z._default(
    z.nullable(
      z.object({
        /** Packets of the desk's that are not in the file. */
        packets: z.int(),
        /** How long the picture stands still for it, ms. */
        ms: z.int(),
        /** Bytes of the parts that could not be read; while there are any, the parts are kept. */
        damagedBytes: z.int(),
      }),
    ),
    null,
  ),
});
export type Recording = z.infer<typeof Recording>;

export const ProgrammeReport = z.object({
  showId: Id,
  /** `covered`: the slate because somebody wants it; `slate`: because nothing comes from the desk. */
  state: z.enum(['waiting', 'source', 'slate', 'covered']),
  /** The tab that composes; null while none is connected. */
  deskId: z.nullable(Id),
  /** The recorded run that is under way; null before the show starts and after it has ended. */
  runId: z.nullable(Id),
  /** ms since the run's first picture; null when there is none. */
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
  recordings: z.array(Recording),
});
export type ProgrammeReport = z.infer<typeof ProgrammeReport>;

export const RelayReport = z.object({
  atMs: InstantMs,
  programmes: z.array(ProgrammeReport),
});
export type RelayReport = z.infer<typeof RelayReport>;
