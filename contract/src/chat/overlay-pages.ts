import { UNHEARD } from '@juncta/core/chat';
import type { Dressing } from '@juncta/core/dressing';
import type { BoxLine, OverlayBox as OverlayBoxShape } from '@juncta/core/stage';
import * as z from 'zod/mini';
import { endpoint, Id, Nothing, right } from '../http';
import { ShowScope } from '../shows/scope';
import { OverlayBox, OverlayBoxChange } from '../stage/graphics';

/**
 * Viewers' messages on a page with nothing behind them, at an address that stays the same from show to show: an outside encoder
 * lays it over its picture, or a second screen shows it. There is at most one for all shows, and one for each series.
 */
export const OverlayPage = z.object({
  scope: ShowScope,
  /** What the page's address carries, in its fragment. Whoever has it sees what viewers see, and nothing else. */
  token: z.string(),
  box: OverlayBox,
});
export type OverlayPage = z.infer<typeof OverlayPage>;

export const readOverlayPages = endpoint({
  method: 'GET',
  path: '/api/overlay-pages',
  access: right('shows.edit'),
  params: Nothing,
  body: Nothing,
  response: z.object({ pages: z.array(OverlayPage) }),
});

/** How it looks from now on; pages that are open follow at once. One that there was not yet is made, with an address. */
export const setOverlayPage = endpoint({
  method: 'PUT',
  path: '/api/overlay-pages/:scope',
  access: right('shows.edit'),
  params: z.object({ scope: ShowScope }),
  body: z.object({ box: OverlayBoxChange }),
  response: OverlayPage,
});

/** Another address. Pages that are open at the one before go dark. */
export const renewOverlayPage = endpoint({
  method: 'POST',
  path: '/api/overlay-pages/:scope/address',
  access: right('shows.edit'),
  params: z.object({ scope: ShowScope }),
  body: Nothing,
  response: OverlayPage,
});

/** There is none any more, and its address leads nowhere. Asked again, nothing happens. */
export const dropOverlayPage = endpoint({
  method: 'DELETE',
  path: '/api/overlay-pages/:scope',
  access: right('shows.edit'),
  params: z.object({ scope: ShowScope }),
  body: Nothing,
  response: Nothing,
});

/** Sample messages for a minute, to place the page by in the picture. Refused while its show is on: viewers would read them. */
export const sampleOverlayPage = endpoint({
  method: 'POST',
  path: '/api/overlay-pages/:scope/sample',
  access: right('shows.edit'),
  params: z.object({ scope: ShowScope }),
  body: Nothing,
  response: Nothing,
});
export const SAMPLE_S = 60;

/** What its owner, and no viewer, is told. */
export const OverlayState = z.object({
  /** Whose messages it shows now; null: nothing of this scope is on or planned. */
  show: z.nullable(z.object({ id: Id, title: z.string(), isOn: z.boolean() })),
  /** At how many places it is open. */
  open: z.int(),
  /**
   * From when a message might have been shown (the house had it, and the delay that was chosen was over) until a page had it on
   * its screen, ms: the median of the last ones, with the way back. Null: none was shown since this server began.
   */
  delayMs: z.nullable(z.int()),
  /** Destinations of that show whose viewers are not heard, or hardly any, in the order of its board. */
  unheard: z.array(z.object({ destinationId: Id, name: z.string(), why: z.enum(UNHEARD) })),
  /** How many destinations that show has. */
  destinations: z.int(),
});
export type OverlayState = z.infer<typeof OverlayState>;

export const readOverlayState = endpoint({
  method: 'GET',
  path: '/api/overlay-pages/:scope/state',
  access: right('shows.edit'),
  params: z.object({ scope: ShowScope }),
  body: Nothing,
  response: OverlayState,
});

/** The page's own line: a socket.io namespace. */
export const OVERLAY_NAMESPACE = '/overlay';
export const OverlayAuth = z.object({ token: z.string().check(z.regex(/^[\w-]{43}$/)) });
export type OverlayAuth = z.infer<typeof OverlayAuth>;
/** `no_page`: the address is none, or is none any more. */
export type OverlayRefusal = 'no_page' | 'too_many' | 'database_away';

/** All that the page shows, whole, at every change. Texts are viewers' own: nothing in them is markup. */
export interface OverlayView {
  /** Counted by this server. */
  readonly number: number;
  readonly dressing: Dressing;
  readonly box: OverlayBoxShape;
  /** The newest last. */
  readonly lines: readonly BoxLine[];
  /** The message that is on the programme; null: none is, or the page leaves it out. */
  readonly card: BoxLine | null;
}

export interface OverlayToClient {
  view: (view: OverlayView) => void;
  /** The address was renewed, or the page taken away. */
  ended: () => void;
}
export interface OverlayToServer {
  /** It is on the screen. */
  shown: (number: number) => void;
  /** A typeface of the dressing's own (WOFF2), by its id; null: the dressing has no such. */
  face: (id: string, answer: (file: ArrayBuffer | null) => void) => void;
}
