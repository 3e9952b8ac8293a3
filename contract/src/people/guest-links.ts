import { PICTURE_FORMATS } from '@juncta/core/programme';
import * as z from 'zod/mini';
import { anybody, endpoint, guest, Id, InstantMs, Nothing, right } from '../http';
import { Token } from '../team';

/** A guest's personal link, as the team sees it. The link itself is shown when it is made, and again for an hour. */
export const GuestLink = z.object({
  personId: Id,
  expiresAtMs: InstantMs,
  /** When it was last used to come in; null while it never was. */
  usedAtMs: z.nullable(InstantMs),
  /** Until when it can be shown again; null: it cannot, and only a new one can be made. */
  shownUntilMs: z.nullable(InstantMs),
});
export type GuestLink = z.infer<typeof GuestLink>;

const personParams = z.object({ showId: Id, personId: Id });

export const listGuestLinks = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/guest-links',
  access: right('guests.invite'),
  params: z.object({ showId: Id }),
  body: Nothing,
  response: z.object({ links: z.array(GuestLink) }),
});

/** Makes the personal link of a guest. One there was before stops working. */
export const makeGuestLink = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/people/:personId/link',
  access: right('guests.invite'),
  params: personParams,
  body: Nothing,
  response: z.object({ token: Token, link: GuestLink }),
});

/** Shows a link once more that was made within the last hour. */
export const showGuestLink = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/people/:personId/link',
  access: right('guests.invite'),
  params: personParams,
  body: Nothing,
  response: z.object({ token: Token }),
});

/** Takes the link back; a guest who came in by it is out at once. */
export const revokeGuestLink = endpoint({
  method: 'DELETE',
  path: '/api/shows/:showId/people/:personId/link',
  access: right('guests.invite'),
  params: personParams,
  body: Nothing,
  response: Nothing,
});

/** Comes in by a personal link: from here on a cookie stands for it. */
export const enterAsGuest = endpoint({
  method: 'POST',
  path: '/api/guest/session',
  access: anybody,
  params: Nothing,
  body: z.object({ token: Token }),
  response: Nothing,
});

/** What a guest is told: this show only, and nothing of the team's work. */
export const GuestView = z.object({
  /** Theirs in the show. */
  personId: Id,
  name: z.string(),
  showTitle: z.string(),
  startsAtMs: z.nullable(InstantMs),
  /** The zone the team planned in; null while no time is set. */
  zone: z.nullable(z.string()),
  plannedMinutes: z.int(),
  hosts: z.array(z.string()),
  /** Of the programme: nothing that is sent for it has to be larger. */
  pictureFormat: z.enum(PICTURE_FORMATS),
});
export type GuestView = z.infer<typeof GuestView>;

export const readGuestView = endpoint({
  method: 'GET',
  path: '/api/guest',
  access: guest,
  params: Nothing,
  body: Nothing,
  response: GuestView,
});
