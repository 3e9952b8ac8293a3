import { MOST_INPUTS, ON_ARRIVAL, SECOND_SENDERS } from '@juncta/core/ingest';
import { MOST_DELAY_S, PICTURE_SHAPES } from '@juncta/core/programme';
import * as z from 'zod/mini';
import { Id } from '../http';

/**
 * What the server tells the relay to do, and what the relay reports: HTTP on loopback with a secret that both were
 * started with. All of it is safe to repeat.
 *
 * | request                                          | body              | answer                     |
 * |--------------------------------------------------|-------------------|----------------------------|
 * | `GET /control/changes`                           |                   | {@link RelayReport}s (SSE) |
 * | `PUT /control/shows/:show/lease`                 | {@link LeaseRequest} | {@link ProgrammeReport}    |
 * | `PUT /control/shows/:show/run`                   | {@link RunRequest}   | {@link ProgrammeReport}    |
 * | `PUT /control/shows/:show/delay`                 | {@link DelayRequest} | {@link ProgrammeReport}    |
 * | `POST /control/shows/:show/end`                  |                   | {@link ProgrammeReport}    |
 * | `POST /control/shows/:show/cover`                | {@link CoverRequest} | {@link ProgrammeReport}    |
 * | `POST /control/shows/:show/feeds/:dest/start`    | {@link FeedRequest}  | {@link ProgrammeReport}    |
 * | `POST /control/shows/:show/feeds/:dest/stop`     |                   | {@link ProgrammeReport}    |
 * | `POST /control/shows/:show/feeds/:dest/seen`     | {@link SeenRequest}  | {@link ProgrammeReport}    |
 * | `PUT /control/shows/:show/inputs`                | {@link InputsRequest} | {@link ProgrammeReport}   |
 * | `POST /control/shows/:show/input`                | {@link TakeRequest}  | {@link ProgrammeReport}    |
 * | `GET /control/shows/:show/still/:input`          |                   | a JPEG picture             |
 * | `GET /control/shows/:show/feeds/:dest/still`    |                   | a JPEG picture             |
 * | `GET /control/shows/:show/drill`                 |                   | `DrillAnswer`              |
 * | `POST /control/shows/:show/drill/begin`          | `DrillRequest`       | `DrillAnswer`              |
 * | `POST /control/shows/:show/drill/fault`          | `DrillFaultRequest`  | `DrillAnswer`              |
 * | `POST /control/shows/:show/drill/script`         |                   | `DrillAnswer`              |
 * | `POST /control/shows/:show/drill/publish`        | `destinationId`   | `DrillAnswer`              |
 * | `POST /control/shows/:show/drill/end`            |                   | `DrillAnswer`              |
 * | `POST /control/line-tests`                       | {@link LineTestRequest} | {@link LineTestReport}  |
 * | `POST /control/round-trips`                      | {@link RoundTripsRequest} | {@link RoundTrips}    |
 * | `GET /control/recordings/:show/:run/:kind`       |                   | the file, by ranges        |
 */

export const LeaseRequest = z.object({
  epoch: z.int(),
  /**
   * Whoever composed until now may no longer (signed out, removed, another role): all their lines are cut, and
   * not only the live one as when another desk takes over.
   */
  isRevoked: z._default(z.boolean(), false),
});
export const RunRequest = z.object({ runId: Id });
export const CoverRequest = z.object({ on: z.boolean() });
export const DelayRequest = z.object({
  delayMs: z.int().check(z.minimum(0), z.maximum(MOST_DELAY_S * 1000)),
});
export const SeenRequest = z.object({ public: z.boolean() });

/** All outside pictures that a show may have, and what it wants of them. What stands in no list is let in no longer. */
export const InputsRequest = z.object({
  inputs: z
    .array(
      z.object({
        inputId: Id,
        /** SHA-256 of its key, hexadecimal. */
        keyHash: z.string().check(z.regex(/^[0-9a-f]{64}$/)),
        second: z.enum(SECOND_SENDERS),
        onArrival: z.enum(ON_ARRIVAL),
        /**
         * It comes by SRT: it calls this UDP port with this passphrase, or is called at `srt://host:port` with a key as feeds
         * have one. Null: by RTMP.
         */
        srt: z._default(
          z.nullable(
            z.union([
              z.object({
                port: z.int().check(z.minimum(1), z.maximum(65_535)),
                passphrase: z.string().check(z.regex(/^[\w-]{10,79}$/)),
              }),
              z.object({ address: z.string(), key: z.string() }),
            ]),
          ),
          null,
        ),
      }),
    )
    .check(z.maxLength(MOST_INPUTS)),
  wants: z.object({
    width: z.int().check(z.minimum(16), z.maximum(4096)),
    height: z.int().check(z.minimum(16), z.maximum(4096)),
    rateHz: z.int().check(z.minimum(1), z.maximum(120)),
    leastKbps: z.int().check(z.minimum(0)),
    mostKbps: z.int().check(z.minimum(100)),
  }),
});
export type InputsRequest = z.infer<typeof InputsRequest>;
/** Null: the desk makes the programme again. */
export const TakeRequest = z.object({ inputId: z.nullable(Id) });

/** A picture that is encoded at the relay, for places that do not take the programme's own. */
export const RenditionRequest = z.object({
  shape: z._default(z.enum(PICTURE_SHAPES), 'landscape'),
  /** Lines; of an upright picture its width. */
  height: z.int().check(z.minimum(180), z.maximum(2160)),
  /** Frames a second. */
  rateHz: z.number().check(z.minimum(1), z.maximum(120)),
  /** Of the programme's frames one in so many goes out. */
  oneIn: z.int().check(z.minimum(1), z.maximum(10)),
  videoKbps: z.int().check(z.minimum(100), z.maximum(50_000)),
  /** s from one keyframe to the next. */
  keyframeS: z.number().check(z.minimum(0.5), z.maximum(10)),
});
export type RenditionRequest = z.infer<typeof RenditionRequest>;

export const FeedRequest = z.object({
  /** `rtmp(s)://host[:port]/app`, without the key. */
  address: z.string(),
  key: z.string(),
  /** Another door of the same place, tried in turn when one does not answer. */
  backup: z.optional(z.string()),
  /** What the place's house rules say happens when our stream arrives. */
  arrival: z.enum(['public', 'held']),
  /** What goes there; left out: the programme as it is. Feeds that name the same share it. */
  rendition: z.optional(RenditionRequest),
});
export type FeedRequest = z.infer<typeof FeedRequest>;

/** A few seconds of test pattern to one ingest. */
export const LineTestRequest = z.object({
  address: z.string(),
  key: z.string(),
  seconds: z.int().check(z.minimum(1), z.maximum(10)),
  /** Of video and audio together. */
  kbps: z.int().check(z.minimum(200), z.maximum(12_000)),
  height: z.int().check(z.minimum(180), z.maximum(1080)),
});
export type LineTestRequest = z.infer<typeof LineTestRequest>;

export const LineTestReport = z.object({
  /**
   * `taken`: all of it; `refused`: the place said no to the key; `cut_off`: it took the stream and then let go;
   * `stalled`: the line does not carry this rate; `no_answer`: nothing there speaks RTMP; `busy`: the
   * relay's machine has too much to do to make the test pattern in time.
   */
  outcome: z.enum(['taken', 'refused', 'cut_off', 'stalled', 'no_answer', 'no_address', 'busy']),
  /** There and back, ms; null: nobody answered. */
  roundTripMs: z.nullable(z.number()),
  /** What was taken; null: not all of it. */
  kbps: z.nullable(z.int()),
  placeSays: z.nullable(z.string()),
});
export type LineTestReport = z.infer<typeof LineTestReport>;

export const RoundTripsRequest = z.object({ addresses: z.array(z.string()).check(z.maxLength(20)) });
/** There and back, ms, in the order of the addresses; null: no answer. */
export const RoundTrips = z.object({ roundTripsMs: z.array(z.nullable(z.number())) });
