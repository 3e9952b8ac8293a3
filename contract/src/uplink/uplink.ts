import { MAX_PAYLOAD_BYTES } from '@juncta/core/media/packets';
import * as z from 'zod/mini';
import { Id } from '../http';

/**
 * The uplink, from a composing desk to the relay. The first message is a {@link Hello}; the relay answers
 * `welcome` or `refused`. Then binary messages of one or more packets follow (format: `packet.ts` in core), and the
 * relay sends {@link UplinkAnswer}s. `acknowledged` means: on disk, or, before the show has started, not wanted
 * there. A packet that comes twice is acknowledged twice and kept once.
 */

/** To send the programme and receive what the stage has; or only to look at what comes in, which changes nothing. */
export const TICKET_RIGHTS = ['compose', 'watch'] as const;

/** What the server signs: who may send packets of which show, or receive them. */
export const Ticket = z.object({
  showId: Id,
  /** One tab of one browser. */
  deskId: Id,
  /** Counts the take-overs of a show's composing; the relay lets nobody in with a lower one than the last. */
  epoch: z.int(),
  may: z._default(z.enum(TICKET_RIGHTS), 'compose'),
  /** By the machine's clock. Renewed long before by a desk that is still signed in: see {@link TICKET_LIFE_MS}. */
  expiresAtMs: z.int(),
});
export type Ticket = z.infer<typeof Ticket>;

/**
 * A ticket is good for this long, and renewed every {@link TICKET_RENEWED_EVERY_MS} over the sockets that are open. While
 * the server is away nobody can renew it: for this long the relay takes one that has run out, as no show may end for that.
 */
export const TICKET_LIFE_MS = 10 * 60_000;
export const TICKET_RENEWED_EVERY_MS = 3 * 60_000;
/** One that only lets somebody look is good for less, and renewed more often: it is not taken back when they sign out. */
export const WATCH_TICKET_LIFE_MS = 3 * 60_000;
export const WATCH_TICKET_RENEWED_EVERY_MS = 60_000;
/** With the server away, a ticket that ran out is taken for this long: longer than the longest show with its rehearsal. */
export const TICKET_GRACE_MS = 26 * 3_600_000;

export const Hello = z.object({
  type: z.literal('hello'),
  ticket: z.string().check(z.maxLength(2000)),
  lane: z.enum(['live', 'backlog']),
  session: Id,
  width: z.int().check(z.minimum(16), z.maximum(4096)),
  height: z.int().check(z.minimum(16), z.maximum(4096)),
  videoKbps: z.int().check(z.minimum(1), z.maximum(50_000)),
  audioKbps: z.int().check(z.minimum(1), z.maximum(1000)),
});
export type Hello = z.infer<typeof Hello>;

/**
 * Instead of a {@link Hello}: binary messages follow that mean nothing and are counted, so that a desk knows what its
 * line carries to the relay. Each is answered with `measured`.
 */
export const Measure = z.object({ type: z.literal('measure'), ticket: z.string().check(z.maxLength(2000)) });
/** A measuring is over after so much, and after this long. */
export const MEASURE_MOST_BYTES = 300_000_000;
export const MEASURE_MOST_MS = 10_000;

/**
 * Instead of a {@link Hello}: the other way round, an outside picture comes to a desk as its encoder sends it. Each binary
 * message is one tag of FLV, times from 0 since the encoder came; video begins with a configuration and a keyframe.
 */
export const Receive = z.object({
  type: z.literal('receive'),
  ticket: z.string().check(z.maxLength(2000)),
  inputId: Id,
});
export type Receive = z.infer<typeof Receive>;
/** So often a desk is told whether the encoder is there, whatever comes: silence means that the line is dead. */
export const TELL_INPUT_EVERY_MS = 2000;

/** What a desk may ask of the relay over its socket, without the server. */
export const DeskRequest = z.discriminatedUnion('type', [
  Hello,
  Measure,
  Receive,
  /** The panic key: the standby slate and silence, at once; and back. */
  z.object({ type: z.literal('cover'), on: z.boolean() }),
  /** Another ticket of the same desk, before the one of the hello runs out. */
  z.object({ type: z.literal('renew'), ticket: z.string().check(z.maxLength(2000)) }),
]);

export const REFUSAL_CODES = [
  'ticket',
  'taken_over',
  'not_understood',
  'other_session',
  'format_changed',
  'too_long',
  'damaged',
  'no_input',
  'too_many',
] as const;

export const UplinkAnswer = z.discriminatedUnion('type', [
  z.object({ type: z.literal('welcome') }),
  /** Every packet sent on this lane up to this one. */
  z.object({ type: z.literal('acknowledged'), lane: z.enum(['live', 'backlog']), number: z.int() }),
  /** Somebody joins or the recording begins: the sooner a keyframe comes, the sooner there is something to see. */
  z.object({ type: z.literal('keyframe_wanted') }),
  /**
   * Bytes that have come over this socket, all together: of a measuring, or of packets on the live lane, told several times
   * a second. What was sent beyond them is still on its way, in whatever buffers there are: that the browser has let go of
   * it says nothing.
   */
  z.object({ type: z.literal('measured'), bytes: z.int() }),
  /**
   * Whether viewers see the slate because somebody wants it: on the live lane, after the welcome and whenever it changes,
   * whoever asked for it. So the desk that composes knows without the server.
   */
  z.object({ type: z.literal('covered'), on: z.boolean() }),
  /** Of an outside picture that is received: whether its encoder is there. Told when it changes, and now and then. */
  z.object({ type: z.literal('input'), isHere: z.boolean() }),
  z.object({ type: z.literal('refused'), code: z.enum(REFUSAL_CODES), sentence: z.string() }),
]);
export type UplinkAnswer = z.infer<typeof UplinkAnswer>;

/** A message of packets may be this long: one of the longest and room for the audio beside it. */
export const MAX_MESSAGE_BYTES = MAX_PAYLOAD_BYTES + 256 * 1024;
