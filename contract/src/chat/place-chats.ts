import * as z from 'zod/mini';
import { endpoint, Id, Nothing, right } from '../http';

/** Who may write how often at a place; null: the place offers nothing like it from outside. */
export const PlaceChatRules = z.object({
  /** s between two messages of one writer; 0: as often as they like. */
  slowSeconds: z.nullable(z.int().check(z.minimum(0), z.maximum(3600))),
  followersOnly: z.nullable(z.boolean()),
  /** A writer's account has to be so old, days; 0: any may. */
  accountDays: z.nullable(z.int().check(z.minimum(0), z.maximum(365))),
});
export type PlaceChatRules = z.infer<typeof PlaceChatRules>;

/** What one place of a show allows its viewers to write, as it says itself. */
export const PlaceChat = z.object({
  destinationId: Id,
  /** Null: nothing can be set there from outside, or it did not answer. */
  rules: z.nullable(PlaceChatRules),
  /** The most that the place takes of each. */
  most: z.object({ slowSeconds: z.int(), accountDays: z.int() }),
  /** Why there is nothing to set, or what went wrong; null: all is well. */
  sentence: z.nullable(z.string()),
});
export type PlaceChat = z.infer<typeof PlaceChat>;

/** The rules of the places whose chats are open, asked for there and then. */
export const readPlaceChats = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/chat/places',
  access: right('chat.read'),
  params: z.object({ showId: Id }),
  body: Nothing,
  response: z.object({ places: z.array(PlaceChat) }),
});

/** Sets a place's rules, those that are not null, and reads them back. */
export const writePlaceChat = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/chat/places/:destinationId',
  access: right('chat.write'),
  params: z.object({ showId: Id, destinationId: Id }),
  body: z.object({ rules: PlaceChatRules }),
  response: z.object({ place: PlaceChat }),
});
