import { GAP, SLATES, type Corner, type Slate } from '../stage';
import { toColour } from './colour';
import type { DressingImage } from './image';
import type { Overlay } from './overlay';

/**
 * How a programme looks: the colours, typefaces and graphics of a house, or of one of its series. Everything that is drawn over
 * and behind the pictures of people follows from it, and from nothing else.
 */
export interface Dressing {
  readonly palette: Palette;
  /** Names and headings; running text. */
  readonly faces: { readonly heading: Face | OwnFace; readonly text: Face | OwnFace };
  /** The manner of lower thirds and message cards. */
  readonly manner: Manner;
  readonly backdrop: Backdrop;
  /** What stands behind everybody where the backdrop is a picture; kept while it is not. */
  readonly backdropImage: DressingImage | null;
  /** How pictures stand in the programme, but for one that fills it. */
  readonly frames: Frames;
  /** A few words or a logo that always stand in a corner; null: neither. */
  readonly bug: Bug | null;
  /** Pictures of a house's own, which its desks lay over the programme. */
  readonly overlays: readonly Overlay[];
  /** What viewers read while there is no picture: before the show, in it, and after it. */
  readonly slates: Readonly<Record<Slate, string>>;
}

/** Each as `#rrggbb`. */
export interface Palette {
  /** Behind everybody. */
  readonly ground: string;
  /** What is drawn on the ground: lines, and the other end of a gradient. */
  readonly relief: string;
  /** What graphics stand on, and words on the ground. */
  readonly paper: string;
  /** Words on paper. */
  readonly ink: string;
  /** The one colour by which this house is known. */
  readonly accent: string;
}
export const PALETTE = [
  'ground',
  'relief',
  'paper',
  'ink',
  'accent',
] as const satisfies readonly (keyof Palette)[];

/** Typefaces that ship with the application. */
export const FACES = ['Barlow', 'Barlow Condensed', 'B612 Mono', 'Bitter', 'Karla'] as const;
export type Face = (typeof FACES)[number];

/** A typeface that a house sent. */
export interface OwnFace {
  /** By what is in it. */
  readonly id: string;
  /** As people call it. */
  readonly name: string;
}
/** The longest name of one, UTF-16 units. */
export const OWN_FACE_NAME_MAX = 40;

/** By which styles know a typeface. */
export const familyOf = (face: Face | OwnFace): string =>
  typeof face === 'string' ? face : `own-${face.id}`;

/** The typefaces of a dressing that do not ship, each once. */
export const ownFacesOf = ({ faces: { heading, text } }: Dressing): readonly OwnFace[] =>
  [heading, text].filter((face) => typeof face !== 'string');

/**
 * `slab`: a plate with a bar at its foot; `rail`: an upright bar, and words on a shade of the ground; `steps`: two plates, the
 * lower one shorter; `cut`: a plate whose end is cut, under a line.
 */
export const MANNERS = ['slab', 'rail', 'steps', 'cut'] as const;
export type Manner = (typeof MANNERS)[number];

/** `lines`: lines that come together and go out again; `drift`: broad bands of light that pass slowly. */
export const BACKDROPS = ['plain', 'gradient', 'lines', 'drift', 'picture'] as const;
export type Backdrop = (typeof BACKDROPS)[number];

export const SPACES = ['none', 'narrow', 'usual', 'wide'] as const;
export const ROUNDINGS = ['square', 'soft', 'round'] as const;
export const BORDERS = ['none', 'paper', 'accent'] as const;
export interface Frames {
  /** Between two pictures. */
  readonly space: (typeof SPACES)[number];
  readonly corners: (typeof ROUNDINGS)[number];
  /** A line around each, in that colour of the palette. */
  readonly border: (typeof BORDERS)[number];
}

const SPACE: Record<Frames['space'], number> = { none: 0, narrow: 1 / 90, usual: GAP, wide: 1 / 18 };
const RADIUS: Record<Frames['corners'], number> = { square: 0, soft: 1 / 60, round: 1 / 22 };
const BORDER = 1 / 180;

/** The measures of frames: shares of the picture's height. `border` is `#rrggbb`, or null for none. */
export const measuresOf = ({ frames, palette }: Dressing) => ({
  space: SPACE[frames.space],
  radius: RADIUS[frames.corners],
  border: frames.border === 'none' ? null : { width: BORDER, colour: palette[frames.border] },
});
export type FrameMeasures = ReturnType<typeof measuresOf>;

export interface Bug {
  /** May be empty where there is a logo, which stands in its place. */
  readonly text: string;
  readonly logo: DressingImage | null;
  readonly corner: Corner;
  readonly size: (typeof BUG_SIZES)[number];
}
export const BUG_SIZES = ['small', 'usual', 'large'] as const;
/** How high each stands, by the usual height of what stands in a corner. */
export const BUG_HEIGHTS: Readonly<Record<Bug['size'], number>> = { small: 0.75, usual: 1, large: 1.6 };

/** The longest bug and the longest words on a slate, UTF-16 units: more is not read in passing. */
export const BUG_MAX = 24;
export const SLATE_MAX = 60;

/** Until a team has its own. */
export const PLAIN_DRESSING: Dressing = {
  palette: { ground: '#16201a', relief: '#24332a', paper: '#f4efe4', ink: '#141a15', accent: '#141a15' },
  faces: { heading: 'Barlow Condensed', text: 'Barlow' },
  manner: 'slab',
  backdrop: 'lines',
  backdropImage: null,
  frames: { space: 'usual', corners: 'square', border: 'none' },
  bug: null,
  overlays: [],
  slates: { before: 'We begin in a moment', break: 'Back in a moment', after: 'Thank you for watching' },
};

/** The pictures of a dressing. */
export const imagesOf = ({ backdropImage, bug, overlays }: Dressing): readonly DressingImage[] =>
  [backdropImage, bug?.logo, ...overlays.map(({ image }) => image)].filter((image) => image != null);

/** With each word on its slates trimmed, as it is saved. */
export const withTrimmedSlates = (dressing: Dressing): Dressing => {
  const { slates } = dressing;
  const trimmed = SLATES.map((slate) => [slate, slates[slate].trim()] as const);
  return { ...dressing, slates: Object.fromEntries(trimmed) as Record<Slate, string> };
};

/** Of two colours that have to be told from one another. */
export interface Contrast {
  readonly of: readonly [keyof Palette, keyof Palette];
  /** 1 to 21 (WCAG 2.2, contrast ratio). */
  readonly ratio: number;
  /** What it should be at least: 4.5 for words, 3 for shapes (WCAG 2.2, 1.4.3 and 1.4.11). */
  readonly least: 3 | 4.5;
}

const TOLD_APART: readonly Omit<Contrast, 'ratio'>[] = [
  { of: ['ink', 'paper'], least: 4.5 },
  { of: ['paper', 'ground'], least: 4.5 },
  { of: ['accent', 'paper'], least: 3 },
];

/** The contrasts of a palette, measured. */
export const contrastsOf = (palette: Palette): Contrast[] =>
  TOLD_APART.map(({ of, least }) => ({ of, least, ratio: contrast(palette[of[0]], palette[of[1]]) }));

/** The contrast ratio of two colours, 1 to 21 (WCAG 2.2). */
export function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((one, other) => other - one) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

/** Relative luminance, 0 to 1 (WCAG 2.2). */
function luminance(colour: string): number {
  const [red, green, blue] = toColour(colour).map((value) => {
    const share = value / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}
