import type { Layout } from '@juncta/core/stage';

/** The keys of the keyboard that work on the desk, as they come in a key event. Shown on each key and in the list. */
export const LAYOUT_KEYS: Record<Layout, string> = { single: 's', pair: 'r', grid: 'g' };
export const NAMES_KEY = 'n';
/** Sends in a made-up guest, where there are any. */
export const STAND_IN_KEY = 'i';
/** Marks this moment of the show. */
export const MARK_KEY = 'k';
/** The panic key: large on its own, and far from the others. The chord works while somebody types. */
export const COVER_KEY = 'x';
export const COVER_CHORD = 'Alt+X';
/** Brings on or takes off a person, by their place in the plan. */
export const PEOPLE_KEYS = ['1', '2', '3', '4', '5', '6', '7', '8', '9'] as const;
