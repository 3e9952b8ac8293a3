import {
  ASKABLE,
  MOST_OF_A_KIND,
  PROGRAMME_PUBLISHER,
  type Asked,
  type Offer,
  type OnAirSign,
  type OnStage,
  type Publisher,
} from '@juncta/core/people';
import type { SourceId } from '@juncta/core/stage';
import * as z from 'zod/mini';
import { endpoint, Id, Nothing, right } from '../http';
import { Fate, Source } from '../stage';

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

const PublisherName = z.union([z.literal(PROGRAMME_PUBLISHER), Source]);

export const PublishRequest = z.object({ publisher: PublisherName, sdp: Description });
export const UnpublishRequest = z.object({ publisher: PublisherName });
/** All that a guest has for the show from now on. */
export const OffersRequest = z.object({
  offers: z
    .array(z.object({ source: Source, video: Fate, audio: Fate }))
    .check(z.maxLength(2 * MOST_OF_A_KIND)),
});
export const WatchRequest = z.object({ publisher: PublisherName });
export const WatchAnswer = z.object({ watchId: Id, sdp: Description });
export const UnwatchRequest = z.object({ watchId: Id });
/** What is on programme, in its order. Only from the desk that composes. */
export const StageRequest = z.object({
  stage: z
    .array(z.object({ source: Source, isSeen: z.boolean(), isHeard: z.boolean() }))
    .check(z.maxLength(20)),
  /** As it knew before the line was lost: a server that was restarted has forgotten it. */
  accepted: z.optional(z.array(Source).check(z.maxLength(60))),
});
/** What a guest offered comes into the wings, or is not wanted (any more). Only from members who may run the show. */
export const AcceptRequest = z.object({ source: Source, isAccepted: z.boolean() });
/** Asks a guest for something that only they can do. Only from members who may run the show. */
export const AskRequest = z.object({ personId: Id, what: z.enum(ASKABLE) });
/** A guest will not do what was asked. */
export const DeclineRequest = z.object({ what: z.enum(ASKABLE) });

/** What a guest has for the show, as everybody in the room knows it. */
export interface RoomSource extends Offer {
  /** Null while it does not arrive. Another number: a new connection, to be received anew. */
  readonly publication: number | null;
  /** A desk wants it: it is in the wings, or on stage. */
  readonly isAccepted: boolean;
}

export interface RoomPerson {
  readonly personId: string;
  readonly sources: readonly RoomSource[];
  /** What a desk asked of them, and they have not done. */
  readonly asked: readonly Asked[];
  readonly sign: OnAirSign;
}

/** Who is there, whole, at every change. */
export interface RoomView {
  /** Null for a desk. */
  readonly you: string | null;
  /** Everybody who is in the room by a guest's link. */
  readonly people: readonly RoomPerson[];
  /** On programme, whether it came by a link or from the desk. */
  readonly stage: readonly OnStage[];
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
  /** This of the client no longer arrives, or nothing of it (null): it has to publish anew. */
  publish_again: (publisher: Publisher | null) => void;
  /** What was offered is not wanted (any more): its sharing is to end. */
  declined: (source: SourceId) => void;
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
  unpublish: (request: z.infer<typeof UnpublishRequest>, done: (answer: RoomAnswer<object>) => void) => void;
  offers: (request: z.infer<typeof OffersRequest>) => void;
  watch: (
    request: z.infer<typeof WatchRequest>,
    done: (answer: RoomAnswer<{ watchId: string; sdp: string }>) => void,
  ) => void;
  answer: (request: z.infer<typeof WatchAnswer>, done: (answer: RoomAnswer<object>) => void) => void;
  unwatch: (request: z.infer<typeof UnwatchRequest>) => void;
  stage: (request: z.infer<typeof StageRequest>) => void;
  accept: (request: z.infer<typeof AcceptRequest>) => void;
  ask: (request: z.infer<typeof AskRequest>) => void;
  decline: (request: z.infer<typeof DeclineRequest>) => void;
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
