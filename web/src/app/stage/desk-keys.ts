import type { Layout } from '@juncta/core/stage';

/** The keys of the keyboard that work on the desk, as they come in a key event. Shown on each key and in the list. */
export const LAYOUT_KEYS: Record<Layout, string> = {
  auto: 'j',
  alone: 's',
  pair: 'r',
  row: 'u',
  grid: 'g',
  beside: 'd',
  beneath: 'f',
  column: 'c',
  inset: 'v',
  screens: 'z',
};
export const NAMES_KEY = 'n';
/** Prepares what comes next, and drops it again. */
export const ARM_KEY = 'b';
/** Takes what is armed. */
export const TAKE_KEY = 't';
/** What stands over the programme. */
export const GRAPHICS_KEY = 'l';
/** Makes a layout of one's own. */
export const OWN_LAYOUT_KEY = 'y';
/** What this computer can put into the picture. */
export const SOURCES_KEY = 'o';
/** Sends in a made-up guest, where there are any. */
export const STAND_IN_KEY = 'i';
/** Marks this moment of the show. */
export const MARK_KEY = 'k';
/** The panic key: large on its own, and far from the others. The chord works while somebody types. */
export const COVER_KEY = 'x';
export const COVER_CHORD = 'Alt+X';
/** Brings on or takes off a person, by their place in the plan; the tenth by 0. */
export const PEOPLE_KEYS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0'] as const;
