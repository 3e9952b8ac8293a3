import { MOST_ZOOM } from '@juncta/core/listings';
import * as z from 'zod/mini';
import { endpoint, Id, Nothing, right } from '../http';

/** A picture that was uploaded. It is read at `GET /api/shows/:showId/pictures/:scope`. */
export const Picture = z.object({
  width: z.int(),
  height: z.int(),
  /** Another picture has another. */
  version: z.string(),
});
export type Picture = z.infer<typeof Picture>;

export const CropDraft = z.object({
  x: z.number().check(z.minimum(0), z.maximum(1)),
  y: z.number().check(z.minimum(0), z.maximum(1)),
  zoom: z.number().check(z.minimum(1), z.maximum(MOST_ZOOM)),
});

/**
 * Where pictures are: `show` for the one that all listings share, or a destination's id for its own. Uploading is
 * `PUT` with the file itself as the body; the type is read from the file and not from its name.
 */
export const picturePath = (showId: string, scope: string) => `/api/shows/${showId}/pictures/${scope}`;
/** The picture as it is sent to a place: cut, in its size and weight. */
export const sentPicturePath = (showId: string, destinationId: string) =>
  `/api/shows/${showId}/listings/${destinationId}/picture`;

/** Forgets a picture; a listing then has the show's again. */
export const removePicture = endpoint({
  method: 'DELETE',
  path: '/api/shows/:showId/pictures/:scope',
  access: right('shows.edit'),
  params: z.object({ showId: Id, scope: z.union([z.literal('show'), Id]) }),
  body: Nothing,
  response: Nothing,
});
