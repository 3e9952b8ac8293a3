import {
  BOX_SIDES,
  CORNERS,
  LEAST_TONE,
  nameOf,
  MOST_LEVEL,
  MOST_TONE,
  MOST_ZOOM,
  type Adjustment,
  LAYOUTS,
  LEAST_MIX_MS,
  MOST_IN_PICTURE,
  MOST_MIX_MS,
  ORIGINS,
  SLATES,
  STAGE_REFUSALS,
  TRANSITIONS,
  type Scene,
  type SceneEvent,
  type Stage,
  type StageChange,
} from '@juncta/core/stage';
import * as z from 'zod/mini';
import { endpoint, Id, Nothing, right } from '../http';
import { Graphics, GraphicsChange } from './graphics';
import { OwnLayout } from './own-layouts';
import { Fate, Source } from './source';

export * from './own-layouts';
export * from './source';

const layout = z.enum(LAYOUTS);
/** Every source in the layout may have a name over it. */
const MOST_LAYERS = 2 * MOST_IN_PICTURE;
/** More sources than anybody has: two for each person, and some more. */
const MOST_SOURCES = 60;

const between = (least: number, most: number) => z.number().check(z.minimum(least), z.maximum(most));

const scene: z.ZodMiniType<Scene> = z.object({
  layout,
  own: z.nullable(OwnLayout),
  names: z.boolean(),
  layers: z
    .array(
      z.object({
        source: Source,
        place: z.discriminatedUnion('by', [
          z.object({ by: z.literal('layout') }),
          z.object({ by: z.literal('layer'), of: Source }),
          z.object({ by: z.literal('foot') }),
          z.object({ by: z.literal('band') }),
          z.object({ by: z.literal('side'), side: z.enum(BOX_SIDES), width: between(0, 1) }),
          z.object({
            by: z.literal('corner'),
            corner: z.enum(CORNERS),
            width: between(0, 1),
            scale: between(0, 2),
          }),
          z.object({
            by: z.literal('free'),
            share: z.object({
              x: between(0, 1),
              y: between(0, 1),
              width: between(0, 1),
              height: between(0, 1),
            }),
          }),
        ]),
      }),
    )
    .check(z.maxLength(MOST_LAYERS)),
});

const sceneEvent: z.ZodMiniType<SceneEvent> = z.discriminatedUnion('type', [
  z.object({ type: z.literal('bring_on'), source: Source }),
  z.object({ type: z.literal('take_off'), source: Source }),
  z.object({
    type: z.literal('move'),
    source: Source,
    to: z.int().check(z.minimum(0), z.maximum(MOST_IN_PICTURE)),
  }),
  z.object({ type: z.literal('layout'), layout }),
  z.object({ type: z.literal('own_layout'), own: OwnLayout }),
  z.object({ type: z.literal('names'), on: z.boolean() }),
  z.object({ type: z.literal('clear') }),
]);

const transition = z.object({
  kind: z.enum(TRANSITIONS),
  ms: z.int().check(z.minimum(LEAST_MIX_MS), z.maximum(MOST_MIX_MS)),
});

const sources = z
  .array(
    z.object({
      source: Source,
      origin: z.enum(ORIGINS),
      video: Fate,
      audio: Fate,
    }),
  )
  .check(z.maxLength(MOST_SOURCES));

const adjustments = {
  zoom: between(1, MOST_ZOOM),
  panX: between(-1, 1),
  panY: between(-1, 1),
  mirror: z.boolean(),
  brightness: between(LEAST_TONE, MOST_TONE),
  contrast: between(LEAST_TONE, MOST_TONE),
  warmth: between(-1, 1),
  level: between(0, MOST_LEVEL),
  isMuted: z.boolean(),
  isHidden: z.boolean(),
} satisfies Record<keyof Adjustment, z.ZodMiniType>;

const stage: z.ZodMiniType<Stage> = z.object({
  programme: scene,
  armed: z.nullable(scene),
  transition,
  takes: z.int(),
  sources,
  outside: z.array(z.object({ inputId: Id, source: Source })),
  adjustments: z.record(z.string(), z.object(adjustments)) as unknown as z.ZodMiniType<Stage['adjustments']>,
  graphics: Graphics,
  slate: z.enum(SLATES),
});

/** A picture of its own, or somebody's camera. */
const OutsideAs = Source.check(
  z.refine((source) => ['outside', 'camera'].includes(nameOf(source).kind), {
    error: 'an outside picture is one of its own, or somebody’s camera',
  }),
);

const change: z.ZodMiniType<StageChange> = z.discriminatedUnion('type', [
  z.object({ type: z.literal('scene'), event: sceneEvent }),
  z.object({ type: z.literal('programme'), event: sceneEvent }),
  z.object({ type: z.literal('arm') }),
  z.object({ type: z.literal('disarm') }),
  z.object({ type: z.literal('take'), takes: z.int().check(z.minimum(0)) }),
  z.object({ type: z.literal('transition'), transition }),
  z.object({ type: z.literal('sources'), sources }),
  z.object({ type: z.literal('outside'), inputId: Id, source: z.nullable(OutsideAs) }),
  z.object({
    type: z.literal('adjust'),
    source: Source,
    values: z.partial(z.object(adjustments)) as unknown as z.ZodMiniType<Partial<Adjustment>>,
  }),
  z.object({ type: z.literal('graphics'), change: GraphicsChange }),
  z.object({ type: z.literal('slate'), slate: z.enum(SLATES) }),
  z.object({ type: z.literal('clear') }),
]);

/** The stage as it stands, with the number of its changes. */
const known = z.object({ version: z.int(), stage });

export const readStage = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/stage',
  access: right('desk.open'),
  params: z.object({ showId: Id }),
  body: Nothing,
  response: z.object({
    known,
    /** The last event of the show's stream `stage` that is contained. */
    seq: z.int(),
  }),
});

/** So many changes are taken at once. A desk whose server was away gives what it did meanwhile in several goes. */
export const MOST_CHANGES = 50;

/**
 * Changes the stage, one after another. A change that was given before is not carried out again. What cannot be carried
 * out is told by its id, and the others are: somebody else may have changed the stage a moment before.
 */
export const changeStage = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/stage',
  access: right('show.run'),
  params: z.object({ showId: Id }),
  body: z.object({
    changes: z.array(z.object({ id: Id, change })).check(z.minLength(1), z.maxLength(MOST_CHANGES)),
  }),
  response: z.object({
    known,
    refused: z.array(z.object({ id: Id, reason: z.enum(STAGE_REFUSALS) })),
  }),
});
