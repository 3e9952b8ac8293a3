import { ON_AIR_SIGNS } from '@juncta/core/people';
import * as z from 'zod/mini';
import { endpoint, Id, Nothing, right } from '../http';

/**
 * The room of a show: a socket.io namespace, in which guests and desks hear who is there, and agree with the media
 * server on what they send and receive. Session descriptions (RFC 8866) travel whole, with all candidates in them.
 */
export const ROOM_NAMESPACE = '/room';

/** A session description is some kB for each track in it. */
const Description = z.string().check(z.minLength(1), z.maxLength(60_000));

/** What somebody says of themselves when they connect. Guests are known by their session alone. */
export const RoomAuth = z.object({
  /** Only for members: the show whose desk is open. */
  showId: z.optional(Id),
  /** The tab. A guest's link is used in one tab at a time; a desk's tab is the one that may compose. */
  placeId: Id,
  /** Only for guests: even if the link is in use elsewhere. */
  takeOver: z.optional(z.boolean()),
});
export type RoomAuth = z.infer<typeof RoomAuth>;

/** Which of the two somebody sends at the moment. */
export const Sends = z.object({ video: z.boolean(), audio: z.boolean() });
export type Sends = z.infer<typeof Sends>;

export const PublishRequest = z.object({ sdp: Description, sends: Sends });
/** A person's id in the show, or the programme. */
export const WatchRequest = z.object({ publisher: z.string().check(z.maxLength(60)) });
export const WatchAnswer = z.object({ watchId: Id, sdp: Description });
export const UnwatchRequest = z.object({ watchId: Id });
/** People on stage, in their order. Only from the desk that composes. */
export const StageRequest = z.object({ people: z.array(Id).check(z.maxLength(20)) });

export const RoomPerson = z.object({
  personId: Id,
  /** Null while they send nothing. Another number: a new connection, to be received anew. */
  publication: z.nullable(z.int()),
  sends: Sends,
  sign: z.enum(ON_AIR_SIGNS),
});
export type RoomPerson = z.infer<typeof RoomPerson>;

/** Who is there, whole, at every change. */
export interface RoomView {
  /** Null for a desk. */
  readonly you: string | null;
  /** Everybody who is in the room by a guest's link. */
  readonly people: readonly RoomPerson[];
  /** On stage, whether they came by a link or sit at the desk. */
  readonly stage: readonly string[];
  /** The programme as the composing desk sends it into the room; null while it sends none. */
  readonly programme: number | null;
  /** False: the media server is away, and is being brought back. */
  readonly media: boolean;
}

export const ROOM_PROBLEMS = ['not_understood', 'not_allowed', 'not_there', 'media_away'] as const;
export type RoomProblem = (typeof ROOM_PROBLEMS)[number];
export type RoomAnswer<T> =
  ({ readonly ok: true } & T) | { readonly ok: false; readonly problem: RoomProblem };

/** Why a connection to the room was not made; `error.message` of the client. */
export const ROOM_REFUSALS = [
  'signed_out',
  'elsewhere',
  'database_away',
  'too_many',
  'not_understood',
] as const;
export type RoomRefusal = (typeof ROOM_REFUSALS)[number];

export interface RoomToClient {
  room: (view: RoomView) => void;
  /** Video and audio of this client no longer arrive: it has to publish anew. */
  publish_again: () => void;
  /** The link is used in another place now. */
  moved: () => void;
  /** The link was taken back or has expired. */
  signed_out: () => void;
}
export interface RoomToServer {
  publish: (
    request: z.infer<typeof PublishRequest>,
    done: (answer: RoomAnswer<{ sdp: string }>) => void,
  ) => void;
  unpublish: (done: (answer: RoomAnswer<object>) => void) => void;
  sends: (request: Sends) => void;
  watch: (
    request: z.infer<typeof WatchRequest>,
    done: (answer: RoomAnswer<{ watchId: string; sdp: string }>) => void,
  ) => void;
  answer: (request: z.infer<typeof WatchAnswer>, done: (answer: RoomAnswer<object>) => void) => void;
  unwatch: (request: z.infer<typeof UnwatchRequest>) => void;
  stage: (request: z.infer<typeof StageRequest>) => void;
}

const showParams = z.object({ showId: Id });

/** Made-up guests for whoever is alone: only where the helper that plays them runs. */
export const StandInGuest = z.object({ personId: Id, name: z.string() });

/** Whether there are any, and who of the show's guests is one. */
export const listStandInGuests = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/stand-in-guests',
  access: right('desk.open'),
  params: showParams,
  body: Nothing,
  response: z.object({ available: z.boolean(), guests: z.array(StandInGuest) }),
});

/** Sends one in: a guest of the show like any other, who comes by a personal link. At most four. */
export const sendInStandInGuest = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/stand-in-guests',
  access: right('show.run'),
  params: showParams,
  body: Nothing,
  response: StandInGuest,
});

/** Sends one away, out of the room and of the show. */
export const sendAwayStandInGuest = endpoint({
  method: 'DELETE',
  path: '/api/shows/:showId/stand-in-guests/:personId',
  access: right('show.run'),
  params: z.object({ showId: Id, personId: Id }),
  body: Nothing,
  response: Nothing,
});
