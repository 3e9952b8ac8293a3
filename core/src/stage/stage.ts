import {
  changeGraphics,
  graphicsOff,
  isAnyGraphicOn,
  NO_GRAPHICS,
  type Graphics,
  type GraphicsChange,
} from './graphics/graphics';
import { AS_IT_COMES, type Adjustment } from './adjustment';
import {
  changeScene,
  EMPTY_SCENE,
  placedIn,
  replaceIn,
  type Scene,
  type SceneEvent,
  type SceneRefusal,
} from './scene';
import type { SourceId } from './sources';

/** How what is armed comes on programme. */
export const TRANSITIONS = ['cut', 'mix'] as const;
export type TransitionKind = (typeof TRANSITIONS)[number];
export interface Transition {
  readonly kind: TransitionKind;
  /** Of a mix, ms. */
  readonly ms: number;
}
export const LEAST_MIX_MS = 200;
export const MOST_MIX_MS = 2000;

/** Where the pictures of a source come from. */
export const ORIGINS = ['pattern', 'camera', 'screen', 'guest', 'outside'] as const;
export type Origin = (typeof ORIGINS)[number];

/**
 * How it is with the video or the audio of a source.
 * - `off`: turned off by whoever it belongs to
 * - `gone`: the device was unplugged, or taken by another program
 * - `replaced`: it is gone, and another device that was left stands in for it
 * - `none`: the source has none
 */
export const DEVICE_FATES = ['there', 'off', 'gone', 'replaced', 'none'] as const;
export type DeviceFate = (typeof DEVICE_FATES)[number];

/** A source as whoever composes has it at the moment. */
export interface SourceAtHand {
  readonly source: SourceId;
  readonly origin: Origin;
  readonly video: DeviceFate;
  readonly audio: DeviceFate;
}

/** An outside picture that whoever composes is to have at hand. */
export interface OutsideOnStage {
  /** The id of its input. */
  readonly inputId: string;
  /** As which source: a picture of its own, or somebody's camera. Each source stands for one input. */
  readonly source: SourceId;
}

/** More than one computer can decode beside everything else. */
export const MOST_OUTSIDE = 4;

/** A show's stage: what is on programme, and what is put together to come next. Kept by the server, driven from any desk. */
export interface Stage {
  readonly programme: Scene;
  /** Null: nothing is prepared, and whatever is changed is seen at once. */
  readonly armed: Scene | null;
  readonly transition: Transition;
  /** How often something was taken: whoever takes says which time it would be, so that two at once take one. */
  readonly takes: number;
  /** What whoever composes can put into the picture, as they told last. */
  readonly sources: readonly SourceAtHand[];
  /** The outside pictures among them, there or not. */
  readonly outside: readonly OutsideOnStage[];
  /** Of those that are not as they come. */
  readonly adjustments: Readonly<Record<SourceId, Adjustment>>;
  /** Over whatever is on programme. */
  readonly graphics: Graphics;
  /** What viewers read while there is no picture. */
  readonly slate: Slate;
}

/** Before the show, in it, and after it. */
export const SLATES = ['before', 'break', 'after'] as const;
export type Slate = (typeof SLATES)[number];

export const EMPTY_STAGE: Stage = {
  programme: EMPTY_SCENE,
  armed: null,
  transition: { kind: 'mix', ms: 400 },
  takes: 0,
  sources: [],
  outside: [],
  adjustments: {},
  graphics: NO_GRAPHICS,
  slate: 'before',
};

export type StageChange =
  /** Of the armed scene, or of what is on programme while nothing is armed. */
  | { readonly type: 'scene'; readonly event: SceneEvent }
  /** Of what is on programme, whatever is armed. */
  | { readonly type: 'programme'; readonly event: SceneEvent }
  /** Begins to prepare, with what is on programme. */
  | { readonly type: 'arm' }
  /** What was prepared is dropped. */
  | { readonly type: 'disarm' }
  /** What is armed comes on programme; what was there is armed, so that the next take goes back. */
  | { readonly type: 'take'; readonly takes: number }
  | { readonly type: 'transition'; readonly transition: Transition }
  /** Told by whoever composes. */
  | { readonly type: 'sources'; readonly sources: readonly SourceAtHand[] }
  /**
   * An outside picture is to be at hand as this source, in the place of whatever it was before; null: no longer, and it is taken
   * off.
   */
  | { readonly type: 'outside'; readonly inputId: string; readonly source: SourceId | null }
  /** How a source is shown and heard, in whatever scene: seen at once. */
  | { readonly type: 'adjust'; readonly source: SourceId; readonly values: Partial<Adjustment> }
  /** Of what stands over the programme: seen at once. */
  | { readonly type: 'graphics'; readonly change: GraphicsChange }
  | { readonly type: 'slate'; readonly slate: Slate }
  /** Nobody and no graphic is in the picture, and nothing is prepared. */
  | { readonly type: 'clear' };

/** Why the stage stays as it is. */
export type StageRefusal =
  | SceneRefusal
  /** As many outside pictures as one computer can decode are at hand. */
  | 'too_many_outside'
  /** Another outside picture is this source. */
  | 'source_taken'
  /** Nothing is armed, so nothing can be taken. */
  | 'nothing_armed'
  /** Somebody else took a moment before. */
  | 'taken_before';
export const STAGE_REFUSALS = [
  'full',
  'nothing_armed',
  'taken_before',
  'too_many_outside',
  'source_taken',
] as const satisfies readonly StageRefusal[];

export type StageOutcome =
  | { readonly stage: Stage; readonly refused: null }
  | { readonly stage: Stage; readonly refused: StageRefusal };

/** What comes of a change. What is refused leaves the stage as it was. */
export function changeStage(stage: Stage, change: StageChange): StageOutcome {
  const to = (values: Partial<Stage>): StageOutcome => ({ stage: { ...stage, ...values }, refused: null });
  const refuse = (refused: StageRefusal): StageOutcome => ({ stage, refused });
  switch (change.type) {
    case 'scene':
    case 'programme': {
      const which = change.type === 'scene' && stage.armed ? 'armed' : 'programme';
      const scene = changeScene(stage[which]!, change.event);
      return typeof scene === 'string' ? refuse(scene) : to({ [which]: scene });
    }
    case 'arm':
      return to({ armed: stage.armed ?? stage.programme });
    case 'disarm':
      return to({ armed: null });
    case 'take':
      if (change.takes !== stage.takes) return refuse('taken_before');
      if (!stage.armed) return refuse('nothing_armed');
      return to({ programme: stage.armed, armed: stage.programme, takes: stage.takes + 1 });
    case 'transition':
      return to({ transition: change.transition });
    case 'sources':
      return to({ sources: change.sources });
    case 'outside':
      return changeOutside(stage, change.inputId, change.source);
    case 'adjust': {
      const adjusted = { ...adjustmentOf(stage, change.source), ...change.values };
      return to({ adjustments: { ...stage.adjustments, [change.source]: adjusted } });
    }
    case 'graphics':
      return to({ graphics: changeGraphics(stage.graphics, change.change) });
    case 'slate':
      return to({ slate: change.slate });
    case 'clear':
      return to({
        programme: { ...stage.programme, layers: [] },
        armed: null,
        outside: [],
        graphics: graphicsOff(stage.graphics),
        slate: 'before',
      });
  }
}

function changeOutside(stage: Stage, inputId: string, source: SourceId | null): StageOutcome {
  const before = stage.outside.find((one) => one.inputId === inputId)?.source ?? null;
  const others = stage.outside.filter((one) => one.inputId !== inputId);
  const refuse = (refused: StageRefusal): StageOutcome => ({ stage, refused });
  if (source === before) return { stage, refused: null };
  if (source && others.some((one) => one.source === source)) return refuse('source_taken');
  if (source && !before && others.length >= MOST_OUTSIDE) return refuse('too_many_outside');
  const outside = source ? [...others, { inputId, source }] : others;
  if (!before) return { stage: { ...stage, outside }, refused: null };
  const changed = (scene: Scene): Scene =>
    source
      ? replaceIn(scene, before, source)
      : (changeScene(scene, { type: 'take_off', source: before }) as Scene);
  const { programme, armed } = stage;
  return {
    stage: { ...stage, outside, programme: changed(programme), armed: armed && changed(armed) },
    refused: null,
  };
}

/** Whether anybody or anything is in the picture. */
export const isBare = ({ programme }: Stage): boolean => placedIn(programme).length === 0;

/** Whether nothing would come of clearing it. */
export const isCleared = ({ programme, armed, outside, graphics, slate }: Stage): boolean =>
  programme.layers.length === 0 &&
  armed === null &&
  outside.length === 0 &&
  !isAnyGraphicOn(graphics) &&
  slate === 'before';

export const adjustmentOf = ({ adjustments }: Stage, source: SourceId): Adjustment =>
  adjustments[source] ?? AS_IT_COMES;
