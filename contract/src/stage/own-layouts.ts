import {
  LEAST_PLACE,
  MOST_IN_PICTURE,
  OWN_LAYOUT_NAME_MAX,
  type OwnLayout as OwnLayoutShape,
  type OwnPlace,
} from '@juncta/core/stage';
import * as z from 'zod/mini';
import { endpoint, Id, line, Nothing, right } from '../http';
import { ShowScope } from '../shows/scope';

const share = (least: number) => z.number().check(z.minimum(least), z.maximum(1));
/** A share is not exact. */
const NEAR = 1e-6;

const place: z.ZodMiniType<OwnPlace> = z
  .object({
    x: share(0),
    y: share(0),
    width: share(LEAST_PLACE - NEAR),
    height: share(LEAST_PLACE - NEAR),
    kind: z.enum(['person', 'screen']),
  })
  .check(
    z.refine(({ x, y, width, height }) => x + width <= 1 + NEAR && y + height <= 1 + NEAR, {
      error: 'outside_picture',
    }),
  );
const places = z.array(place).check(z.minLength(1), z.maxLength(MOST_IN_PICTURE));

/** As it is in a scene: without a name while it is being made. */
export const OwnLayout: z.ZodMiniType<OwnLayoutShape> = z.object({
  id: Id,
  name: line(OWN_LAYOUT_NAME_MAX, 0),
  places,
});

/** A layout that the team made, for all shows or for those of one series. */
export const KeptLayout = z.object({ scope: ShowScope, layout: OwnLayout });
export type KeptLayout = z.infer<typeof KeptLayout>;

/** In each scope: more keys than that nobody finds their way among. */
export const MOST_LAYOUTS = 12;

export const readLayouts = endpoint({
  method: 'GET',
  path: '/api/layouts',
  access: right('desk.open'),
  params: Nothing,
  body: Nothing,
  response: z.object({
    /** In the order of their names. */
    layouts: z.array(KeptLayout),
    /** The last event of the stream `shows` that is contained. */
    seq: z.int(),
  }),
});

/** Keeps a layout under its id; one that is there is replaced. Scenes that have it stay as they are until it is chosen anew. */
export const keepLayout = endpoint({
  method: 'PUT',
  path: '/api/layouts/:layoutId',
  access: right('show.run'),
  params: z.object({ layoutId: Id }),
  body: z.object({ scope: ShowScope, name: line(OWN_LAYOUT_NAME_MAX), places }),
  response: Nothing,
});

/** Asked again, nothing happens. */
export const dropLayout = endpoint({
  method: 'DELETE',
  path: '/api/layouts/:layoutId',
  access: right('show.run'),
  params: z.object({ layoutId: Id }),
  body: Nothing,
  response: Nothing,
});
