import {
  bandOf,
  cornerOf,
  GAP,
  lowerThirdOf,
  messageCardOf,
  MOST_IN_PICTURE,
  placesOf,
  sideOf,
  type Corner,
  type Layout,
  type SlotKind,
  type Taken,
} from './layouts';
import { placesOfOwn, type OwnLayout } from './own-layouts';
import { even, overlap, PROGRAMME, type Rect, type Size } from './rect';
import { DESK_OWNER, nameOf, sourceId, type SourceId } from './sources';

/**
 * What the picture shows: an ordered list of layers over sources. Nothing here is live: a scene can be put together
 * before anybody sees it, sent to another machine, and drawn in any size.
 */
export interface Scene {
  readonly layout: Layout;
  /** A layout of the team's own, in the place of that; null: it goes by that. */
  readonly own: OwnLayout | null;
  /** Whoever is brought on gets a lower third. */
  readonly names: boolean;
  /** In their order; those that the layout places come first, what stands over them after. */
  readonly layers: readonly Layer[];
}

export interface Layer {
  /** Its source, which is in a scene once. */
  readonly source: SourceId;
  readonly place: Place;
}

/** Where a layer gets its geometry from. */
export type Place =
  /** From the layout, by its turn. */
  | { readonly by: 'layout' }
  /** A lower third in the place of another layer; it goes with that layer. */
  | { readonly by: 'layer'; readonly of: SourceId }
  /** Across the foot of the picture. What it would cover there gives way to it. */
  | { readonly by: 'foot' }
  /** From edge to edge at the foot of the picture. All that would stand there gives way to it but what fills the picture. */
  | { readonly by: 'band' }
  /** In a column at one side, this share of the picture wide. All that would stand there gives way to it but what fills the picture. */
  | { readonly by: 'side'; readonly side: 'left' | 'right'; readonly width: number }
  /**
   * In an upper corner, over everything, this share of the picture wide, and so much higher than is usual there; a second one
   * beside the first, towards the middle.
   */
  | { readonly by: 'corner'; readonly corner: Corner; readonly width: number; readonly scale: number }
  /** Wherever somebody put it, in shares of the picture's width and height: over pictures, and under all that is read. */
  | { readonly by: 'free'; readonly share: Rect };

export const EMPTY_SCENE: Scene = { layout: 'auto', own: null, names: true, layers: [] };

export type SceneEvent =
  | { readonly type: 'bring_on'; readonly source: SourceId }
  | { readonly type: 'take_off'; readonly source: SourceId }
  /** To another turn in the layout, from 0; beyond the last: the last. */
  | { readonly type: 'move'; readonly source: SourceId; readonly to: number }
  | { readonly type: 'layout'; readonly layout: Layout }
  | { readonly type: 'own_layout'; readonly own: OwnLayout }
  | { readonly type: 'names'; readonly on: boolean }
  | { readonly type: 'clear' };

/** Why a scene stays as it is. */
export type SceneRefusal =
  /** As many as have a place in the picture are in it. */
  'full';

const BY_LAYOUT: Place = { by: 'layout' };

/** The overlay with somebody's name. */
export const nameLayerOf = (source: SourceId): SourceId =>
  sourceId('overlay', `name/${nameOf(source).owner}`);
/** The overlay with a viewer's message, which the chat puts over whatever scene is on programme. */
export const MESSAGE_LAYER: SourceId = sourceId('overlay', 'message');
/** The overlay with what places tell of followers and sales, while it is said. */
export const NOTICE_LAYER: SourceId = sourceId('overlay', 'notice');
/** The overlay with the few words of the house. */
export const BUG_LAYER: SourceId = sourceId('overlay', 'bug');
/** One of the house's own overlays, by its id in the dressing. */
export const ownLayerOf = (id: string): SourceId => sourceId('overlay', `own/${id}`);
export const isOwnLayer = (source: SourceId): boolean => source.startsWith('overlay:own/');

const isPlaced = ({ place }: Layer): boolean => place.by === 'layout';
const isNamed = (source: SourceId): boolean => nameOf(source).kind === 'camera';

/** The sources that have a turn in the layout, in that order. */
export const placedIn = ({ layers }: Scene): readonly SourceId[] =>
  layers.filter(isPlaced).map(({ source }) => source);

/** The people whose sources have a turn in the layout, each once. */
export const peopleIn = (scene: Scene): readonly string[] => [
  ...new Set(
    placedIn(scene)
      .map(nameOf)
      .filter(({ kind, owner }) => kind !== 'outside' && owner !== DESK_OWNER)
      .map(({ owner }) => owner),
  ),
];

/** What came about already changes nothing, so that an event may be given twice. */
export function changeScene(scene: Scene, event: SceneEvent): Scene | SceneRefusal {
  const placed = placedIn(scene);
  switch (event.type) {
    case 'bring_on':
      if (placed.includes(event.source)) return scene;
      if (placed.length >= MOST_IN_PICTURE) return 'full';
      return { ...scene, layers: layersOf([...placed, event.source], scene) };
    case 'take_off':
      if (!placed.includes(event.source)) return scene;
      return {
        ...scene,
        layers: layersOf(
          placed.filter((source) => source !== event.source),
          scene,
        ),
      };
    case 'move': {
      const from = placed.indexOf(event.source);
      if (from < 0) return scene;
      const order = placed.toSpliced(from, 1).toSpliced(event.to, 0, event.source);
      return { ...scene, layers: layersOf(order, scene) };
    }
    case 'layout':
      return { ...scene, layout: event.layout, own: null };
    case 'own_layout':
      return { ...scene, own: event.own };
    case 'names':
      return { ...scene, names: event.on, layers: layersOf(placed, { ...scene, names: event.on }) };
    case 'clear':
      return { ...scene, layers: [] };
  }
}

/** The scene with another source in the place of one; where that other is placed already, it goes there. */
export function replaceIn(scene: Scene, from: SourceId, to: SourceId): Scene {
  const placed = placedIn(scene);
  if (from === to || !placed.includes(from)) return scene;
  const others = placed.filter((source) => source !== to);
  return {
    ...scene,
    layers: layersOf(
      others.map((source) => (source === from ? to : source)),
      scene,
    ),
  };
}

function layersOf(placed: readonly SourceId[], { names }: Scene): Layer[] {
  // Somebody who is seen twice is named once, where they come first.
  const named = names
    ? placed.filter(
        (source, i) =>
          isNamed(source) && placed.findIndex((one) => nameLayerOf(one) === nameLayerOf(source)) === i,
      )
    : [];
  return [
    ...placed.map((source) => ({ source, place: BY_LAYOUT })),
    ...named.map((of): Layer => ({ source: nameLayerOf(of), place: { by: 'layer', of } })),
  ];
}

/** A scene with overlays of the house's own over it, from the lowest to the highest; places in shares of the picture. */
export const withOverlays = (
  scene: Scene,
  overlays: readonly { readonly id: string; readonly place: Rect }[],
): Scene => ({
  ...scene,
  layers: [
    ...scene.layers,
    ...overlays.map(({ id, place }): Layer => ({
      source: ownLayerOf(id),
      place: { by: 'free', share: place },
    })),
  ],
});

/** A scene with a viewer's message over it, or a notice, in the place of whatever stood at its foot. */
export const withMessage = (scene: Scene, source = MESSAGE_LAYER): Scene => ({
  ...scene,
  layers: [...scene.layers.filter(({ place }) => place.by !== 'foot'), { source, place: { by: 'foot' } }],
});

/** Of the picture's width: the most that the words of the house take. */
export const MOST_BUG_WIDTH = 0.24;

/**
 * A scene with the few words of the house in a corner, which its dressing puts over whatever is on programme.
 *
 * @param width share of the picture's
 * @param scale by which it is higher than is usual in a corner
 */
export const withBug = (scene: Scene, corner: Corner, width = MOST_BUG_WIDTH, scale = 1): Scene => ({
  ...scene,
  layers: [...scene.layers, { source: BUG_LAYER, place: { by: 'corner', corner, width, scale } }],
});

/** A layer where it is drawn, in pixels of a picture of some size. */
export interface PlacedLayer {
  readonly source: SourceId;
  readonly rect: Rect;
}

/** Of the picture's width: a name that has less room is left out. */
const LEAST_NAME = 0.04;

/** Whether a layout takes a source for somebody or for a screen. */
export const slotKindOf = (source: SourceId): SlotKind =>
  nameOf(source).kind === 'camera' ? 'person' : 'screen';

/**
 * Every layer that is seen, from the bottom up.
 *
 * @param space between two in a layout of the engine, a share of the picture's height
 */
export function geometry({ layout, own, layers }: Scene, size: Size, space = GAP): PlacedLayer[] {
  const placed = layers.filter(isPlaced);
  const kinds = placed.map(({ source }) => slotKindOf(source));
  const by = <B extends Place['by']>(kind: B, rectOf: (place: Extract<Place, { by: B }>) => Rect) =>
    layers.flatMap(({ source, place }) =>
      place.by === kind ? [{ source, rect: rectOf(place as Extract<Place, { by: B }>) }] : [],
    );
  const bands = by('band', () => bandOf(size));
  const band = bands[0]?.rect;
  const foot = by('foot', () => messageCardOf(size, { band }));
  const highest = Math.max(1, ...layers.map(({ place }) => (place.by === 'corner' ? place.scale : 1)));
  const sides = by('side', ({ side, width }) => sideOf(side, width, size, foot[0]?.rect ?? band, highest));
  const taken: Taken = { band, side: sides[0]?.rect };
  const places = own ? placesOfOwn(own, kinds, size, taken) : placesOf(layout, kinds, size, taken, space);
  const seen: PlacedLayer[] = placed.flatMap(({ source }, i) => {
    const rect = places[i];
    return rect ? [{ source, rect }] : [];
  });
  // What is larger lies under what is smaller: an inset over its screen, in whatever order they came.
  seen.sort((a, b) => areaOf(b.rect) - areaOf(a.rect));
  const corners = cornersOf(layers, size);
  const thirds = layers.flatMap(({ source, place }) => {
    const at = place.by === 'layer' ? seen.findIndex((one) => one.source === place.of) : -1;
    const under = seen[at];
    if (!under) return [];
    const whole = lowerThirdOf(under.rect, size, taken);
    // Whoever is in an inset over it is not written upon.
    const inset = seen.slice(at + 1).find((one) => overlap(one.rect, whole));
    const rect = inset ? { ...whole, width: even(inset.rect.x - whole.x - size.height / 36) } : whole;
    const hits = (one: PlacedLayer) => overlap(one.rect, rect);
    // Two lines of words over one another would be read as one.
    return rect.width < LEAST_NAME * size.width || foot.some(hits) || corners.some(hits)
      ? []
      : [{ source, rect }];
  });
  const free = by('free', ({ share }) => rectOf(share, size));
  return [...seen, ...free, ...thirds, ...sides, ...foot, ...bands, ...corners];
}

/** The sources that are seen: a layout for fewer leaves the last ones out, and they are heard alone. */
export function seenIn(scene: Scene): readonly SourceId[] {
  const seen = geometry(scene, PROGRAMME).map(({ source }) => source);
  return placedIn(scene).filter((source) => seen.includes(source));
}

/** One beside another in each corner. */
function cornersOf(layers: readonly Layer[], size: Size): PlacedLayer[] {
  const taken: Record<Corner, number> = { top_left: 0, top_right: 0 };
  return layers.flatMap(({ source, place }) => {
    if (place.by !== 'corner') return [];
    const { corner, width, scale } = place;
    const rect = cornerOf(corner, width, taken[corner], size, scale);
    taken[corner] += width + CORNER_GAP;
    return [{ source, rect }];
  });
}

/** Of the picture's width: left free between two in one corner. */
const CORNER_GAP = 0.01;

/** Pixels of a rectangle in shares. */
const rectOf = ({ x, y, width, height }: Rect, size: Size): Rect => ({
  x: even(x * size.width),
  y: even(y * size.height),
  width: even(width * size.width),
  height: even(height * size.height),
});

const areaOf = ({ width, height }: Rect): number => width * height;
