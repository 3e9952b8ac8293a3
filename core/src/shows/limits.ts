/**
 * How long our own texts may be, in UTF-16 code units (what an input's `maxlength` counts). What a destination
 * allows is another matter: its house rules say so, in its own unit.
 */
export const TITLE_MAX = 200;
/** Longer than any place takes, so that the shared description never is the narrowest. */
export const DESCRIPTION_MAX = 6000;
export const NAME_MAX = 80;
export const ABOUT_MAX = 160;
/** More people than fit on any stage or page. */
export const PEOPLE_MAX = 40;
